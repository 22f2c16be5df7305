import { computed, ref, shallowRef } from "vue";
import client, { ask, type Schemas } from "@/api/client";
import { useBench } from "@/stores/bench";

export type Made = Schemas["MadeOut"];

/** Makes palettes one direction after the other, so that progress is seen and it can be stopped at any of them. */
export function useMaking() {
  const bench = useBench();
  const made = shallowRef<Made[]>([]);
  const done = ref(0);
  const total = ref(0);
  const trouble = ref("");
  let round = 0;
  const isBusy = computed(() => done.value < total.value);

  const ofOne = (body: Schemas["MakeIn"]) =>
    ask(client.POST("/api/sites/{slug}/made", { params: { path: { slug: bench.slug } }, body }));

  async function run(bodies: Schemas["MakeIn"][]): Promise<void> {
    const mine = ++round;
    made.value = [];
    trouble.value = "";
    done.value = 0;
    total.value = bodies.length;
    for (const body of bodies) {
      try {
        const one = await ofOne(body);
        if (mine !== round) return;
        // where a given colour keeps something from reading, a direction is no choice beside those that read
        const isWorth = !one.is_blocked || !made.value.some((other) => !other.is_blocked);
        if (isWorth && made.value.every((other) => isApart(one, other)))
          made.value = [...made.value.filter((other) => one.is_blocked || !other.is_blocked), one];
      } catch (refusal) {
        if (mine !== round) return;
        trouble.value = refusal instanceof Error ? refusal.message : String(refusal);
        total.value = done.value;
        return;
      }
      done.value++;
    }
  }

  function stop(): void {
    round++;
    total.value = done.value;
  }

  return { made, done, total, trouble, isBusy, run, stop };
}

/** Whether two palettes differ in a good part of their roles: the same twice is no choice. */
function isApart(one: Made, other: Made): boolean {
  const names = Object.keys(one.values);
  const same = names.filter((name) => one.values[name] === other.values[name]).length;
  return same < names.length * 0.6;
}
