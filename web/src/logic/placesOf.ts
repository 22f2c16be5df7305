import type { Schemas } from "@/api/client";

type Change = Pick<Schemas["ChangeTold"], "there">;
type There = Schemas["PlaceValues"];

/** What the changes of single places give each: the place itself, and what belongs to the same change. */
export function placesOf(changes: readonly Change[]): There[] {
  return changes.flatMap(({ there }) => (there ? [{ place: there.place, values: there.values }, ...there.beside] : []));
}
