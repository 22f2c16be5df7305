import { defineStore } from "pinia";
import { computed, ref, shallowRef } from "vue";
import client, {
  ask,
  Refusal,
  type Page,
  type Reading,
  type Revision,
  type Role,
  type Schemas,
  type Site,
} from "@/api/client";
import { atOpacity } from "@/logic/colour";

export type Saving = "saved" | "saving" | "unsaved";
export type Values = Record<string, string>;

/** The screens pages are shown at: what each is called, its size, and the least a miniature of it needs (CSS pixels). */
export const WIDTHS = {
  wide: { label: "Wide", width: 1280, height: 860, cell: 260 },
  tablet: { label: "Tablet", width: 768, height: 900, cell: 180 },
  phone: { label: "Phone", width: 390, height: 780, cell: 130 },
} as const;
export const STATES = { rest: "At rest", hover: "Pointed at", focus: "Focused" } as const;

const READ_EVERY = 300; // ms between two readings while a colour is drawn

/** One site's colours: the revision stood on, what the hand is changing, what is on its way to the server. */
export const useBench = defineStore("bench", () => {
  const site = shallowRef<Site | null>(null);
  const revision = shallowRef<Revision | null>(null);
  const draft = ref<Values>({});
  const draftReading = shallowRef<Reading | null>(null);
  /** The role open in the tray. */
  const open = ref<string | null>(null);
  /** Whether the next spot chosen on a page gives the open role its colour. */
  const isPicking = ref(false);
  const width = ref<keyof typeof WIDTHS>("wide");
  const state = ref<keyof typeof STATES>("rest");
  const saving = ref<Saving>("saved");
  /** Why something could not be saved; it stays in the draft and can be sent again. */
  const trouble = ref("");
  /** What could not be written because another window wrote first. */
  const stale = shallowRef<Values | null>(null);

  const slug = computed(() => site.value?.slug ?? "");
  const roles = computed<Role[]>(() => revision.value?.roles ?? []);
  const roleByName = computed(() => new Map(roles.value.map((role) => [role.name, role])));
  /** The role whose places the pages show, all else faded. */
  const lit = ref<string | null>(null);
  const litProperties = computed(() => Object.keys(roleByName.value.get(lit.value ?? "")?.properties ?? {}));
  const pages = computed<Page[]>(() => site.value?.pages ?? []);
  const reading = computed<Reading | null>(() => draftReading.value ?? revision.value?.reading ?? null);
  const canUndo = computed(() => !!revision.value?.can_undo && saving.value === "saved");
  const canRedo = computed(() => !!revision.value?.can_redo && saving.value === "saved");

  /** Every custom property of the palette: its value, or null where the pages keep their own colour. */
  const wear = computed(() => {
    const worn: Record<string, string | null> = {};
    for (const role of roles.value) {
      const tied = role.tie ? draftReading.value?.tied[role.name] : undefined;
      const value = draft.value[role.name] ?? tied ?? (role.changed ? role.value : null);
      for (const [property, opacity] of Object.entries(role.properties))
        worn[property] = value === null ? null : atOpacity(value, opacity);
    }
    return worn;
  });

  function colourOf(name: string): string {
    const role = roleByName.value.get(name);
    const tied = role?.tie ? draftReading.value?.tied[name] : undefined;
    return draft.value[name] ?? tied ?? role?.value ?? "#000000";
  }

  async function load(name: string): Promise<void> {
    $reset();
    const [gotSite, gotRevision] = await Promise.all([
      ask(client.GET("/api/sites/{slug}", { params: { path: { slug: name } } })),
      ask(client.GET("/api/sites/{slug}/study", { params: { path: { slug: name } } })),
    ]);
    site.value = gotSite;
    take(gotRevision);
  }

  function take(newer: Revision): void {
    const isMapped = revision.value !== null && revision.value.mapping !== newer.mapping;
    revision.value = newer;
    draftReading.value = null;
    if (isMapped) void refetchSite();
  }

  /** Previews carry the mapping of tokens to roles: another mapping has other previews. */
  async function refetchSite(): Promise<void> {
    try {
      site.value = await ask(client.GET("/api/sites/{slug}", { params: { path: { slug: slug.value } } }));
    } catch {
      trouble.value = "The pages could not be fetched anew; load this page again to see the change on them.";
    }
  }

  let isWanted = false;
  let isBusy = false;

  /** Shows a colour at once, unsaved; the reading follows with the latest value only. */
  function show(name: string, value: string): void {
    draft.value = { ...draft.value, [name]: value };
    void follow();
  }

  async function follow(): Promise<void> {
    isWanted = true;
    if (isBusy) return;
    isBusy = true;
    try {
      while (isWanted && Object.keys(draft.value).length) {
        isWanted = false;
        const values = { ...draft.value };
        const read = await ask(
          client.POST("/api/sites/{slug}/reading", {
            params: { path: { slug: slug.value } },
            body: { values, role: open.value },
          }),
        );
        if (Object.keys(draft.value).length) draftReading.value = read;
        // while the hand moves the pages come first; the last value is read in any case
        await new Promise((resolve) => setTimeout(resolve, READ_EVERY));
      }
    } catch {
      // a reading that did not come is made up for by the next one
    } finally {
      isBusy = false;
    }
  }

  function drop(name: string): void {
    const rest = { ...draft.value };
    delete rest[name];
    draft.value = rest;
    if (!Object.keys(rest).length) draftReading.value = null;
  }

  /** Shows colours for several roles at once, unsaved. */
  function showAll(values: Values): void {
    draft.value = { ...draft.value, ...values };
    void follow();
  }

  let queue: Promise<unknown> = Promise.resolve();

  /** Runs writes one after the other, each from the revision the one before made. */
  function write(step: (base: number) => Promise<Revision>, keep: Values = {}): Promise<boolean> {
    saving.value = "saving";
    const run = queue.then(async () => {
      try {
        take(await step(revision.value!.number));
        forget(keep);
        saving.value = "saved";
        trouble.value = "";
        return true;
      } catch (refusal) {
        fail(refusal, keep);
        return false;
      }
    });
    queue = run;
    return run;
  }

  function forget(written: Values): void {
    draft.value = Object.fromEntries(Object.entries(draft.value).filter(([name, value]) => written[name] !== value));
  }

  function fail(refusal: unknown, keep: Values): void {
    saving.value = "unsaved";
    if (refusal instanceof Refusal && refusal.code === "stale") stale.value = keep;
    else trouble.value = refusal instanceof Error ? refusal.message : String(refusal);
  }

  /** Saves colours as the study's next revision. */
  function save(values: Values, merge = false): Promise<boolean> {
    draft.value = { ...draft.value, ...values };
    return write(
      (base) =>
        ask(
          client.POST("/api/sites/{slug}/study", {
            params: { path: { slug: slug.value } },
            body: { base, values, take: merge },
          }),
        ),
      values,
    );
  }

  /** Moves colours or places to another role, to none, or to a new one. */
  const moveColours = (move: Omit<Schemas["MoveIn"], "base">) =>
    write((base) =>
      ask(
        client.POST("/api/sites/{slug}/mapping", { params: { path: { slug: slug.value } }, body: { ...move, base } }),
      ),
    );

  const NO_CHANGE = { role: "", label: "", value: "", is_answered: false, locked: false, aim: "AA" } as const;

  /** Adds, renames, orders, ties, locks or removes a role. */
  const changeRole = (change: Pick<Schemas["RoleIn"], "what"> & Partial<Omit<Schemas["RoleIn"], "base" | "what">>) =>
    write((base) =>
      ask(
        client.POST("/api/sites/{slug}/roles", {
          params: { path: { slug: slug.value } },
          body: { ...NO_CHANGE, order: [], ...change, base },
        }),
      ),
    );

  /** Puts the chosen places into another colour. */
  const swapColour = (keys: string[], to: string) =>
    write((base) =>
      ask(client.POST("/api/sites/{slug}/swap", { params: { path: { slug: slug.value } }, body: { base, keys, to } })),
    );

  /** Takes the palette proposed within a distance. */
  const takeProposal = (within: number | null, isTaken: boolean) =>
    write((base) =>
      ask(
        client.POST("/api/sites/{slug}/proposal", {
          params: { path: { slug: slug.value } },
          body: { base, within, take: isTaken },
        }),
      ),
    );

  const move = (way: "undo" | "redo") =>
    write((base) =>
      ask(client.POST(`/api/sites/{slug}/${way}`, { params: { path: { slug: slug.value } }, body: { base } })),
    );
  const undo = () => (canUndo.value ? move("undo") : Promise.resolve(false));
  const redo = () => (canRedo.value ? move("redo") : Promise.resolve(false));

  /** After another window wrote first: keep what is here on top of it, or let it go. */
  async function settle(way: "keep" | "newer"): Promise<void> {
    const mine = stale.value ?? {};
    take(await ask(client.GET("/api/sites/{slug}/study", { params: { path: { slug: slug.value } } })));
    stale.value = null;
    if (way === "keep" && Object.keys(mine).length) await save(mine);
    else {
      draft.value = {};
      saving.value = "saved";
    }
  }

  /** Sends again what could not be saved. */
  async function retry(): Promise<void> {
    if (Object.keys(draft.value).length) await save({ ...draft.value });
    else await load(slug.value);
  }

  function $reset(): void {
    site.value = revision.value = draftReading.value = stale.value = open.value = null;
    draft.value = {};
    saving.value = "saved";
    trouble.value = "";
  }

  return {
    site, revision, draft, draftReading, lit, litProperties, isPicking, open, width, state, saving, trouble, stale, slug, roles, pages, reading, roleByName, canUndo, canRedo, wear,
    colourOf, load, take, show, showAll, drop, save, moveColours, changeRole, swapColour, takeProposal, undo, redo, settle, retry, $reset,
  }; // prettier-ignore
});
