import { computed, ref, shallowRef } from "vue";
import { type Answer, type Search, sentence } from "@/api/client";
import { differenceOk } from "@/logic/colour";
import { useSite } from "@/stores/site";
import { useStudy } from "@/stores/study";

export type Made = Answer<"palette">;
/** What a palette is to be made from. */
export type Wanted = Partial<Omit<Search<"palette">, "search">>;

/** A colour to make a palette from, and the role it is wanted on, if any. */
export interface Given {
  hex: string;
  role: string;
}

const APART = 0.08;
const HOVERED_MS = 250; // ms of hovering before it counts
const CHOICE = 3; // directions that are choice enough

/** Makes palettes one direction after the other, so that progress is seen and it can be stopped at any of them. */
export function useMaking() {
  const site = useSite();
  const study = useStudy();
  const made = shallowRef<Made[]>([]);
  const done = ref(0);
  const total = ref(0);
  const trouble = ref("");
  let round = 0;
  let ending = new AbortController();
  const isBusy = computed(() => done.value < total.value);

  const ofOne = (wanted: Wanted, signal: AbortSignal) =>
    study.find({ search: "palette", colours: [], places: {}, direction: 0, ...wanted }, signal);

  async function run(wanted: Wanted[]): Promise<void> {
    const mine = ++round;
    ending.abort();
    ending = new AbortController();
    made.value = [];
    const every: Made[] = [];
    trouble.value = "";
    done.value = 0;
    total.value = wanted.length;
    for (const each of wanted) {
      try {
        const one = await ofOne(each, ending.signal);
        if (mine !== round) return;
        every.push(one);
        // where no given colour has a place, a direction comes last, and not where there is choice enough without
        made.value = choiceOf(every)
          .sort((a, b) => Number(a.is_blocked) - Number(b.is_blocked))
          .filter((other, place) => !other.is_blocked || place < CHOICE);
      } catch (refusal) {
        if (mine !== round) return;
        trouble.value = sentence(refusal);
        total.value = done.value;
        return;
      }
      done.value++;
    }
  }

  function stop(): void {
    round++;
    ending.abort();
    total.value = done.value;
  }

  /** A ready start that is hovered, on this site, shown until it is left; each is made once. */
  const peeked = shallowRef<Made | null>(null);
  const known = new Map<string, Made>();
  let hovered = "";
  let waiting: ReturnType<typeof setTimeout> | undefined;
  let looking = new AbortController();

  function peek(name: string): void {
    leave();
    hovered = name;
    waiting = setTimeout(() => void look(name), HOVERED_MS);
  }
  async function look(name: string): Promise<void> {
    const key = `${site.slug} ${name}`;
    looking = new AbortController();
    try {
      const found = known.get(key) ?? (await ofOne({ starting: name }, looking.signal));
      known.set(key, found);
      if (hovered === name) peeked.value = found;
    } catch {
      // it was left before it was made, or cannot be: a click says why
    }
  }
  function leave(): void {
    clearTimeout(waiting);
    looking.abort();
    hovered = "";
    peeked.value = null;
  }

  return { made, done, total, trouble, isBusy, run, stop, peeked, peek, leave };
}

/** Whether two palettes differ enough to be a choice: ΔE OK on average over the roles. */
function isApart(one: Made, other: Made): boolean {
  const names = Object.keys(one.values).filter((name) => name in other.values);
  const sum = names.reduce((so, name) => so + differenceOk(one.values[name]!, other.values[name]!), 0);
  return sum >= APART * names.length;
}

/** Those that differ enough from each other, the first first; without the first ones where it is more then. */
function choiceOf(every: Made[]): Made[] {
  let best: Made[] = [];
  for (let first = 0; first < every.length && best.length < CHOICE; first++) {
    const kept: Made[] = [];
    for (const one of every.slice(first)) if (kept.every((other) => isApart(one, other))) kept.push(one);
    if (kept.length > best.length) best = kept;
  }
  return best;
}
