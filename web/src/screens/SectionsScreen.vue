<script setup lang="ts">
import { computed, ref, shallowRef, useTemplateRef, watch } from "vue";
import { useRouter } from "vue-router";
import client, { ask, type Schemas, sentence } from "@/api/client";
import ChosenSections from "@/parts/sections/ChosenSections.vue";
import CoatCard from "@/parts/sections/CoatCard.vue";
import DeleteCoat from "@/parts/sections/DeleteCoat.vue";
import NewCoat from "@/parts/sections/NewCoat.vue";
import PageStack from "@/parts/sections/PageStack.vue";
import { measureAndKeep } from "@/composables/useMeasuring";
import { useKeptScroll } from "@/composables/useKeptScroll";
import { useSectionChoice } from "@/composables/useSectionChoice";
import { addCoat, wear, wearByTurns } from "@/logic/acts";
import { useSite } from "@/stores/site";
import { useStudy } from "@/stores/study";

/** The section map: every page as its stack of sections; coats below are given to what is chosen. */
const site = useSite();
const study = useStudy();
const router = useRouter();
const map = shallowRef<Schemas["MapOut"] | null>(null);
const trouble = ref("");
const sheet = useTemplateRef<HTMLElement>("sheet");
const turns = ref<string[] | null>(null);
const leaving = shallowRef<Schemas["MapCoat"] | null>(null);

watch(
  () => [site.slug, study.revision?.base] as const,
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

const choice = useSectionChoice(map, sheet);
useKeptScroll(sheet);
/** One page or two have the room there is. */
const least = computed(() => ({ 1: "640px", 2: "460px", 3: "340px" })[map.value?.pages.length ?? 0] ?? "196px");
/** The one chosen section's own words, to show coats with. */
const words = computed(() => {
  const [one, ...others] = [...chosen.value].map((each) => parted(each)[1]);
  return one && !others.length ? regions.value.get(one)?.words : null;
});
const found = new Map<string, Record<string, string>>();
/** What finds the sections of a page on it; the same object while it is the same. */
function selectorsOf(stack: Schemas["MapPage"]): Record<string, string> {
  const keys = stack.blocks.map((block) => block.key).filter(Boolean);
  const name = `${stack.path} ${keys.join(" ")}`;
  if (!found.has(name))
    found.set(name, Object.fromEntries(keys.map((key) => [key, regions.value.get(key)?.selector ?? ""])));
  return found.get(name)!;
}
const { chosen, reach, stacks, coats, regions, ofPage, shared, places, choose, isGiven, together, id, parted } = choice;

async function give(coat: string): Promise<void> {
  if (turns.value) turns.value = [...turns.value, coat];
  else if (places.value.length) await study.act(wear(places.value, coat));
}
/** Makes a coat; what is chosen wears it at once. */
async function make(label: string, background: string): Promise<void> {
  const known = new Set(study.coats.map((coat) => coat.id));
  if (!(await study.act(addCoat(label, background)))) return;
  const made = study.coats.find((coat) => !known.has(coat.id));
  if (made && places.value.length) await give(made.id);
}
/** What lies behind the chosen place, or with nothing chosen behind the whole site. */
function toBackdrop(): void {
  const [on, key] = parted([...chosen.value][0] ?? "\n");
  const place = places.value[0];
  const label = key ? regions.value.get(key)?.label : site.names.get(on!);
  const query = place ? { page: place.page ?? undefined, section: place.section ?? undefined, name: label, on } : {};
  void router.push({ name: "backdrop", query });
}
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
    await study.act({ act: "join-sections", sections: keys, page: isWide ? null : page, apart: isJoined });
  } finally {
    isJoining.value = false;
  }
}
async function finishTurns(): Promise<void> {
  if (turns.value?.length) await study.act(wearByTurns(places.value, turns.value));
  turns.value = null;
}
async function dropped(path: string, key: string, coat: string): Promise<void> {
  if (!coat || !key) return;
  chosen.value = new Set([id(path, key)]);
  await study.act(wear(places.value, coat === "plain" ? "" : coat));
}
function remove(coat: Schemas["MapCoat"]): void {
  if (coat.wearers) leaving.value = coat;
  else void study.act({ act: "delete-coat", coat: coat.id, to: null, is_answered: true });
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
    <div ref="sheet" class="map" :style="{ '--least': least }" aria-label="Pages as their sections" role="group">
      <page-stack
        v-for="stack in stacks"
        :key="stack.path"
        :stack="stack"
        :name="site.names.get(stack.path) ?? stack.path"
        :coats="coats"
        :selectors="selectorsOf(stack)"
        :chosen="ofPage(stack.path)"
        @choose="(key, how) => choose(stack.path, key, how)"
        @drop="(key, coat) => dropped(stack.path, key, coat)"
      />
    </div>
    <section v-if="map" class="below" aria-label="Coats">
      <chosen-sections
        v-model:turns="turns"
        :choice="choice"
        :is-joining="isJoining"
        @backdrop="toBackdrop"
        @join="joinThem"
        @finish="finishTurns"
      />
      <ul>
        <coat-card
          v-for="coat in map.coats"
          :key="coat.id"
          :coat="coat"
          :sample="words ?? map.sample"
          :turns="(turns ?? []).flatMap((one, place) => (one === coat.id ? [place + 1] : []))"
          :is-given="isGiven && !turns"
          @give="give(coat.id)"
          @take-off="study.act(wear(places, null))"
          @rename="study.act({ act: 'rename-coat', coat: coat.id, to: $event })"
          @copy="study.act(addCoat(`${coat.label} copy`, coat.background, coat.id))"
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
          study.act({ act: 'delete-coat', coat: leaving!.id, to: to || null, is_answered: true });
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
  display: grid;
  flex: 1;
  grid-template-columns: repeat(auto-fill, minmax(min(100%, var(--least)), 1fr));
  gap: 14px;
  align-content: start;
  align-items: start;
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
}
</style>
