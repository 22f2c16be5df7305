import { defineStore } from "pinia";
import { computed, ref, shallowRef } from "vue";
import client, {
  ask,
  sentence,
  Refusal,
  type Act,
  type Answer,
  type Base,
  type Coat,
  type Reading,
  type Revision,
  type Role,
  type Search,
  type SearchName,
} from "@/api/client";
import { paint, type Values } from "@/logic/acts";
import { asProperty } from "@/logic/colour";
import { useSite } from "@/stores/site";
import { useView } from "@/stores/view";

export type Saving = "saved" | "saving" | "unsaved";

const NOWHERE: Base = { study: 0, revision: 0 };
const READ_EVERY = 300; // ms between two readings while a colour is drawn

/** One site's colours: the revision stood on, what the hand is changing, what is on its way to the server. */
export const useStudy = defineStore("study", () => {
  const site = useSite();
  const view = useView();
  const revision = shallowRef<Revision | null>(null);
  const draft = ref<Values>({});
  const draftReading = shallowRef<Reading | null>(null);
  const saving = ref<Saving>("saved");
  /** The rules that show what is drawn for a place, until it is saved; null: none is. */
  const thereCss = ref<string | null>(null);
  /** Colours of single places that are tried out, by custom property: parts that fixing would set apart. */
  const tried = shallowRef<Values>({});
  /** Rules that are tried out on top of all others: what places alone would wear. */
  const triedCss = ref("");
  /** Acts that are tried out, for the reading: they stand in for what is drawn. */
  const triedActs = shallowRef<Act[]>([]);
  /** CSS of the owner's own that is being typed and is not saved yet. */
  const typedCss = ref<string | null>(null);
  /** Why something could not be saved; it stays in the draft and can be sent again. */
  const trouble = ref("");
  /** What could not be written because another window wrote first. */
  const stale = shallowRef<Values | null>(null);

  const roles = computed<Role[]>(() => revision.value?.roles ?? []);
  const coats = computed<Coat[]>(() => revision.value?.coats ?? []);
  const roleById = computed(() => new Map(roles.value.map((role) => [role.id, role])));
  const litProperties = computed(
    () => roleById.value.get(view.lit ?? "")?.properties.map((property) => property.name) ?? [],
  );
  const reading = computed<Reading | null>(() => draftReading.value ?? revision.value?.reading ?? null);
  const canUndo = computed(() => !!revision.value?.can_undo && saving.value === "saved");
  const canRedo = computed(() => !!revision.value?.can_redo && saving.value === "saved");

  function shownOf(role: Role): string | null {
    const tied = role.tie ? draftReading.value?.tied[role.id] : undefined;
    const follows = tied !== undefined && tied !== role.found ? tied : undefined;
    return draft.value[role.id] ?? follows ?? (role.changed ? role.value : null);
  }

  /** Every custom property of the palette: its value, or null where the pages keep their own colour; added rules. */
  const wear = computed(() => {
    const saved = thereCss.value ?? revision.value?.extra_css;
    // what is typed comes after what is saved of it: the same rules win, and those taken out wait for the save
    const added = [saved, typedCss.value, triedCss.value].filter(Boolean).join("\n");
    const worn: Record<string, string | null> = { ...(added ? { css: added } : {}), ...tried.value };
    for (const role of roles.value) {
      const value = shownOf(role);
      for (const property of role.properties) worn[property.name] = value === null ? null : asProperty(value, property);
    }
    return worn;
  });

  const colourOf = (id: string): string => {
    const role = roleById.value.get(id);
    return role ? (shownOf(role) ?? role.value) : "#000000";
  };

  function fetchBoth(name: string) {
    const asked = {
      name,
      site: site.fetchSite(name),
      revision: ask(client.GET("/api/sites/{slug}/study", { params: { path: { slug: name } } })),
    };
    for (const one of [asked.site, asked.revision]) one.catch(() => {}); // whoever loads it is told
    return asked;
  }
  let ahead: ReturnType<typeof fetchBoth> | null = null;

  /** Asks for a site while the screens for it are still being made. */
  function fetchAhead(name: string): void {
    ahead = fetchBoth(name);
  }

  /** Loads a site, then the study open on it: its pages can be framed in between. */
  async function load(name: string): Promise<void> {
    $reset();
    const mine = site.visit;
    const early = ahead?.name === name ? ahead : fetchBoth(name);
    ahead = null;
    // asked too early, before somebody was signed in, both are asked again
    const both = await early.site.then(
      () => early,
      () => fetchBoth(name),
    );
    const gotSite = await both.site;
    if (mine !== site.visit) return;
    site.site = gotSite;
    const gotRevision = await both.revision;
    if (mine !== site.visit) return;
    line = { slug: gotSite.slug, base: gotRevision.base, last: Promise.resolve() };
    take(gotRevision);
  }

  function take(newer: Revision): void {
    const isMapped = revision.value !== null && revision.value.mapping !== newer.mapping;
    revision.value = newer;
    line.base = newer.base;
    draftReading.value = thereCss.value = typedCss.value = null;
    tried.value = {};
    triedCss.value = "";
    triedActs.value = [];
    if (isMapped)
      site.refetch().catch(() => {
        trouble.value = "The pages could not be loaded again. Reload this page to see the change on them.";
      });
  }

  let isWanted = false;
  /** What is tried has not been read yet: the counts are of what was there before. */
  const isReading = ref(false);

  /** Shows a colour at once, unsaved; the reading follows with the latest value only. */
  function show(id: string, value: string): void {
    draft.value = { ...draft.value, [id]: value };
    void follow();
  }

  async function follow(): Promise<void> {
    isWanted = true;
    if (isReading.value) return;
    isReading.value = true;
    try {
      while (isWanted && isTrying()) {
        isWanted = false;
        await readDraft();
        // while the hand moves the pages come first; the last value is read in any case
        await new Promise((resolve) => setTimeout(resolve, READ_EVERY));
      }
    } catch {
      // a reading that did not come is made up for by the next one
    } finally {
      isReading.value = false;
    }
  }

  const isTrying = () => Object.keys(draft.value).length > 0 || triedActs.value.length > 0;

  async function readDraft(): Promise<void> {
    const mine = site.visit;
    const read = await ask(
      client.POST("/api/sites/{slug}/reading", {
        params: { path: { slug: site.slug } },
        body: { base: line.base, acts: triedActs.value.length ? triedActs.value : paint(draft.value), role: view.open },
      }),
    );
    if (mine === site.visit && isTrying()) draftReading.value = read;
  }

  function drop(id: string): void {
    const rest = { ...draft.value };
    delete rest[id];
    draft.value = rest;
    if (!isTrying()) draftReading.value = null;
  }

  /** Tries acts, for the reading; none: nothing but what is drawn. */
  function tryActs(...acts: Act[]): void {
    triedActs.value = acts;
    if (isTrying()) void follow();
    else draftReading.value = null;
  }

  /** Shows colours for several roles at once, unsaved. */
  function showAll(values: Values): void {
    draft.value = { ...draft.value, ...values };
    void follow();
  }

  /** The writes of one visit: whose site, and the newest revision that was written or fetched. */
  let line = { slug: "", base: NOWHERE, last: Promise.resolve() as Promise<unknown> };

  /**
   * Runs writes one after the other, each from the revision the one before made. What was asked for on a site is
   * written to that site, even if another one has been opened meanwhile; only then nothing of it is shown any more.
   */
  function write(step: (slug: string, base: Base) => Promise<Revision>, keep: Values = {}): Promise<boolean> {
    const mine = site.visit;
    const own = line;
    saving.value = "saving";
    const run = own.last.then(async () => {
      try {
        const newer = await step(own.slug, own.base);
        own.base = newer.base;
        if (mine !== site.visit) return true;
        take(newer);
        forget(keep);
        saving.value = "saved";
        trouble.value = "";
        return true;
      } catch (refusal) {
        if (mine === site.visit) fail(refusal, keep);
        return false;
      }
    });
    own.last = run;
    return run;
  }

  function forget(written: Values): void {
    draft.value = Object.fromEntries(Object.entries(draft.value).filter(([id, value]) => written[id] !== value));
  }

  function fail(refusal: unknown, keep: Values): void {
    saving.value = "unsaved";
    if (refusal instanceof Refusal && refusal.code === "stale") stale.value = keep;
    else trouble.value = sentence(refusal);
  }

  const on = (slug: string) => ({ params: { path: { slug } } });

  /** Does some acts as one step. */
  const act = (...acts: Act[]): Promise<boolean> => doing(acts);
  const doing = (acts: Act[], keep: Values = {}): Promise<boolean> =>
    write((slug, base) => ask(client.POST("/api/sites/{slug}/acts", { ...on(slug), body: { base, acts } })), keep);

  /** All that was to be written has been, or was refused. */
  const written = (): Promise<unknown> => line.last;

  /** Asks a search about the revision stood on, once what was to be written before it is through. */
  async function find<Name extends SearchName>(
    asked: { search: Name } & Search<Name>,
    signal?: AbortSignal,
    tell?: (ahead: number) => void,
  ): Promise<Answer<Name>> {
    const own = line;
    await own.last;
    const body = { ...asked, base: own.base } as never;
    const answer = ask(client.POST("/api/sites/{slug}/searches", { ...on(own.slug), body }), signal, tell);
    return answer as Promise<Answer<Name>>;
  }

  /** Saves colours as the study's next revision; what is drawn stays until it is through. */
  function save(values: Values, merge = false): Promise<boolean> {
    draft.value = { ...draft.value, ...values };
    return doing(paint(values, merge), values);
  }

  let toShow: Act | null = null;
  let isShowing = false;

  /** Shows what an act would show at once, unsaved: the newest only, one question at a time. Null: as saved. */
  async function showAct(wanted: Act | null): Promise<void> {
    toShow = wanted;
    if (!wanted) thereCss.value = null;
    if (isShowing) return;
    isShowing = true;
    const mine = site.visit;
    try {
      while (toShow && mine === site.visit) {
        const acts = [toShow];
        toShow = null;
        const { css } = await find({ search: "show", acts });
        if (mine === site.visit && saving.value !== "saving") thereCss.value = css;
      }
    } catch {
      // what is drawn next is asked for again; what is saved says what was wrong
    } finally {
      isShowing = false;
    }
  }

  /** Shows the rules of a backdrop that is tried out; null: as saved. */
  function showBackdrop(css: string | null): void {
    thereCss.value = css;
  }

  /** Shows CSS of the owner's own as it is typed; null: as saved. */
  function showOwnCss(css: string | null): void {
    typedCss.value = css;
  }

  const move = (way: "undo" | "redo") =>
    write((slug, base) => ask(client.POST(`/api/sites/{slug}/${way}`, { ...on(slug), body: { base } })));
  const undo = () => (canUndo.value ? move("undo") : Promise.resolve(false));
  const redo = () => (canRedo.value ? move("redo") : Promise.resolve(false));

  /** After another window wrote first: keep what is here on top of it, or let it go. */
  async function settle(way: "keep" | "newer"): Promise<void> {
    const mine = stale.value ?? {};
    const visit = site.visit;
    const newer = await ask(client.GET("/api/sites/{slug}/study", on(site.slug)));
    if (visit !== site.visit) return;
    take(newer);
    stale.value = null;
    if (way === "keep" && Object.keys(mine).length) await save(mine);
    else {
      draft.value = {};
      saving.value = "saved";
    }
  }

  /** Reads the study again where the site is read otherwise now; what the hand is changing stays. */
  async function readAgain(): Promise<void> {
    const visit = site.visit;
    const newer = await ask(client.GET("/api/sites/{slug}/study", on(site.slug)));
    if (visit !== site.visit || newer.base.study !== line.base.study || newer.base.revision !== line.base.revision)
      return;
    revision.value = newer;
    if (Object.keys(draft.value).length) void follow();
  }

  /** Takes the site as it is read now that its scripts have run; what is chosen and asked for meanwhile stays. */
  function takeAnew(): Promise<void> {
    const visit = site.visit;
    const own = line;
    const run = own.last.then(async () => {
      const newer = await ask(client.GET("/api/sites/{slug}/study", on(own.slug)));
      if (visit !== site.visit) return;
      const isMapped = revision.value?.mapping !== newer.mapping;
      take(newer); // which fetches the site, where it is mapped otherwise
      if (!isMapped) await site.refetch();
      const isThere = (id: string | null) => id === null || roleById.value.has(id);
      if (!isThere(view.open)) view.open = null;
      if (!isThere(view.lit)) view.lit = null;
    });
    own.last = run.catch(() => {});
    return run;
  }

  /** Sends again what could not be saved. */
  async function retry(): Promise<void> {
    if (Object.keys(draft.value).length) await save({ ...draft.value });
    else await load(site.slug);
  }

  /** Leaves the site: nothing of it stays, and what is still on its way is not shown. */
  function $reset(): void {
    revision.value = draftReading.value = stale.value = null;
    draft.value = tried.value = {};
    triedCss.value = "";
    saving.value = "saved";
    trouble.value = "";
    isWanted = false;
    toShow = null;
    thereCss.value = typedCss.value = null;
    line = { slug: "", base: NOWHERE, last: Promise.resolve() };
    view.$reset();
    site.$reset();
  }

  return {
    revision, draft, tried, triedCss, tryActs, draftReading, isReading, litProperties, saving, trouble, stale, roles, coats, reading, roleById, canUndo, canRedo, wear,
    colourOf, fetchAhead, load, take, show, showAll, drop, save, act, written, find, showAct, showBackdrop, showOwnCss, undo, redo, settle, readAgain, takeAnew, retry, $reset,
  }; // prettier-ignore
});
