import type { Schemas } from "@/api/client";

type Change = Pick<Schemas["FixOut"], "there">;
type There = Schemas["ThereIn"];

/** What the changes of single places give each: the place itself, and the boxes in it that keep their colour. */
export function placesOf(changes: readonly Change[]): There[] {
  return changes.flatMap(({ there }) => (there ? [{ place: there.place, values: there.values }, ...there.kept] : []));
}
