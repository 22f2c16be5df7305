<script setup lang="ts">
import { ElButton, ElRadioButton, ElRadioGroup } from "element-plus";
import { computed, ref, shallowRef, watch } from "vue";
import { useRouter } from "vue-router";
import client, { ask, type Schemas, sentence } from "@/api/client";
import AsAnother from "@/parts/sections/AsAnother.vue";
import CoatCard from "@/parts/sections/CoatCard.vue";
import DeleteCoat from "@/parts/sections/DeleteCoat.vue";
import OwnColours from "@/parts/sections/OwnColours.vue";
import NewCoat from "@/parts/sections/NewCoat.vue";
import PageStack from "@/parts/sections/PageStack.vue";
import { useSweep } from "@/composables/useSweep";
import { measureAndKeep } from "@/composables/useMeasuring";
import { count, pageNames } from "@/logic/words";
import { useSite } from "@/stores/site";
import { useStudy } from "@/stores/study";

/** The section map: every page as its stack of sections; coats below are given to what is chosen. */
const site = useSite();
const study = useStudy();
const router = useRouter();
const map = shallowRef<Schemas["MapOut"] | null>(null);
const trouble = ref("");
/** What is chosen: a page's path and a section's key, parted by a line feed; no key for the whole page. */
const chosen = ref(new Set<string>());
const last = ref("");
const sheet = ref<HTMLElement | null>(null);
/** What was chosen when the pointer began to be dragged over sections. */
let before = new Set<string>();
const reach = ref<"everywhere" | "here">("everywhere");
const turns = ref<string[] | null>(null);
const leaving = shallowRef<Schemas["WornCoatOut"] | null>(null);

watch(
  () => [site.slug, study.revision?.number] as const,
  async ([slug]) => {
    if (!slug) return;
    try {
      map.value = await ask(client.GET("/api/sites/{slug}/sections", { params: { path: { slug } } }));
      trouble.value = "";
    } catch (refusal) {
      trouble.value = sentence(refusal);
    }
  },
  { immediate: true },
);

