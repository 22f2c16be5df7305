import type { Role } from "@/api/client";

export interface RoleGroup {
  name: string;
  label: string;
  roles: Role[];
}

const GROUND = /^(ground-\d+)/;

/** The part of the rail a role stands in: a further ground keeps its words beside it. */
export function groupOf(role: Pick<Role, "name" | "kind">): string {
  const ground = GROUND.exec(role.name)?.[1];
  if (ground) return ground;
  if (role.name.startsWith("accent")) return "accent";
  if (role.kind === "line" || role.name.startsWith("line") || role.name.startsWith("focus-mark")) return "lines";
  return role.kind === "ground" ? "page" : "words";
}

const LABELS: Record<string, string> = { page: "Page", words: "Words", accent: "Accent", lines: "Lines" };
const FIRST = ["page", "words", "accent", "lines"];

/** The rail's groups in the order they stand. */
export function railGroups(roles: Role[]): RoleGroup[] {
  const groups = new Map<string, Role[]>(FIRST.map((name) => [name, []]));
  for (const role of roles) {
    const name = groupOf(role);
    if (!groups.has(name)) groups.set(name, []);
    groups.get(name)!.push(role);
  }
  return [...groups]
    .filter(([, members]) => members.length)
    .map(([name, members]) => ({ name, label: LABELS[name] ?? members[0]!.label, roles: members }));
}

/** A role's label without the name of the group it stands in: "Ground 1: link" is "Link" there. */
export function shortLabel(role: Pick<Role, "label">): string {
  const [, rest] = role.label.split(/:\s(.*)/s);
  return rest ? rest[0]!.toUpperCase() + rest.slice(1) : role.label;
}
