import { useIntersectionObserver } from "@vueuse/core";
import { inject, ref, shallowRef, watch, type Ref } from "vue";
import type { Offers } from "@/api/client";
import { PAINTER } from "@/logic/keys";
import { useSite } from "@/stores/site";
import { useStudy } from "@/stores/study";

const AT_ONCE = 3;

/**
 * What would fix the findings in sight, a few at a time: pages and readings are never kept waiting by it. A finding is
 * in sight while its element, marked with `data-key`, is within the list.
 */
export function useOffers(list: Ref<HTMLElement | null>) {
  const site = useSite();
  const study = useStudy();
  const painter = inject(PAINTER);
  const found = shallowRef(new Map<string, Offers>());
  const inSight = ref(new Set<string>());
  let isBusy = false;

  const elements = shallowRef<HTMLElement[]>([]);
  /** Looks anew at which findings there are. */
  function look(): void {
    elements.value = [...(list.value?.querySelectorAll<HTMLElement>("[data-key]") ?? [])];
  }
  useIntersectionObserver(
    elements,
    (entries) => {
      const next = new Set(inSight.value);
      for (const entry of entries) {
        const key = (entry.target as HTMLElement).dataset.key!;
        if (entry.isIntersecting) next.add(key);
        else next.delete(key);
      }
      inSight.value = next;
      void ask_();
    },
    { rootMargin: "120px" },
  );

  async function ask_(): Promise<void> {
    if (isBusy) return;
    isBusy = true;
    try {
      await painter?.settled();
      for (;;) {
        const revision = study.revision;
        const visit = site.visit;
        const keys = [...inSight.value].filter((key) => !found.value.has(key)).slice(0, AT_ONCE);
        if (!keys.length || !revision || Object.keys(study.draft).length) return;
        const { findings } = await study.find({ search: "offers", keys });
        if (visit !== site.visit || revision !== study.revision) continue;
        const next = new Map(found.value);
        for (const key of keys) next.set(key, { key, offers: [], here: null, fadings: [], veil: null, reason: "" });
        for (const answer of findings) next.set(answer.key, answer);
        found.value = next;
      }
    } catch {
      // asked again at the next look
    } finally {
      isBusy = false;
    }
  }

  // offers belong to a saved revision
  watch(
    () => [study.revision?.base, site.visit] as const,
    () => {
      found.value = new Map();
      void ask_();
    },
  );
  watch(
    () => Object.keys(study.draft).length,
    (drawn) => !drawn && void ask_(),
  );

  return { found, look };
}
