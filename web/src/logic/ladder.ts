/** Where texts stand on the ladder, and which colour a text has to have to stand somewhere else. */
import { wcagContrast } from "culori";
import { hexOf, lchOf } from "@/logic/colour";

export const MOST = 21;
/** Contrasts that are written above the lanes; the spaces between them are those of a log scale. */
export const TICKS = [1, 2, 3, 4.5, 7, 10, 15, 21];

/** The share of the way from 1 to 21 that a contrast lies at, 0 to 1. */
export const shareOf = (ratio: number): number => Math.log(Math.min(MOST, Math.max(1, ratio))) / Math.log(MOST);

/** The contrast that lies at a share of the way. */
export const ratioAt = (share: number): number => MOST ** Math.min(1, Math.max(0, share));

/** The contrast of two hex colours, cut to two places as all ratios are. */
export const contrastOf = (one: string, other: string): number =>
  Math.floor(wcagContrast(one, other) * 100 + 1e-9) / 100;

const STEPS = 18;

/**
 * A colour of the same hue that has a contrast to a background: lighter than that if it is lighter now, else darker.
 * Where no colour has it, the nearest end of the scale.
 */
export function withContrast(colour: string, background: string, ratio: number): string {
  const lch = lchOf(colour);
  const isLighter = wcagContrast(colour, "#000000") > wcagContrast(background, "#000000");
  // the further from the background's lightness, the more contrast: halved until it fits
  let near = lchOf(background).lightness;
  let far = isLighter ? 1 : 0;
  for (let step = 0; step < STEPS; step++) {
    const middle = (near + far) / 2;
    if (wcagContrast(hexOf({ ...lch, lightness: middle }), background) < ratio) near = middle;
    else far = middle;
  }
  return hexOf({ ...lch, lightness: far });
}

const known = new Map<string, number>();
let context: CanvasRenderingContext2D | null | undefined;

/** How wide words are as they stand on the ladder, in pixels. */
export function widthOf(words: string): number {
  let width = known.get(words);
  if (width === undefined) {
    context ??= document.createElement("canvas").getContext("2d");
    if (context) context.font = `600 14px ${getComputedStyle(document.body).fontFamily}`;
    width = Math.ceil(context?.measureText(words).width ?? words.length * 8) + 2;
    known.set(words, width);
  }
  return width;
}

export interface Placed {
  /** The row from the bottom of the lane, and the left edge in pixels. */
  row: number;
  left: number;
}

/** Rows for pieces of given widths so that none covers another; each as near its place as the track allows. */
export function packed(pieces: { at: number; width: number }[], track: number, gap = 5): Placed[] {
  const ends: number[] = [];
  const placed: Placed[] = pieces.map(() => ({ row: 0, left: 0 }));
  const order = pieces.map((_, place) => place).sort((a, b) => pieces[a]!.at - pieces[b]!.at);
  for (const place of order) {
    const { at, width } = pieces[place]!;
    const left = Math.max(0, Math.min(track - width, at - width / 2));
    let row = ends.findIndex((end) => end + gap <= left);
    if (row < 0) row = ends.length;
    ends[row] = left + width;
    placed[place] = { row, left };
  }
  return placed;
}
