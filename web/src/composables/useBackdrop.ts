import { computed, ref, shallowRef, watch, type Ref } from "vue";
import client, { ask, type Act, type Schemas, sentence, type Where } from "@/api/client";
import { measureAndKeep } from "@/composables/useMeasuring";
import type { Backdrop, Layer, Phone, Plate } from "@/logic/backdrop";
import { useSite } from "@/stores/site";
import { useStudy } from "@/stores/study";

type Place = Where | null;

/**
 * One backdrop that is worked on: what it is, as the pages show it at once, and how the texts on it read. Nothing is
 * saved until it is kept.
 */
export function useBackdrop(place: Ref<Place>, page: Ref<string>, width: Ref<number>) {
  const site = useSite();
  const study = useStudy();
  const all = shallowRef<Schemas["BackdropsOut"] | null>(null);
  const layers = shallowRef<Layer[]>([]);
  const phone = shallowRef<Phone | null>(null);
  /** How solid the boxes that lie on it are, 0 to 1. */
  const panels = ref(1);
  /** What lies right behind some of its texts alone. */
  const plate = shallowRef<Plate | null>(null);
  const tried = shallowRef<Schemas["TriedBackdrop"] | null>(null);
  /** How many texts would be hard to read should its pictures not load. */
  const hardOnBase = ref(0);
  const trouble = ref("");
  const busy = ref("");
  let saved = "";

  const on = () => ({ params: { path: { slug: site.slug } } });
  const backdrop = (): Backdrop => ({
    in: place.value,
    layers: layers.value.map((layer) => ({ ...layer, off: layer.off ?? false })),
    panels: panels.value,
    phone: phone.value,
    plate: plate.value,
  });
  const laid = (coat: string | null = null, other = backdrop()): Act => ({
    act: "lay-backdrop",
    backdrop: other,
    coat,
  });
  const said = () => JSON.stringify([layers.value, phone.value, panels.value, plate.value]);
  const isChanged = computed(() => said() !== saved);

  async function load(): Promise<void> {
    try {
      // the client forgets that places are pairs
      const told = (await ask(client.GET("/api/sites/{slug}/backdrops", on()))) as Schemas["BackdropsOut"];
      all.value = told;
      const mine = told.backdrops.find((one) => isSamePlace(one.backdrop.in, place.value))?.backdrop;
      layers.value = mine?.layers ?? [];
      phone.value = mine?.phone ?? null;
      panels.value = mine?.panels ?? 1;
      plate.value = mine?.plate ?? null;
      saved = said();
      trouble.value = "";
      study.showBackdrop(null);
      await read();
    } catch (refusal) {
      trouble.value = sentence(refusal);
    }
  }
  watch([() => site.slug, () => JSON.stringify(place.value)], () => site.slug && load(), { immediate: true });
  watch([page, width], () => void read());

  let isWanted = false;
  let isShowing = false;
  /** Shows it on the page: the newest only, one question at a time. */
  async function show(): Promise<void> {
    isWanted = true;
    if (isShowing) return;
    isShowing = true;
    try {
      while (isWanted) {
        isWanted = false;
        const acts = [laid()];
        const shown = await study.find({ search: "show", acts });
        const made = shown.is_ready ? shown : await study.find({ search: "show-made", acts });
        study.showBackdrop(made.css);
        trouble.value = "";
      }
    } catch (refusal) {
      trouble.value = sentence(refusal);
    } finally {
      isShowing = false;
    }
  }

  let asking: AbortController | null = null;
  const failed = new Set<string>();
  /** Reads the texts of the page on it; where the page is not measured yet at this width it is, first. */
  async function read(): Promise<void> {
    asking?.abort();
    if (!(layers.value.length || plate.value) || !page.value) {
      tried.value = null;
      return;
    }
    const mine = (asking = new AbortController());
    const wanted = { backdrop: backdrop(), page: page.value, width: width.value };
    try {
      let found = await study.find({ search: "try-backdrop", ...wanted }, mine.signal);
      const name = `${wanted.width} ${wanted.page}`;
      if (!found.is_measured && !failed.has(name)) {
        failed.add(name);
        if (await measure(wanted.page, wanted.width))
          found = await study.find({ search: "try-backdrop", ...wanted }, mine.signal);
      }
      if (asking === mine) tried.value = found;
      // told a moment later: the ratio is what is waited for
      const onBase = await study.find({ search: "try-failed", ...wanted }, mine.signal);
      if (asking === mine) hardOnBase.value = onBase.hard;
    } catch (refusal) {
      if (asking === mine && !mine.signal.aborted) trouble.value = sentence(refusal);
    }
  }

  async function measure(path: string, across: number): Promise<boolean> {
    const address = site.pages.find((one) => one.path === path)?.preview;
    return address ? measureAndKeep(site.slug!, { address, page: path, width: across }) : false;
  }

  /** Takes what the hand does; with `isDone` it has let go, and the texts are read. */
  function change(next: Layer[], isDone = true): void {
    layers.value = next;
    void show();
    if (isDone) void read();
  }

  async function during<T>(what: string, work: () => Promise<T>): Promise<T | undefined> {
    busy.value = what;
    try {
      return await work();
    } catch (refusal) {
      trouble.value = sentence(refusal);
      return undefined;
    } finally {
      busy.value = "";
    }
  }

  const leastVeil = () =>
    during("Looking for the least veil…", async () => {
      const found = await study.find({ search: "veil", backdrop: backdrop() });
      change(found.layers);
      return found;
    });
  const readableBase = () =>
    during("Trying what should show where its pictures do not load…", async () => {
      const found = await study.find({ search: "base", backdrop: backdrop() });
      change(found.layers);
      return found;
    });
  const readableStops = () =>
    during("Trying other colours of the gradient…", async () => {
      const found = await study.find({ search: "stops", backdrop: backdrop() });
      if (found.moved) change(found.layers);
      return found;
    });
  const firmPanels = () =>
    during("Trying how solid the boxes on it have to be…", async () => {
      const found = await study.find({ search: "panels", backdrop: backdrop() });
      panels.value = found.panels;
      change(layers.value);
      return found;
    });
  /** Lays the least plate behind the texts that are hard to read; gives what became of them. */
  const layPlate = () =>
    during("Trying what has to lie behind these words…", async () => {
      const found = await study.find({ search: "plate", backdrop: backdrop() });
      if (found.plate) plate.value = found.plate;
      change(layers.value);
      return found;
    });
  const bestFocus = () =>
    during("Trying what the picture may show…", async () => {
      const wanted = { backdrop: backdrop(), page: page.value, width: width.value };
      const found = await study.find({ search: "focus", ...wanted });
      change(found.layers);
      return found;
    });

  async function sendPicture(file: File): Promise<Schemas["OwnPictureOut"] | undefined> {
    return during("Taking the picture in…", async () => {
      const form = new FormData();
      form.append("picture", file);
      const picture = await ask(
        client.POST("/api/sites/{slug}/backdrops/pictures", {
          ...on(),
          body: form as never,
          bodySerializer: (one: unknown) => one as FormData,
        }),
      );
      note(picture);
      return picture;
    });
  }
  const takeFromLibrary = (name: string) =>
    during("Taking the picture in…", async () => {
      const picture = await ask(client.POST("/api/sites/{slug}/backdrops/library", { ...on(), body: { name } }));
      note(picture);
      return picture;
    });
  function note(picture: Schemas["OwnPictureOut"]): void {
    const others = all.value!.pictures.filter((one) => one.path !== picture.path);
    all.value = { ...all.value!, pictures: [picture, ...others] };
  }

  /** Keeps the layers behind their place, or with the coat that the place wears. */
  async function keep(coat = ""): Promise<boolean> {
    const done = await during("Keeping it…", () => study.act(laid(coat || null)));
    if (done) saved = said();
    // a new value, so that what watches it sees that nothing waits any more
    layers.value = [...layers.value];
    return !!done;
  }
  /** Lays the same layers behind another place. */
  const copyTo = (other: Place) =>
    during("Copying it…", () => study.act(laid(null, { ...backdrop(), in: other, plate: null })));
  function leave(): void {
    asking?.abort();
    study.showBackdrop(null);
  }

  return { all, layers, phone, panels, plate, tried, hardOnBase, trouble, busy, isChanged, load, change, read, leastVeil, readableBase, readableStops, firmPanels, layPlate, bestFocus, sendPicture, takeFromLibrary, keep, copyTo, during, leave }; // prettier-ignore
}

const isSamePlace = (one: Place | undefined, other: Place): boolean =>
  (["page", "section", "part", "at"] as const).every((name) => (one?.[name] ?? null) === (other?.[name] ?? null));
