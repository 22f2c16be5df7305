import type { Act, Schemas, Where } from "@/api/client";

/** Acts with what is left out of them most of the time; the others are written where they are done. */
export type Values = Record<string, string>;

/** Gives roles other colours; with `merge` all that is merged with them takes them too. */
export const paint = (values: Values, merge = false): Act[] =>
  Object.entries(values).map(([role, value]) => ({ act: "set-colour", role, value, merge }));

/** Gives places a coat and values of their own; null takes it off. */
export const wear = (places: Where[], coat: string | null, set: Values = {}): Act => ({
  act: "wear",
  places,
  coat,
  by_turns: [],
  set,
});

/** Places wear several coats one after the other. */
export const wearByTurns = (places: Where[], coats: string[]): Act => ({
  act: "wear",
  places,
  coat: null,
  by_turns: coats,
  set: {},
});

/** Places take the colours of a section from now on. */
export const wearLike = (places: Where[], section: string): Act => ({ act: "wear-like", places, like: { section } });

export const addCoat = (called: string, background: string, like: string | null = null): Act => ({
  act: "add-coat",
  called,
  background,
  like,
});

/** Moves colours of a role, or single places by key, to another role, to none, or to a new one. */
export const moveColours = (
  what: { colours?: string[]; fromRole?: string | null; keys?: string[] },
  to: string | null,
  newLabel: string,
  newState: Schemas["MoveColours"]["new_state"] = "rest",
): Act => ({
  act: "move-colours",
  colours: what.colours ?? [],
  from_role: what.fromRole ?? null,
  keys: what.keys ?? [],
  to,
  new_label: newLabel,
  new_state: newState,
});
