import { computed, ref, shallowRef, watch } from "vue";
import client, { ask, type Schemas, sentence } from "@/api/client";
import { useSite } from "@/stores/site";
import { useStudy } from "@/stores/study";

export type Beyond = Schemas["BeyondOut"];
export type WaivedAs = NonNullable<Beyond["waiver"]>["said"];

/** What besides text has to be seen, under the open study. */
export function useBeyond() {
  const site = useSite();
  const study = useStudy();
  const found = shallowRef<Beyond[] | null>(null);
  const trouble = ref("");
  const isBusy = ref(false);

  async function read(): Promise<void> {
    isBusy.value = true;
    try {
      const path = { slug: site.slug };
      found.value = (await ask(client.GET("/api/sites/{slug}/beyond", { params: { path } }))).findings;
      trouble.value = "";
    } catch (refusal) {
      trouble.value = sentence(refusal);
    } finally {
      isBusy.value = false;
    }
  }
  watch(() => study.revision, read, { immediate: true });

  async function doing(work: Promise<boolean>): Promise<void> {
    isBusy.value = true;
    await work;
    isBusy.value = false;
  }
  const mend = (keys: string[]) => doing(study.act({ act: "mend-beyond", keys }));
  const waive = (key: string, said: WaivedAs | null, why = "") => doing(study.act({ act: "waive", key, said, why }));
  const open = computed(() => found.value?.filter((one) => one.verdict === "fail") ?? []);
  return { found, open, trouble, isBusy, read, mend, waive };
}
