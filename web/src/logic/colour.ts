/** Colour sums for what must follow the hand at once; every figure that stays comes from the server. */
import { converter, differenceEuclidean, formatHex, formatHex8, parse, toGamut, type Oklch } from "culori";

export interface Lch {
  lightness: number;
  chroma: number;
  hue: number;
  alpha: number;
}

const toOklch = converter("oklch");
const toRgb = converter("rgb");
const intoSrgb = toGamut("rgb", "oklch");

/** Lightness, colourfulness and hue of a hex colour; a grey keeps the hue it is given. */
export function lchOf(hex: string, greyHue = 0): Lch {
  const found = toOklch(parse(hex)) as Oklch | undefined;
  if (!found) return { lightness: 0, chroma: 0, hue: greyHue, alpha: 1 };
  const grey = (found.c ?? 0) < 0.002 || found.h === undefined;
  return { lightness: found.l, chroma: grey ? 0 : found.c, hue: grey ? greyHue : found.h!, alpha: found.alpha ?? 1 };
}

/** The hex colour of OKLCH, brought into sRGB where it lies outside. */
export function hexOf({ lightness, chroma, hue, alpha }: Lch): string {
  const colour = intoSrgb({ mode: "oklch", l: lightness, c: chroma, h: hue, alpha });
  return alpha < 1 ? (formatHex8(colour) ?? "#000000") : (formatHex(colour) ?? "#000000");
}

/** Whether sRGB holds an OKLCH colour, a half step of eight bits aside. */
export function isInSrgb({ lightness, chroma, hue }: Lch): boolean {
  const rgb = toRgb({ mode: "oklch", l: lightness, c: chroma, h: hue } as Oklch);
  return [rgb.r, rgb.g, rgb.b].every((channel) => channel > -0.002 && channel < 1.002);
}

const apartInOklab = differenceEuclidean("oklab");

/** ΔE OK between two CSS colours. */
export const differenceOk = (one: string, other: string): number => apartInOklab(parse(one)!, parse(other)!);

/** CSS text of a hex colour at an opacity of its own. */
export function atOpacity(hex: string, opacity: number): string {
  const rgb = toRgb(parse(hex));
  if (!rgb) return hex;
  const alpha = (rgb.alpha ?? 1) * opacity;
  if (alpha >= 1) return hex;
  const [r, g, b] = [rgb.r, rgb.g, rgb.b].map((channel) => Math.round(channel * 255));
  return `rgb(${r} ${g} ${b} / ${Number(alpha.toFixed(4))})`;
}

/** The hex colour of any CSS colour that a browser computes, without its opacity; null where it is none. */
export function hexOfCss(css: string): string | null {
  const found = parse(css);
  return found ? formatHex(intoSrgb(found)) : null;
}
