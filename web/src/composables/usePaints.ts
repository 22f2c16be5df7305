import type { Ref } from "vue";
import type { Schemas } from "@/api/client";
import type { Layer, Paint } from "@/logic/backdrop";
import { useStudy } from "@/stores/study";

/** What the paints of layers look like and are called, of the palette that is worked on. */
export function usePaints(all: Ref<Schemas["BackdropsOut"] | null>) {
  const study = useStudy();
  const colourOf = (paint: Paint) => (typeof paint === "string" ? paint : study.colourOf(paint.role));
  const nameOf = (paint: Paint) =>
    typeof paint === "string" ? paint : (study.roleById.get(paint.role)?.label ?? paint.role);
  /** A paint of a kind: the palette's where it has one. */
  const paintOf = (kind: string): Paint => {
    const role = study.roles.find((r) => r.kind === kind && !r.coat && r.state === "rest" && r.tier !== "unseen");
    return role ? { role: role.id } : ({ background: "#ffffff", text: "#222222" }[kind] ?? "#6a7a80");
  };
  function lookOf(layer: Layer): string {
    if (layer.colour != null) return colourOf(layer.colour);
    if (layer.gradient) {
      const stops = layer.gradient.stops.map((stop) => `${colourOf(stop.colour)} ${stop.at * 100}%`).join(", ");
      return layer.gradient.kind === "radial"
        ? `radial-gradient(${stops})`
        : `linear-gradient(${layer.gradient.angle}deg, ${stops})`;
    }
    if (layer.picture) {
      const address = all.value?.pictures.find((found) => found.path === layer.picture!.file)?.address;
      return address ? `center / cover url("${address}")` : "#999";
    }
    if (layer.pattern) return `center / 24px url("/api/patterns/${layer.pattern.name}") #fff`;
    if (layer.glow) return `radial-gradient(circle at 50% 0, ${colourOf(layer.glow.colour)}, #8a8a8a)`;
    return layer.veil ? colourOf(layer.veil.colour) : "#fff";
  }
  return { colourOf, nameOf, paintOf, lookOf };
}
