import { computed, ref, watch, type Ref } from "vue";
import { hexOf, lchOf, type Lch } from "@/logic/colour";
import { MAX_CHROMA } from "@/logic/hatching";

const SHARES = Array.from({ length: 13 }, (_, place) => place / 12);

/** What each track is called, how far it goes, and how a place on it is told. */
export const TRACKS = [
  { axis: "lightness", label: "Lightness", max: 1, step: 0.01, text: (value: number) => value.toFixed(2) },
  { axis: "chroma", label: "Colourfulness", max: MAX_CHROMA, step: 0.004, text: (value: number) => value.toFixed(3) },
  { axis: "hue", label: "Hue", max: 360, step: 1, text: (value: number) => `${value.toFixed(0)}°` },
  { axis: "alpha", label: "Opacity", max: 1, step: 0.01, text: (value: number) => `${(value * 100).toFixed(0)} %` },
] as const;

/** A colour taken apart for the hand: `show` is given each colour that it moves through. */
export function useMixing(value: Ref<string>, show: (hex: string) => void) {
  // A grey has no hue and black no colourfulness of its own: the sliders keep what they were set to.
  const lch = ref<Lch>(lchOf(value.value));
  watch(value, (hex) => {
    if (hexOf(lch.value) !== hex) lch.value = lchOf(hex, lch.value.hue);
  });

  function mix(change: Partial<Lch>): void {
    lch.value = { ...lch.value, ...change };
    show(hexOf(lch.value));
  }

  // a track is drawn anew only when what it depends on moves: its own axis does not
  const part = (axis: keyof Lch) => computed(() => lch.value[axis]);
  const [lightness, chroma, hue] = [part("lightness"), part("chroma"), part("hue")];
  const along = (colour: (share: number) => Omit<Lch, "alpha">) =>
    SHARES.map((share) => hexOf({ alpha: 1, ...colour(share) }));
  const tracks = {
    lightness: computed(() => along((share) => ({ lightness: share, chroma: chroma.value, hue: hue.value }))),
    chroma: computed(() =>
      along((share) => ({ lightness: lightness.value, chroma: share * MAX_CHROMA, hue: hue.value })),
    ),
    hue: computed(() =>
      along((share) => ({ lightness: lightness.value, chroma: Math.max(chroma.value, 0.04), hue: share * 360 })),
    ),
    alpha: computed(() => {
      const solid = hexOf({ ...lch.value, alpha: 1 });
      return [`${solid}00`, solid];
    }),
  };
  return { lch, mix, tracks };
}
