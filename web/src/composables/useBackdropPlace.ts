import { computed, ref, shallowRef, watch } from "vue";
import { useRoute } from "vue-router";
import client, { ask, type Schemas, type Where } from "@/api/client";
import { useSite } from "@/stores/site";

/** The place that a backdrop lies behind, as the address names it; what it is called, and where it is. */
export function useBackdropPlace() {
  const site = useSite();
  const route = useRoute();
  const one = (name: string) => (route.query[name] ? String(route.query[name]) : null);

  const place = computed<Where | null>(() => {
    const [page, section, part] = [one("page"), one("section"), one("part")];
    return page || section || part ? { page, section, part, at: one("at") } : null;
  });
  const label = ref("");
  const name = computed(
    () => one("name") ?? (label.value || (place.value?.page ? site.names.get(place.value.page) : "the whole site")),
  );
  /** The page in view. */
  const path = ref(one("on") ?? one("page") ?? "");
  watch(
    () => site.pages,
    (pages) => {
      if (!pages.some((page) => page.path === path.value)) path.value = pages[0]?.path ?? "";
    },
    { immediate: true },
  );
  const page = computed(() => site.pages.find((found) => found.path === path.value));
  /** What finds the place on the page. */
  const start = ref("");
  const sections = shallowRef<Schemas["MapRegion"][]>([]);
  /** The coat that the place is given by a choice. */
  const worn = ref<string | null>(null);
  const liesOn = shallowRef<Set<string> | null>(null);
  const map = shallowRef<Schemas["MapOut"] | null>(null);
  /** The pages that it lies on. */
  const pages = computed(() =>
    site.pages.filter((found) =>
      place.value?.page ? found.path === place.value.page : (liesOn.value?.has(found.path) ?? true),
    ),
  );
  watch(
    [() => site.slug, () => JSON.stringify(place.value)],
    async ([slug]) => {
      const key = place.value?.section ?? place.value?.part;
      if (!slug) return;
      map.value = await ask(client.GET("/api/sites/{slug}/sections", { params: { path: { slug } } })).catch(() => null);
      sections.value = (map.value?.regions ?? []).filter((found) => found.is_section && found.key !== key);
      const region = map.value?.regions.find((found) => found.key === key);
      start.value = region?.selector ?? "";
      label.value = region?.label ?? "";
      liesOn.value = region ? new Set(region.pages) : null;
      const block = map.value?.pages.flatMap((found) => found.blocks).find((found) => found.key === key && found.scope);
      worn.value = block?.coat ?? null;
    },
    { immediate: true },
  );
  /** The section right above it on the page in view. */
  const above = computed(() => {
    if (!place.value?.section) return undefined;
    const blocks = map.value?.pages.find((found) => found.path === path.value)?.blocks ?? [];
    const key = blocks[blocks.findIndex((found) => found.key === place.value!.section) - 1]?.key;
    return sections.value.find((found) => found.key === key);
  });
  return { place, name, path, page, pages, start, sections, worn, liesOn, above, asked: one };
}
