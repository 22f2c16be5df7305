import { computed, onScopeDispose, reactive, ref, shallowRef, watch } from "vue";
import { useDebounceFn } from "@vueuse/core";
import client, { ask, type Schemas, sentence } from "@/api/client";
import { useSite } from "@/stores/site";
import { useStudy } from "@/stores/study";
import { useView } from "@/stores/view";

export type EyeName = "protan" | "deutan" | "tritan" | "grey" | "blurred" | "sun" | "night";

/** The pages as other eyes see them: a filter for the frames, and the colours that become alike. */
export function useEyes() {
  const site = useSite();
  const study = useStudy();
  const view = useView();
  const by = reactive<{ eye: EyeName; strength: number }>({ eye: "deutan", strength: 1 });
  const found = shallowRef<Schemas["EyesOut"] | null>(null);
  const trouble = ref("");
  let number = 0;

  async function look(): Promise<void> {
    const mine = ++number;
    try {
      const got = await ask(
        client.GET("/api/sites/{slug}/eyes", { params: { path: { slug: site.slug }, query: { ...by } } }),
      );
      if (mine !== number) return;
      found.value = got;
      trouble.value = "";
    } catch (refusal) {
      if (mine === number) trouble.value = sentence(refusal);
    }
  }
  const soon = useDebounceFn(look, 120);
  watch(by, () => void soon());
  watch(
    () => study.revision,
    () => void look(),
    { immediate: true },
  );

  /** The 4 rows of five that SVG's colour matrix takes. */
  const values = computed(() => {
    const matrix = found.value?.matrix ?? [];
    const rows = [0, 1, 2].map((row) => {
      const [red, green, blue, more] = matrix.slice(4 * row, 4 * row + 4);
      return `${red} ${green} ${blue} 0 ${more}`;
    });
    return matrix.length ? [...rows, "0 0 0 1 0"].join(" ") : "";
  });
  // the frames paint it themselves: a browser applies no such filter to a frame from outside
  watch([values, () => found.value?.blur], () => {
    view.eyes = found.value ? { values: values.value, blur: found.value.blur } : null;
  });
  onScopeDispose(() => (view.eyes = null));
  return { by, found, trouble, look };
}
