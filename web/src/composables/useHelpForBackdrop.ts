import { computed, ref, shallowRef, type ComputedRef, type Ref } from "vue";
import { useRouter } from "vue-router";
import type { Schemas, Where } from "@/api/client";
import type { useBackdrop } from "@/composables/useBackdrop";
import { wear } from "@/logic/acts";
import { count } from "@/logic/words";
import { useStudy } from "@/stores/study";

interface Place {
  place: ComputedRef<Where | null>;
  path: Ref<string>;
  worn: Ref<string | null>;
}

/** What would make the texts on a backdrop readable, done at a click; `chosen` is the layer that is looked at then. */
export function useHelpForBackdrop(back: ReturnType<typeof useBackdrop>, { place, path, worn }: Place) {
  const study = useStudy();
  const router = useRouter();
  const chosen = ref(0);
  const least = ref<number | null>(null);
  const leftOver = shallowRef<Schemas["HardText"][] | null>(null);
  const said = ref("");
  const hard = computed(() => back.tried.value?.worst.filter((text) => text.verdict === "fail") ?? []);
  /** Texts that no veil makes readable, of the last that was looked for. */
  const left = computed(() => (leftOver.value ?? []).filter((text) => hard.value.some((h) => h.path === text.path)));

  async function findLeast(): Promise<void> {
    const found = await back.leastVeil();
    if (!found) return;
    least.value = found.opacity;
    leftOver.value = found.hard;
    chosen.value = back.layers.value.findLastIndex((layer) => layer.veil);
  }

  /** Gives as few stops of the gradient another colour as will do. */
  async function changeStops(): Promise<void> {
    const found = await back.readableStops();
    if (!found) return;
    if (found.moved) chosen.value = back.layers.value.findLastIndex((layer) => layer.gradient && !layer.off);
    said.value = found.moved
      ? `${count(found.moved, "stop")} of the gradient took another colour.`
      : "No other colours of the gradient would make more of its text readable.";
  }

  /** Lays a plate behind the words that are hard to read, and nothing else. */
  async function layPlate(): Promise<void> {
    const found = await back.layPlate();
    if (found && !found.plate) said.value = "Nothing on it is hard to read that a plate would help.";
  }

  /** Keeps the backdrop, and gives all text in its place one light or dark colour. */
  async function turnText(): Promise<void> {
    const turned = back.tried.value?.turned;
    if (!turned || !place.value || (back.isChanged.value && !(await back.keep()))) return;
    const act = wear([place.value], worn.value, turned.values);
    if (await back.during(`Turning its text ${turned.way}…`, () => study.act(act))) await back.load();
  }

  /** Opens the hardest text close up, where its colour can be changed there only. */
  const changeText = () => router.push({ name: "close-up", query: { page: path.value, at: hard.value[0]!.path } });

  return { chosen, least, said, hard, left, findLeast, changeStops, layPlate, turnText, changeText };
}
