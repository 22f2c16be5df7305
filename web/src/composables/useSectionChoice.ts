import { computed, ref, type Ref } from "vue";
import type { Schemas, Where } from "@/api/client";
import { useSweep } from "@/composables/useSweep";
import { count } from "@/logic/words";
import { useSite } from "@/stores/site";

/** What is chosen on the section map, by clicks, keys and dragging over it; what that place is given, and could be. */
export function useSectionChoice(map: Ref<Schemas["MapOut"] | null>, sheet: Ref<HTMLElement | null>) {
  const site = useSite();
  /** What is chosen: a page's path and a section's key, parted by a line feed; no key for the whole page. */
  const chosen = ref(new Set<string>());
  const last = ref("");
  /** What was chosen when the pointer began to be dragged over sections. */
  let before = new Set<string>();
  const reach = ref<"everywhere" | "here">("everywhere");

  /** The pages in the order of the bench. */
  const stacks = computed(() => {
    const order = new Map(site.pages.map((page, place) => [page.path, place]));
    return [...(map.value?.pages ?? [])].sort((a, b) => (order.get(a.path) ?? 0) - (order.get(b.path) ?? 0));
  });
  const coats = computed(() => new Map((map.value?.coats ?? []).map((coat) => [coat.id, coat.label])));
  const regions = computed(() => new Map((map.value?.regions ?? []).map((region) => [region.key, region])));
  const id = (path: string, key: string) => `${path}\n${key}`;
  const parted = (one: string): [string, string] => one.split("\n") as [string, string];
  const ofPage = (path: string) =>
    new Set([...chosen.value].map(parted).flatMap(([page, key]) => (page === path ? [key] : [])));

  /** The sections chosen that are on other pages too: those may be changed there as well. */
  const shared = computed(() => {
    const keys = new Set([...chosen.value].map((one) => parted(one)[1]).filter(Boolean));
    return [...keys].map((key) => regions.value.get(key)!).filter((region) => region && region.pages.length > 1);
  });
  const title = computed(() => {
    const some = [...chosen.value].map(parted);
    const pages = some.filter(([, key]) => !key).length;
    const sections = some.length - pages;
    return [sections ? count(sections, "section") : "", pages ? `${count(pages, "whole page")}` : ""]
      .filter(Boolean)
      .join(" and ");
  });
  const places = computed<Where[]>(() => {
    const found = new Map<string, Where>();
    for (const [page, key] of [...chosen.value].map(parted)) {
      const isWide = key && reach.value === "everywhere" && (regions.value.get(key)?.pages.length ?? 0) > 1;
      const place = !key
        ? { page, section: null, part: null, at: null }
        : {
            section: key,
            page: isWide || regions.value.get(key)?.pages.length === 1 ? null : page,
            part: null,
            at: null,
          };
      found.set(JSON.stringify(place), place);
    }
    return [...found.values()];
  });

  const keysOf = (path: string) =>
    map.value?.pages.find((page) => page.path === path)?.blocks.map((block) => block.key) ?? [];
  function choose(path: string, key: string, how: "only" | "add" | "to"): void {
    const one = id(path, key);
    const [lastPath, lastKey] = parted(last.value || "\n");
    const keys = keysOf(path);
    // what lies in no section is reached through the whole page
    const target = keys.includes(key) && key ? one : id(path, "");
    if (how === "to" && lastPath === path) {
      const [from, to] = [keys.indexOf(lastKey), keys.indexOf(key)].sort((a, b) => a - b) as [number, number];
      chosen.value = new Set([
        ...chosen.value,
        ...keys
          .slice(from, to + 1)
          .filter(Boolean)
          .map((k) => id(path, k)),
      ]);
    } else if (how === "add") {
      const next = new Set(chosen.value);
      if (!next.delete(target)) next.add(target);
      chosen.value = next;
    } else chosen.value = chosen.value.size === 1 && chosen.value.has(target) ? new Set() : new Set([target]);
    last.value = target;
  }
  /** Chooses what was dragged over: on one page all between the first and the last, on others those two. */
  useSweep(sheet, (from, to, isFirst) => {
    if (isFirst) before = new Set(chosen.value);
    const [[path, key], [onto, other]] = [placed(from), placed(to)];
    const keys = keysOf(path);
    const ends = [keys.indexOf(key), keys.indexOf(other)];
    const between = keys.slice(Math.min(...ends), Math.max(...ends) + 1).map((one) => id(path, one));
    const all = path === onto ? between : [...chosen.value, id(path, key), id(onto, other)];
    chosen.value = new Set([...before, ...all].filter((one) => parted(one)[1]));
    last.value = id(onto, other);
  });
  /** A block's page and key; keys have no blanks. */
  const placed = (block: string): [string, string] => {
    const at = block.lastIndexOf(" ");
    return [block.slice(0, at), block.slice(at + 1)];
  };
  function chooseAlike(): void {
    const [, key] = parted([...chosen.value][0]!);
    const kind = regions.value.get(key)?.kind;
    const next = new Set<string>();
    for (const page of map.value?.pages ?? [])
      for (const block of page.blocks)
        if (block.key && regions.value.get(block.key)?.kind === kind) next.add(id(page.path, block.key));
    chosen.value = next;
  }
  const alike = computed(() => {
    const [one, ...others] = [...chosen.value];
    const region = one && !others.length ? regions.value.get(parted(one)[1]) : undefined;
    return region ? `All: ${region.kind}` : "";
  });

  /** What is set on the one place that is chosen; of several only what they are given together is shown. */
  const own = computed<Record<string, string>>(() => {
    const [one, ...others] = [...chosen.value];
    if (!one || others.length) return {};
    const [path, key] = parted(one);
    const stack = map.value?.pages.find((page) => page.path === path);
    return (key ? stack?.blocks.find((block) => block.key === key)?.own : stack?.own) ?? {};
  });
  /** The sections whose colours may be taken: all that are not chosen. */
  const others = computed(() => {
    const keys = new Set([...chosen.value].map((one) => parted(one)[1]));
    return (map.value?.regions ?? []).filter((region) => region.is_section && !keys.has(region.key));
  });
  /** What the one chosen section takes its colours from. */
  const like = computed(() => {
    const [one, ...more] = [...chosen.value].map(parted);
    if (!one || more.length) return "";
    return map.value?.pages.find((page) => page.path === one[0])?.blocks.find((b) => b.key === one[1])?.like ?? "";
  });
  /** Whether any chosen place is given something by a choice, not by the site. */
  const isGiven = computed(() =>
    [...chosen.value].map(parted).some(([path, key]) => {
      const stack = map.value?.pages.find((page) => page.path === path);
      if (!key) return !!stack && (stack.coat !== null || Object.keys(stack.own).length > 0);
      return !!stack?.blocks.find((block) => block.key === key)?.scope;
    }),
  );
  /** The coat that the chosen place is given by a choice, not by the site. */
  const given = computed(() => {
    const [path, key] = parted([...chosen.value][0] ?? "\n");
    const stack = map.value?.pages.find((page) => page.path === path);
    const block = stack?.blocks.find((one) => one.key === key);
    return key ? (block?.scope ? block.coat : null) : (stack?.coat ?? null);
  });

  /** The sections chosen that may be made one: several of one page. */
  const together = computed(() => {
    const some = [...chosen.value].map(parted);
    const [first] = some;
    if (some.length < 2 || some.some(([path, key]) => !key || path !== first![0])) return null;
    const blocks = map.value?.pages.find((page) => page.path === first![0])?.blocks ?? [];
    const keys = blocks.flatMap((block) => (some.some(([, key]) => key === block.key) ? [block.key] : []));
    const isJoined = blocks.some(
      (block, at) => block.joined && keys.includes(block.key) && keys.includes(blocks[at + 1]?.key ?? ""),
    );
    return { page: first![0], keys, isJoined };
  });

  return {
    chosen, reach, stacks, coats, regions, ofPage, shared, title, places, choose, chooseAlike, alike, own, others, like,
    isGiven, given, together, id, parted,
  }; // prettier-ignore
}