/** The pages in the order of the bench. */
const stacks = computed(() => {
  const order = new Map(site.pages.map((page, place) => [page.path, place]));
  return [...(map.value?.pages ?? [])].sort((a, b) => (order.get(a.path) ?? 0) - (order.get(b.path) ?? 0));
});
const names = computed(() => pageNames(site.pages));
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
const places = computed<Schemas["WhereIn"][]>(() => {
  const found = new Map<string, Schemas["WhereIn"]>();
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

async function give(coat: string): Promise<void> {
  if (turns.value) turns.value = [...turns.value, coat];
  else if (places.value.length) await study.wearThere(places.value, [coat]);
}
/** Makes a coat; what is chosen wears it at once. */
async function make(label: string, background: string): Promise<void> {
  const known = new Set(study.coats.map((coat) => coat.id));
  if (!(await study.changeCoat({ what: "new", label, background, like: null }))) return;
  const made = study.coats.find((coat) => !known.has(coat.id));
  if (made && places.value.length) await give(made.id);
}
/** What lies behind the chosen place, or with nothing chosen behind the whole site. */
function toBackdrop(): void {
  const [on, key] = parted([...chosen.value][0] ?? "\n");
  const place = places.value[0];
  const label = key ? regions.value.get(key)?.label : names.value.get(on!);
  const query = place ? { page: place.page ?? undefined, section: place.section ?? undefined, name: label, on } : {};
  void router.push({ name: "backdrop", query });
}
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
const isJoining = ref(false);
/** Closes the gaps between the chosen sections, once their pages are measured; or opens them again. */
async function joinThem(): Promise<void> {
  const { page, keys, isJoined } = together.value!;
  const isWide = reach.value === "everywhere" && shared.value.length > 0;
  isJoining.value = true;
  try {
    const shownAt = site.pages.find((one) => one.path === page)?.preview;
    if (!isJoined && shownAt)
      for (const width of [1280, 390]) await measureAndKeep(site.slug!, { address: shownAt, page, width });
    await study.joinSections(keys, isWide ? null : page, isJoined);
  } finally {
    isJoining.value = false;
  }
}
async function finishTurns(): Promise<void> {
  if (turns.value?.length) await study.wearThere(places.value, turns.value);
  turns.value = null;
}
async function dropped(path: string, key: string, coat: string): Promise<void> {
  if (!coat || !key) return;
  chosen.value = new Set([id(path, key)]);
  await study.wearThere(places.value, [coat === "plain" ? "" : coat]);
}
function remove(coat: Schemas["WornCoatOut"]): void {
  if (coat.wearers) leaving.value = coat;
  else void study.changeCoat({ what: "delete", coat: coat.id, to: null, is_answered: true });
}

/** Arrow keys go along the map: up and down in a page, left and right between pages. */
function move(event: KeyboardEvent): void {
  const own = (event.target as HTMLElement).closest<HTMLElement>("[data-block]");
  if (event.key === "Escape") chosen.value = new Set();
  if (!own || !event.key.startsWith("Arrow")) return;
  const columns = [...document.querySelectorAll(".PageStack")].map((one) => [
    ...one.querySelectorAll<HTMLElement>("[data-block]"),
  ]);
  const column = columns.findIndex((blocks) => blocks.includes(own));
  const row = columns[column]!.indexOf(own);
  const [over, down] = { ArrowUp: [0, -1], ArrowDown: [0, 1], ArrowLeft: [-1, 0], ArrowRight: [1, 0] }[event.key]!;
  const next = columns[column + over!];
  next?.[Math.min(next.length - 1, Math.max(0, row + down!))]?.focus();
  event.preventDefault();
}
</script>

<template>
  <main class="SectionsScreen" tabindex="-1" @keydown="move">
    <h1 class="unseen">Sections</h1>
    <p v-if="trouble" role="alert">{{ trouble }}</p>
    <p v-else-if="!map" class="waits" aria-busy="true">Laying out the sections of your pages…</p>
    <div ref="sheet" class="map" aria-label="Pages as their sections" role="group">
      <page-stack
        v-for="stack in stacks"
        :key="stack.path"
        :stack="stack"
        :name="names.get(stack.path) ?? stack.path"
        :coats="coats"
        :chosen="ofPage(stack.path)"
        @choose="(key, how) => choose(stack.path, key, how)"
        @drop="(key, coat) => dropped(stack.path, key, coat)"
      />
    </div>
    <section v-if="map" class="below" aria-label="Coats">
      <div class="says">
        <h2>{{ title ? `${title} chosen` : "Choose a section" }}</h2>
        <p v-if="!chosen.size" class="soft">
          Click a section, or drag over several. A coat is a set of colours for a section: its background and its text.
          <button type="button" class="act" @click="toBackdrop">Backdrop of the whole site…</button>
        </p>
        <template v-else>
          <el-radio-group v-if="shared.length" v-model="reach" size="small" aria-label="On which pages">
            <el-radio-button value="everywhere">{{
              shared.length === 1 ? `On all ${shared[0]!.pages.length} pages` : "On every page"
            }}</el-radio-button>
            <el-radio-button value="here">On this page only</el-radio-button>
          </el-radio-group>
          <p v-if="turns" class="soft">Click the coats in the order they take turns.</p>
          <p v-else-if="like" class="soft">It takes its colours from “{{ like }}”, until it is given others.</p>
          <p v-else class="soft">Click a coat to give it.</p>
          <p class="acts">
            <template v-if="turns">
              <el-button size="small" type="primary" :disabled="turns.length < 2" @click="finishTurns">Apply</el-button>
              <el-button size="small" @click="turns = null">Cancel</el-button>
            </template>
            <el-button v-else-if="places.length > 1" size="small" @click="turns = []">Take turns…</el-button>
            <el-button
              v-if="together && !turns"
              size="small"
              :loading="isJoining"
              title="So that nothing of the page shows between them"
              @click="joinThem"
              >{{ together.isJoined ? "Open the gaps" : "Close the gaps" }}</el-button
            >
            <el-button v-if="alike && !turns" size="small" @click="chooseAlike">{{ alike }}</el-button>
            <as-another v-if="!turns" :sections="others" @choose="study.wearAs(places, $event)" />
            <el-button v-if="places.length === 1 && !turns" size="small" @click="toBackdrop">Backdrop…</el-button>
          </p>
          <own-colours
            v-if="!turns"
            :key="[...chosen].join()"
            :own="own"
            @change="study.wearThere(places, [given], $event)"
          />
        </template>
      </div>
      <ul>
        <coat-card
          v-for="coat in map.coats"
          :key="coat.id"
          :coat="coat"
          :sample="map.sample"
          :turns="(turns ?? []).flatMap((one, place) => (one === coat.id ? [place + 1] : []))"
          :is-given="isGiven && !turns"
          @give="give(coat.id)"
          @take-off="study.wearThere(places, [null])"
          @rename="study.changeCoat({ what: 'rename', coat: coat.id, label: $event })"
          @copy="
            study.changeCoat({ what: 'new', label: `${coat.label} copy`, background: coat.background, like: coat.id })
          "
          @remove="remove(coat)"
        />
        <new-coat :slug="site.slug!" :taken="[...coats.values()]" :is-given="places.length > 0" @make="make" />
      </ul>
    </section>
    <delete-coat
      v-if="leaving"
      :coat="leaving"
      :others="(map?.coats ?? []).filter((coat) => coat.id !== leaving!.id)"
      @close="leaving = null"
      @remove="
        (to) => {
          study.changeCoat({ what: 'delete', coat: leaving!.id, to: to || null, is_answered: true });
          leaving = null;
        }
      "
    />
  </main>
</template>

<style scoped>
.waits {
  margin: 0;
  padding: 24px 26px;
  color: var(--ink-soft);
}
.SectionsScreen {
  display: flex;
  flex: 1;
  flex-direction: column;
  min-height: 0;
}
.map {
  display: flex;
  flex: 1;
  gap: 14px;
  align-items: flex-start;
  min-height: 0;
  overflow: auto;
  padding: 14px 18px;
  background: var(--paper);
}
.below {
  display: flex;
  flex: none;
  gap: 16px;
  padding: 14px 18px;
  border-top: 2px solid var(--ink);
  background: var(--panel);
}
.says {
  display: flex;
  flex: 0 0 336px;
  flex-direction: column;
  gap: 7px;
  /* what opens in it scrolls: the map above does not jump */
  height: 152px;
  overflow-y: auto;
  padding: 2px;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
.acts > * {
  margin: 0;
}
ul {
  display: flex;
  gap: 12px;
  align-items: flex-start;
  overflow-x: auto;
  margin: 0;
  padding: 3px;
  list-style: none;
}
@media (max-width: 700px) {
  .below {
    flex-direction: column;
    max-height: 55%;
    overflow-y: auto;
  }
  .says {
    flex: none;
    height: auto;
  }
}
</style>
