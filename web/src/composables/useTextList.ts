import { useDebounceFn } from "@vueuse/core";
import { computed, reactive, ref, shallowRef, watch } from "vue";
import client, { ask, type Schemas, sentence } from "@/api/client";
import type { paths } from "@/api/schema";
import { useSite } from "@/stores/site";
import { useStudy } from "@/stores/study";

type Asked = NonNullable<paths["/api/sites/{slug}/texts"]["get"]["parameters"]["query"]>;
export type Row = Schemas["TextOut"];
export type Form = "table" | "csv" | "json";
const AT_ONCE = 60;

/** The texts of the open study as they are filtered and sorted, a part at a time. */
export function useTextList() {
  const site = useSite();
  const study = useStudy();
  const wanted = reactive<Asked>({ by: "worst", is_backwards: false, words: "" });
  const found = shallowRef<Schemas["TextsOut"] | null>(null);
  const rows = shallowRef<Row[]>([]);
  const isBusy = ref(false);
  const trouble = ref("");
  let number = 0;

  /** What is asked: nothing of what is left open. */
  const query = (more: object) =>
    Object.fromEntries(
      Object.entries({ ...wanted, ...more }).filter(([, value]) => value !== undefined && value !== ""),
    );

  async function fetchMore(isMore: boolean): Promise<void> {
    const mine = ++number;
    isBusy.value = true;
    try {
      const start = isMore ? rows.value.length : 0;
      const got = await ask(
        client.GET("/api/sites/{slug}/texts", {
          params: { path: { slug: site.slug }, query: query({ start, most: AT_ONCE }) },
        }),
      );
      if (mine !== number) return;
      found.value = got;
      rows.value = isMore ? [...rows.value, ...got.texts] : got.texts;
      trouble.value = "";
    } catch (refusal) {
      if (mine === number) trouble.value = sentence(refusal);
    } finally {
      if (mine === number) isBusy.value = false;
    }
  }
  /** Letters are still being typed: nothing is added to a list that will be another one. */
  const isTyping = ref(false);
  const again = useDebounceFn(async () => {
    await fetchMore(false);
    isTyping.value = false;
  }, 150);
  watch(
    () => study.revision,
    () => void fetchMore(false),
    { immediate: true },
  );
  watch(
    () => wanted.words,
    () => {
      isTyping.value = true;
      void again();
    },
    { flush: "sync" },
  );
  watch(
    () => JSON.stringify({ ...wanted, words: "" }),
    () => {
      if (!isTyping.value) void fetchMore(false);
    },
    { flush: "sync" },
  );

  const fileAt = (form: Form) =>
    `/api/sites/${site.slug}/texts/file?${new URLSearchParams(query({ form }) as Record<string, string>).toString()}`;
  /** Puts all that is wanted into the clipboard; tells whether the browser allowed it. */
  async function copy(form: Form): Promise<boolean> {
    const { data } = await client.GET("/api/sites/{slug}/texts/file", {
      params: { path: { slug: site.slug }, query: query({ form }) },
      parseAs: "text",
    });
    try {
      await navigator.clipboard.writeText(String(data));
      return true;
    } catch {
      return false;
    }
  }
  const areMore = computed(() => rows.value.length < (found.value?.total ?? 0));
  return {
    wanted,
    found,
    rows,
    isBusy: computed(() => isBusy.value || isTyping.value),
    trouble,
    areMore,
    more: () => fetchMore(true),
    again,
    fileAt,
    copy,
  };
}
