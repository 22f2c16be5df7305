/** Colour sums for what must follow the hand at once; every figure that stays comes from the server. */
import {
  converter,
  differenceEuclidean,
  formatHex,
  formatHex8,
  parse,
  toGamut,
  type Oklch,
  wcagContrast,
} from "culori";

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

/** Black or white, whichever stands out more from a background: for words of ours on the owner's colours. */
export const inkOn = (background: string): string =>
  wcagContrast(background, "#ffffff") >= wcagContrast(background, "#000000") ? "#ffffff" : "#000000";

/** The colours at some shares of a gradient's way, as browsers mix them in sRGB; null where a stop lets through. */
export function alongStops(stops: { at: number; colour: string }[], shares: number[]): string[] | null {
  const sorted = [...stops].sort((a, b) => a.at - b.at).map(({ at, colour }) => ({ at, rgb: toRgb(parse(colour)) }));
  if (!sorted.length || sorted.some(({ rgb }) => !rgb || (rgb.alpha ?? 1) < 1)) return null;
  return shares.map((share) => {
    const after = sorted.findIndex(({ at }) => at > share);
    const [one, other] = [sorted[Math.max(0, after - 1)]!, after < 0 ? sorted.at(-1)! : sorted[after]!];
    const from = after < 0 ? other : one;
    const part = other.at > from.at ? Math.max(0, Math.min(1, (share - from.at) / (other.at - from.at))) : 0;
    const mixed = (channel: "r" | "g" | "b") => from.rgb![channel] * (1 - part) + other.rgb![channel] * part;
    return formatHex({ mode: "rgb", r: mixed("r"), g: mixed("g"), b: mixed("b") });
  });
}

/** Whether text of all these colours has the contrast it needs on a background. */
export const isReadableOn = (background: string, inks: { colour: string; required: number }[]): boolean =>
  inks.every(({ colour, required }) => wcagContrast(colour, background) >= required);

const apartInOklab = differenceEuclidean("oklab");

/** ΔE OK between two CSS colours. */
export const differenceOk = (one: string, other: string): number => apartInOklab(parse(one)!, parse(other)!);

/** CSS text of a hex colour as a custom property says it: at an opacity of its own, or as the channels of `rgb()`. */
export function asProperty(hex: string, property: { opacity: number; is_channels: boolean }): string {
  const rgb = toRgb(parse(hex));
  if (!rgb) return hex;
  const [r, g, b] = [rgb.r, rgb.g, rgb.b].map((channel) => Math.round(channel * 255));
  if (property.is_channels) return `${r}, ${g}, ${b}`;
  const alpha = (rgb.alpha ?? 1) * property.opacity;
  if (alpha >= 1) return hex;
  return `rgb(${r} ${g} ${b} / ${Number(alpha.toFixed(4))})`;
}

/** The hex colour of any CSS colour that a browser computes, without its opacity; null where it is none. */
export function hexOfCss(css: string): string | null {
  const found = parse(css);
  return found ? formatHex(intoSrgb(found)) : null;
}

/** Linear sRGB of OKLab (CSS Color 4, section 20): plain sums, for tens of thousands of pixels at once. */
export function linearSrgbOfOklab(lightness: number, a: number, b: number): [number, number, number] {
  const l = (lightness + 0.3963377773761749 * a + 0.2158037573099136 * b) ** 3;
  const m = (lightness - 0.1055613458156586 * a - 0.0638541728258133 * b) ** 3;
  const s = (lightness - 0.0894841775298119 * a - 1.2914855480194092 * b) ** 3;
  return [
    4.0767416360759574 * l - 3.3077115392580616 * m + 0.2309699031821043 * s,
    -1.2684379732850315 * l + 2.6097573492876887 * m - 0.3413193760026574 * s,
    -0.0041960761386756 * l - 0.7034186179359362 * m + 1.7076146940746117 * s,
  ];
}

/** A linear channel as sRGB encodes it. */
export const encoded = (linear: number): number =>
  linear <= 0.0031308 ? Math.max(0, linear) * 12.92 : 1.055 * linear ** (1 / 2.4) - 0.055;
