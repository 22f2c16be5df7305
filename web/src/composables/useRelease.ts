import { computed, inject, ref, shallowRef } from "vue";
import client, { ask, type Plan, type Schemas, sentence } from "@/api/client";
import { LOOKED_AT } from "@/logic/keys";
import { useSite } from "@/stores/site";
import { useStudy } from "@/stores/study";

/** What goes with a release beside its colours, as its owner is putting it together. */
export interface Going {
  name: string;
  /** When it goes live, as a form has it ("2026-12-03T09:00"); empty: now. */
  due: string;
  reasons: Record<string, string>;
  reason: string;
  withStatement: boolean;
}

const nothing = (): Going => ({ name: "", due: "", reasons: {}, reason: "", withStatement: false });

/** The plan of a release, and the steps of it: release now or later, go back, name, call off. */
export function useRelease() {
  const site = useSite();
  const study = useStudy();
  const plan = shallowRef<Plan | null>(null);
  const going = ref<Going>(nothing());
  const trouble = ref("");
  const said = ref("");
  const isBusy = ref(false);
  const isWaiting = ref(false);
  const path = computed(() => ({ params: { path: { slug: site.slug } } }));
  const ofNumber = (number: number) => ({ params: { path: { slug: site.slug, number } } });

  async function run(step: () => Promise<Plan>, what: string): Promise<boolean> {
    isBusy.value = true;
    trouble.value = "";
    try {
      plan.value = await step();
      said.value = what;
      going.value.reasons = { ...plan.value.reasons, ...going.value.reasons };
      study.take(await ask(client.GET("/api/sites/{slug}/study", path.value)));
      return true;
    } catch (refusal) {
      trouble.value = sentence(refusal);
      return false;
    } finally {
      isBusy.value = false;
    }
  }

  /** The release that was live when the plan was made. */
  const seen = () => plan.value?.live_number ?? null;
  /** The plan of what is there once all that was pressed before is done. */
  const refresh = () =>
    run(async () => {
      await study.written();
      return ask(client.GET("/api/sites/{slug}/release", path.value));
    }, "");
  const isOfNow = () => JSON.stringify(study.revision?.base) === JSON.stringify(plan.value?.base);

  const lookedAt = inject(LOOKED_AT, () => Promise.resolve());
  let waiting = new AbortController();
  /** Releases once the pages have been looked at: what is said of them is then known. */
  async function release(): Promise<void> {
    waiting = new AbortController();
    isWaiting.value = true;
    await study.written();
    await lookedAt(waiting.signal);
    if (!isOfNow()) await refresh();
    isWaiting.value = false;
    if (isOfNow()) await releaseNow();
  }

  async function releaseNow(): Promise<void> {
    const { name, due, reasons, reason, withStatement } = going.value;
    const body = {
      base: plan.value!.base,
      live_number: seen(),
      name,
      due: due ? new Date(due).toISOString() : null,
      reasons: Object.fromEntries(Object.entries(reasons).filter(([, why]) => why.trim())),
      reason,
      with_statement: withStatement,
    };
    const step = () => ask(client.POST("/api/sites/{slug}/release", { ...path.value, body }));
    if (await run(step, due ? "It waits for its time." : "It is live.")) going.value = nothing();
  }

  const takeBack = (number: number) =>
    run(
      () =>
        ask(
          client.POST("/api/sites/{slug}/releases/{number}/live", {
            ...ofNumber(number),
            body: { live_number: seen() },
          }),
        ),
      number ? "The earlier release is live again." : "The original site is live.",
    );
  const rename = (number: number, name: string) =>
    run(
      () => ask(client.POST("/api/sites/{slug}/releases/{number}/name", { ...ofNumber(number), body: { name } })),
      "",
    );
  const callOff = (number: number) =>
    run(() => ask(client.DELETE("/api/sites/{slug}/releases/{number}", ofNumber(number))), "It does not go live.");

  /** What changed from one release to another; null: to the open study. */
  const compared = shallowRef<Schemas["ReleasesComparedOut"] | null>(null);
  async function compare(one: number, other: number | null): Promise<void> {
    compared.value = null;
    trouble.value = "";
    const params = { path: { slug: site.slug }, query: { one, ...(other === null ? {} : { other }) } };
    try {
      compared.value = await ask(client.GET("/api/sites/{slug}/release/compare", { params }));
    } catch (refusal) {
      trouble.value = sentence(refusal);
    }
  }

  return {
    plan, going, trouble, said, isBusy, isWaiting, compared,
    refresh, isOfNow, release, takeBack, rename, callOff, compare,
    stopWaiting: () => waiting.abort(),
  }; // prettier-ignore
}
