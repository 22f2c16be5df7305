import type { Coat, Role } from "@/api/client";

/** A tile of the rail: a role at rest with the states that belong to it. */
export interface Tile {
  role: Role;
  states: Role[];
}

/** A coat's tile: its background, what is written on it, and all its roles. */
export interface CoatTile {
  coat: Coat;
  background: Role;
  text: Role | null;
  tiles: Tile[];
}

export interface Rail {
  site: Tile[];
  coats: CoatTile[];
  details: Tile[];
}

/** In the order they are shown; the trade's words. */
export const STATE_ORDER = ["rest", "hover", "focus", "active", "visited", "current", "disabled"] as const;

/** Whether text wears a role. */
export const isText = (role: Role) => role.look === "text";

/** What a role is drawn as on a tile. */
export const lookOf = (role: Role): "background" | "text" | "line" => (role.look === "other" ? "line" : role.look);

/** The roles of one group as tiles: each at rest, its states with it; a state of nothing shown is a tile of its own. */
export function tilesOf(roles: Role[]): Tile[] {
  const rest = roles.filter((role) => role.state === "rest");
  const tiles: Tile[] = rest.map((role) => ({ role, states: [] }));
  for (const role of roles) {
    if (role.state === "rest") continue;
    const home = tiles.find((tile) => tile.role.id === role.rest);
    if (home) home.states.push(role);
    else tiles.push({ role, states: [] });
  }
  for (const tile of tiles) tile.states.sort((one, other) => order(one) - order(other));
  return tiles;
}

const order = (role: Role) => STATE_ORDER.indexOf(role.state);

/** The rail: the site's own short palette, its coats, and what is folded. What no page shows is nowhere on it. */
export function railOf(roles: Role[], coats: Coat[]): Rail {
  const shown = roles.filter((role) => role.tier === "main");
  const of = (coat: string) => shown.filter((role) => role.coat === coat);
  const coatTiles = coats.flatMap((coat) => {
    const own = of(coat.id);
    const background = own.find((role) => role.kind === "background" && role.state === "rest");
    if (!background) return [];
    const text = own.find((role) => isText(role) && role.state === "rest") ?? null;
    return [{ coat, background, text, tiles: tilesOf(own) }];
  });
  const inCoats = new Set(coatTiles.map((tile) => tile.coat.id));
  return {
    site: tilesOf(shown.filter((role) => role.coat === null)),
    coats: coatTiles,
    details: tilesOf(
      roles.filter(
        (role) =>
          role.tier === "detail" || (role.tier === "main" && !inCoats.has(role.coat ?? "") && role.coat !== null),
      ),
    ),
  };
}

/** The tile that holds a role, wherever it is. */
export function tileOf(rail: Rail, id: string): Tile | null {
  const all = [...rail.site, ...rail.coats.flatMap((one) => one.tiles), ...rail.details];
  return all.find((tile) => tile.role.id === id || tile.states.some((role) => role.id === id)) ?? null;
}
