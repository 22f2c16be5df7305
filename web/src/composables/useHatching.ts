import { useDebounceFn } from "@vueuse/core";
import { ref, shallowRef, watch, type Ref } from "vue";
import { hexOf, type Lch } from "@/logic/colour";
import { FIELD, fieldColours, MAX_CHROMA, SAMPLES, stretches } from "@/logic/hatching";
import { useStudy } from "@/stores/study";

export type Axis = "lightness" | "chroma" | "hue";
type Stretches = Record<Axis, [number, number][]>;

const AXES: Axis[] = ["lightness", "chroma", "hue"];
const SPAN: Record<Axis, number> = { lightness: 1, chroma: MAX_CHROMA, hue: 360 };

/**
 * Which of the colours on the tracks and the field are hard to read somewhere. The server is asked about the very
 * colours that are drawn, so the hatching is as true as its reading. Only the latest question counts.
 */
export function useHatching(name: Ref<string>, lch: Ref<Lch>) {
  const study = useStudy();
  const tracks = shallowRef<Stretches>({ lightness: [], chroma: [], hue: [] });
  const field = shallowRef<boolean[]>([]);
  const isAsked = ref(false);
  let isWanted = false;

  async function look(): Promise<void> {
    isWanted = true;
    if (isAsked.value) return;
    isAsked.value = true;
    try {
      while (isWanted) {
        isWanted = false;
        await once();
      }
    } catch {
      // the next change asks again
    } finally {
      isAsked.value = false;
    }
  }

  /** What each part was last asked for: a part whose colours did not change is not asked about again. */
  const known = { lightness: "", chroma: "", hue: "", field: "" };

  async function once(): Promise<void> {
    const here = { ...lch.value, alpha: 1 };
    const role = name.value;
    const values = { ...study.draft };
    delete values[role];
    const beside = `${role} ${JSON.stringify(study.revision?.base)} ${JSON.stringify(values)}`;
    const keys = {
      lightness: `${beside} ${here.chroma} ${here.hue}`,
      chroma: `${beside} ${here.lightness} ${here.hue}`,
      hue: `${beside} ${here.lightness} ${here.chroma}`,
      field: `${beside} ${here.hue}`,
    };
    const asked = AXES.filter((axis) => keys[axis] !== known[axis]);
    const isFieldAsked = keys.field !== known.field;
    const colours = asked.flatMap((axis) => SAMPLES.map((share) => hexOf({ ...here, [axis]: share * SPAN[axis] })));
    if (isFieldAsked) colours.push(...fieldColours(here.hue).map((cell) => cell.hex));
    if (!colours.length) return;
    const { reads } = await study.find({ search: "readable-among", role, colours, values });
    if (role !== name.value) return;
    const count = SAMPLES.length;
    const found = asked.map((axis, place) => [axis, stretches(reads.slice(place * count, (place + 1) * count))]);
    if (asked.length) tracks.value = { ...tracks.value, ...(Object.fromEntries(found) as Partial<Stretches>) };
    if (isFieldAsked) field.value = [...reads.slice(asked.length * count)].map((one) => one === "0");
    for (const axis of asked) known[axis] = keys[axis];
    if (isFieldAsked) known.field = keys.field;
  }

  const soon = useDebounceFn(() => void look(), 40, { maxWait: 500 });
  watch([name, lch, () => study.revision?.base], () => void soon(), { immediate: true });

  return { tracks, field, columns: FIELD.columns };
}
