import { computed, shallowRef, watch, type ComputedRef } from "vue";
import client, { ask, type Schemas, type Where } from "@/api/client";
import type { useBackdrop } from "@/composables/useBackdrop";
import type { useHelpForBackdrop } from "@/composables/useHelpForBackdrop";
import { freshLayer, kindOf, type Layer, type LayerKind, type Paint } from "@/logic/backdrop";
import { useSite } from "@/stores/site";

type Help = Pick<ReturnType<typeof useHelpForBackdrop>, "chosen" | "least" | "said">;

/** The layers of a backdrop as the hand adds, changes and takes them. */
export function useLayers(
  back: ReturnType<typeof useBackdrop>,
  { chosen, least, said }: Help,
  place: ComputedRef<Where | null>,
  paintOf: (kind: string) => Paint,
) {
  const site = useSite();
  const { layers } = back;
  const hasBase = computed(() => layers.value.some((layer) => layer.colour != null));
  function add(kind: LayerKind, file = ""): void {
    // behind a page there is nothing else that it could lie on
    if (kind !== "colour" && !hasBase.value && !place.value?.section && !place.value?.part)
      layers.value = [freshLayer("colour", paintOf), ...layers.value];
    const fresh = freshLayer(kind, paintOf, file);
    // a picture lies on a base colour, below what is laid over it
    if (kind === "colour") back.change([fresh, ...layers.value]);
    else if (kind === "veil" || kind === "glow") back.change([...layers.value, fresh]);
    else {
      const top = layers.value.findIndex((layer) => layer.veil ?? layer.glow);
      const next = [...layers.value];
      next.splice(top < 0 ? next.length : top, 0, fresh);
      back.change(next);
    }
    chosen.value = layers.value.findIndex(
      (layer) => kindOf(layer) === kind && JSON.stringify(layer) === JSON.stringify(fresh),
    );
    least.value = null;
  }
  const at = computed(() => layers.value[chosen.value]);

  function change(layer: Layer, isDone: boolean): void {
    back.change(
      layers.value.map((found, n) => (n === chosen.value ? layer : found)),
      isDone,
    );
    if (!layer.veil) least.value = null;
  }
  function put(next: Layer[]): void {
    back.change(next);
    least.value = null;
  }
  /** The colours of the picture that is chosen. */
  const colours = shallowRef<Schemas["PictureColoursOut"] | null>(null);
  const coloursOf = (file: string) =>
    ask(
      client.GET("/api/sites/{slug}/backdrops/colours", {
        params: { path: { slug: site.slug }, query: { path: file } },
      }),
    ).catch(() => null);
  watch(
    () => at.value?.picture?.file,
    async (file) => {
      colours.value = null;
      if (file) colours.value = await coloursOf(file);
    },
  );
  async function choosePicture(file: string): Promise<void> {
    const picture = at.value?.picture;
    if (picture) change({ picture: { ...picture, file } }, true);
    else {
      add("picture", file);
      if (hasBase.value) return;
      const edge = (await coloursOf(file))?.edge;
      put([{ colour: edge ?? "#888888" }, ...layers.value]);
      chosen.value += 1;
    }
  }
  /** Gives the base the colour of the picture's own edge, so that what the picture leaves bare goes on from it. */
  function baseFromEdge(): void {
    const colour = colours.value?.edge;
    if (!colour) return;
    const others = layers.value.filter((layer) => layer.colour == null);
    put([{ colour }, ...others]);
    chosen.value = layers.value.findIndex((layer) => layer.picture);
  }
  async function send(file: File): Promise<void> {
    const picture = await back.sendPicture(file);
    if (picture) await choosePicture(picture.path);
    said.value = picture?.note ?? "";
  }
  async function take(wanted: string): Promise<void> {
    const picture = await back.takeFromLibrary(wanted);
    if (picture) await choosePicture(picture.path);
  }

  return { hasBase, at, colours, add, change, put, choosePicture, baseFromEdge, send, take };
}
