import { inject, shallowRef, watch, type Ref } from "vue";
import client, { ask, type Base, type Schemas } from "@/api/client";
import { PAINTER } from "@/logic/keys";
import { useSite } from "@/stores/site";
import { useStudy } from "@/stores/study";

type Worst = Schemas["WorstOut"];
type Answer = (found: Worst | null) => void;

const GATHERED_MS = 60; // findings that come into sight together are asked about together
const AT_ONCE = 12;

/** Questions of one revision of one site that wait to be asked together. */
let waiting = new Map<string, Answer[]>();
let asking: Promise<void> = Promise.resolve();

async function askFor(slug: string, base: Base, some: Map<string, Answer[]>): Promise<void> {
  const keys = [...some.keys()];
  for (let start = 0; start < keys.length; start += AT_ONCE) {
    const body = { base, keys: keys.slice(start, start + AT_ONCE) };
    const found = await ask(client.POST("/api/sites/{slug}/layout/worst", { params: { path: { slug } }, body })).catch(
      () => [] as Worst[],
    );
    for (const key of body.keys)
      for (const answer of some.get(key)!) answer(found.find((one) => one.key === key) ?? null);
  }
}

/** Where a finding is hardest to read, asked once it is in sight and again when the colours or the reading change. */
export function useWorstSpot(key: Ref<string>, inSight: Ref<boolean>) {
  const site = useSite();
  const study = useStudy();
  const painter = inject(PAINTER);
  const found = shallowRef<Worst | null>(null);
  let asked: unknown = null;

  watch(
    () => [inSight.value, key.value, study.revision] as const,
    async ([isSeen, name, revision]) => {
      if (!isSeen || !revision || (asked === revision && found.value?.key === name)) return;
      asked = revision;
      await painter?.settled();
      if (asked !== revision) return;
      const mine: Answer = (answer) => {
        if (asked === revision && key.value === name) found.value = answer;
      };
      if (!waiting.size) {
        const slug = site.slug;
        const base = revision.base;
        setTimeout(() => {
          const some = waiting;
          waiting = new Map();
          asking = asking.then(() => askFor(slug, base, some));
        }, GATHERED_MS);
      }
      waiting.set(name, [...(waiting.get(name) ?? []), mine]);
    },
    { immediate: true },
  );
  return found;
}
