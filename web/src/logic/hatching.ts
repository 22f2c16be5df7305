import { encoded, hexOf, isInSrgb, linearSrgbOfOklab } from "@/logic/colour";

export const MAX_CHROMA = 0.32;
const COUNT = 96;
/** Where on a track colours are asked about. */
export const SAMPLES = Array.from({ length: COUNT + 1 }, (_, place) => place / COUNT);
/** The field of lightness by colourfulness: its cells. */
export const FIELD = { columns: 40, rows: 26 } as const;

/** The stretches of a track that are hard to read, as shares of its length; "0" is hard to read. */
export function stretches(reads: string): [number, number][] {
  const found: [number, number][] = [];
  const half = 0.5 / (reads.length - 1);
  for (let place = 0; place < reads.length; place++) {
    if (reads[place] !== "0") continue;
    const from = Math.max(0, place / (reads.length - 1) - half);
    const to = Math.min(1, place / (reads.length - 1) + half);
    const last = found.at(-1);
    if (last && from <= last[1] + 1e-9) last[1] = to;
    else found.push([from, to]);
  }
  return found;
}

export interface Cell {
  lightness: number;
  chroma: number;
  hex: string;
  /** Whether sRGB holds the colour; others are drawn as the nearest it holds. */
  inside: boolean;
}

let lastField: { hue: number; cells: Cell[] } | null = null;

/** The cells of the field at a hue, row by row from light to dark, each with the colour of its middle. */
export function fieldColours(hue: number): Cell[] {
  if (lastField?.hue === hue) return lastField.cells;
  const cells: Cell[] = [];
  for (let row = 0; row < FIELD.rows; row++)
    for (let column = 0; column < FIELD.columns; column++) {
      const lightness = 1 - (row + 0.5) / FIELD.rows;
      const chroma = ((column + 0.5) / FIELD.columns) * MAX_CHROMA;
      const lch = { lightness, chroma, hue, alpha: 1 };
      cells.push({ lightness, chroma, hex: hexOf(lch), inside: isInSrgb(lch) });
    }
  lastField = { hue, cells };
  return cells;
}

/** The field drawn in pixels, RGBA row by row: lightness from top to bottom, chroma from left to right, clear outside sRGB. */
export function fieldPixels(hue: number, width: number, height: number): Uint8ClampedArray<ArrayBuffer> {
  const pixels = new Uint8ClampedArray(width * height * 4);
  const angle = (hue * Math.PI) / 180;
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
  for (let row = 0; row < height; row++) {
    const lightness = 1 - (row + 0.5) / height;
    for (let column = 0; column < width; column++) {
      const chroma = ((column + 0.5) / width) * MAX_CHROMA;
      const rgb = linearSrgbOfOklab(lightness, chroma * cos, chroma * sin);
      if (rgb.some((channel) => channel < -0.0005 || channel > 1.0005)) continue;
      const at = (row * width + column) * 4;
      for (let n = 0; n < 3; n++) pixels[at + n] = 255 * encoded(rgb[n]!);
      pixels[at + 3] = 255;
    }
  }
  return pixels;
}
