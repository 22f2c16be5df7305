import type { Schemas } from "@/api/client";

/** A backdrop's layers as a study's document has them, and what they are called. */
export type Backdrop = Schemas["Backdrop"];
export type Phone = Schemas["Phone"];
/** A colour right behind some texts of a place: `behind` finds their elements in it. */
export type Plate = Schemas["Plate"];
export type Layer = Omit<Schemas["Layer"], "off"> & { off?: boolean };
export type Gradient = Schemas["Gradient"];
export type Stop = Schemas["Stop"];
export type Picture = Schemas["Picture"];
export type Pattern = Schemas["Pattern"];
export type Glow = Schemas["Glow"];
export type Veil = Schemas["Veil"];
export type Paint = Stop["colour"];
export type LayerKind = Exclude<keyof Layer, "off">;

export const LAYER_NAMES: Record<LayerKind, string> = {
  colour: "Base colour",
  gradient: "Gradient",
  picture: "Picture",
  pattern: "Pattern",
  glow: "Glow",
  veil: "Veil",
};
export const FITS: Record<Picture["fit"], string> = {
  cover: "Fills it",
  contain: "All of it in view",
  tile: "In tiles",
  stretch: "Stretched",
  natural: "In its own size",
};
export const BLENDS: Record<string, string> = {
  normal: "Covers",
  multiply: "Multiplies",
  screen: "Screens",
  overlay: "Overlays",
  "soft-light": "Soft light",
  darken: "Darkens",
  lighten: "Lightens",
  luminosity: "Light only",
};
const GRADIENTS = { linear: "straight", radial: "round", conic: "turning" };
const KINDS = Object.keys(LAYER_NAMES) as LayerKind[];
export const MOST_STOPS = 6;

export const kindOf = (layer: Layer): LayerKind => KINDS.find((kind) => layer[kind] != null) ?? "colour";

/** A fresh layer of a kind, made of the palette where it can be. */
export function freshLayer(kind: LayerKind, paint: (kind: string) => Paint, file = ""): Layer {
  switch (kind) {
    case "colour":
      return { colour: paint("background") };
    case "gradient":
      return {
        gradient: {
          kind: "linear",
          angle: 180,
          place: [0.5, 0.5],
          reach: 1,
          stops: [
            { at: 0, colour: paint("background") },
            { at: 1, colour: paint("accent") },
          ],
        },
      };
    case "picture":
      return {
        picture: {
          file,
          fit: "cover",
          at: [0.5, 0.5],
          scale: 1,
          fixed: false,
          opacity: 1,
          blend: "normal",
          strength: 1,
          lightness: 0,
        },
      };
    case "pattern":
      return {
        pattern: { name: "canvas", colour: paint("text"), scale: 2, opacity: 0.08, turn: 0, drift: null },
      };
    case "glow":
      return { glow: { at: [0.5, 0], colour: "#ffffff", reach: 0.8, opacity: 0.25 } };
    default:
      return { veil: { colour: paint("background"), opacity: 0.5 } };
  }
}

const percent = (share: number | "least") => (share === "least" ? "the least" : `${Math.round(share * 100)} %`);

/** What a layer is, in a few words. */
export function layerWords(layer: Layer, nameOf: (paint: Paint) => string): string {
  if (layer.colour != null) return nameOf(layer.colour);
  if (layer.gradient) return `${layer.gradient.stops.length} colours, ${GRADIENTS[layer.gradient.kind]}`;
  if (layer.picture) {
    const name = layer.picture.file
      .split("/")
      .pop()!
      .replace(/\.\w+$/, "");
    return `${name}, ${FITS[layer.picture.fit].toLowerCase()}${layer.picture.fixed ? ", stays" : ""}`;
  }
  if (layer.pattern)
    return `${layer.pattern.name}, ${percent(layer.pattern.opacity)}${layer.pattern.drift ? ", drifts" : ""}`;
  if (layer.glow) return `${nameOf(layer.glow.colour)}, ${percent(layer.glow.opacity)}`;
  return layer.veil ? `${nameOf(layer.veil.colour)}, ${percent(layer.veil.opacity)}` : "";
}

export type Side = "top" | "right" | "foot" | "left";

/** Says which sides of a place are meant: "at both sides", "at the top and the left". */
export function atSides(sides: readonly Side[]): string {
  if (sides.length === 4) return "all around";
  if (sides.length === 2 && sides.includes("left") && sides.includes("right")) return "at both sides";
  const named = sides.map((side) => `the ${side}`);
  return `at ${[named.slice(0, -1).join(", "), named.at(-1)].filter(Boolean).join(" and ")}`;
}
