import { computed, shallowRef, watch, type Ref } from "vue";
import type { useBackdrop } from "@/composables/useBackdrop";
import type { useBackdropPlace } from "@/composables/useBackdropPlace";
import { useSite } from "@/stores/site";
import { useStudy } from "@/stores/study";

/** A backdrop laid behind other places too: copied, gone on behind the section above, brought by a coat. */
export function useOtherPlaces(
  back: ReturnType<typeof useBackdrop>,
  place: ReturnType<typeof useBackdropPlace>,
  said: Ref<string>,
) {
  const site = useSite();
  const study = useStudy();
  /** The section that its picture was let go on behind, and the way to it. */
  const goesOn = shallowRef<{ label: string; query: Record<string, string> } | null>(null);
  watch([() => site.slug, () => JSON.stringify(place.place.value)], () => (goesOn.value = null));

  /** Lays the same behind another section, everywhere it is. */
  async function copyTo(key: string): Promise<void> {
    const copied = await back.copyTo({ page: null, section: key, part: null, at: null });
    if (copied) said.value = `“${place.sections.value.find((one) => one.key === key)?.label}” lies on the same now.`;
  }
  /** The section right above, where a picture that stays can go on. */
  const above = computed(() => (back.layers.value.some((layer) => layer.picture) ? place.above.value : undefined));
  /** Lets the picture stay while the page scrolls, and lie behind the section above as well: the two show one picture. */
  async function goOnAbove(): Promise<void> {
    const { key, label } = above.value!;
    const layersNow = back.layers.value.map((layer) =>
      layer.picture ? { ...layer, picture: { ...layer.picture, fixed: true } } : layer,
    );
    back.change(layersNow, false);
    if (back.isChanged.value && !(await back.keep())) return;
    // a header is on more pages than what stands below it on one of them
    const isEverywhere = above.value!.pages.every((found) => place.liesOn.value?.has(found));
    const on = isEverywhere ? [null] : place.pages.value.map((found) => found.path);
    for (const page of on) if (!(await back.copyTo({ page, section: key, part: null, at: null }))) return;
    goesOn.value = {
      label,
      query: { section: key, on: place.path.value, ...(isEverywhere ? {} : { page: place.path.value }) },
    };
    void back.read();
  }
  /** What the coat is called that the place is given, and whether what lies behind it comes with that. */
  const wornLabel = computed(() => study.coats.find((coat) => coat.id === place.worn.value)?.label ?? "");
  const isWithCoat = computed(() => {
    const section = place.place.value?.section;
    return !!back.all.value?.backdrops.find(({ backdrop }) => section && backdrop.in?.section === section)?.backdrop.of;
  });
  async function keepWithCoat(): Promise<void> {
    if (await back.keep(place.worn.value!)) said.value = `Whatever is given “${wornLabel.value}” lies on it now.`;
  }

  return { above, goesOn, wornLabel, isWithCoat, copyTo, goOnAbove, keepWithCoat };
}
