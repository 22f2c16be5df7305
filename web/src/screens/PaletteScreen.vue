<script setup lang="ts">
import { ElButton } from "element-plus";
import { computed, ref } from "vue";
import { useRouter } from "vue-router";
import type { Role } from "@/api/client";
import LookFrame from "@/parts/site/LookFrame.vue";
import PaletteRow from "@/parts/site/PaletteRow.vue";
import { railOf, type Tile } from "@/logic/roles";
import { count, sentenceCase, spelled } from "@/logic/words";
import { useStudy } from "@/stores/study";
import { useView } from "@/stores/view";

/** What each colour is for: the short palette, each coat, then details and what no page shows, to be named and moved. */
const study = useStudy();
const view = useView();
const router = useRouter();
const newName = ref("");
const taken = computed(() => study.roles.filter((role) => role.taken).length);
const rail = computed(() => railOf(study.roles, study.coats));
const unseen = computed(() => study.roles.filter((role) => role.tier === "unseen"));
const heading = computed(() => {
  const site = sentenceCase(`${spelled(rail.value.site.length)} site colours`);
  const coats = rail.value.coats.length;
  return coats ? `${site}, ${spelled(coats)} for sections.` : `${site}.`;
});
const all = (tiles: Tile[]): Role[] => tiles.flatMap((tile) => [tile.role, ...tile.states]);

/** Details of a kind together, so that a list of forty is five of eight. */
const KINDS: [string, (role: Role) => boolean][] = [
  ["Backgrounds", (role) => ["background", "panel", "accent"].includes(role.kind)],
  ["Text", (role) => ["text", "heading", "quiet", "link", "accent-text"].includes(role.kind)],
  ["Lines", (role) => role.kind === "line"],
  ["Shadows and the rest", (role) => role.kind === "shadow" || role.kind === "detail"],
];
const groups = computed(() => [
  {
    label: "Site",
    about: "The colours of the whole site, with their states.",
    number: rail.value.site.length,
    roles: all(rail.value.site),
    isOpen: true,
  },
  ...rail.value.coats.map((one) => ({
    label: one.coat.label,
    about: `${count(one.coat.places, "place")}. What is not listed here follows the site.`,
    number: one.tiles.length,
    roles: all(one.tiles),
    isOpen: true,
  })),
  ...KINDS.map(([label, fits]) => ({
    label: `Details: ${label.toLowerCase()}`,
    about: "",
    number: undefined,
    roles: all(rail.value.details).filter(fits),
    isOpen: false,
  })),
  { label: "In the files, on no page", about: "", number: undefined, roles: unseen.value, isOpen: false },
]);

async function add(): Promise<void> {
  if (!newName.value.trim()) return;
  if (await study.act({ act: "add-role", called: newName.value, value: "#808080" })) newName.value = "";
}

async function open(role: string): Promise<void> {
  await router.push({ name: "bench" });
  view.open = role;
}
</script>

<template>
  <look-frame
    :heading="heading"
    about="What each colour is for. Each colour in your files stays as it is until you change or merge it."
  >
    <template v-for="group in groups" :key="group.label">
      <details v-if="group.roles.length" :open="group.isOpen" class="group">
        <summary>
          <h2>{{ group.label }}</h2>
          <span class="soft">{{ count(group.number ?? group.roles.length, "colour") }}. {{ group.about }}</span>
        </summary>
        <ol>
          <palette-row v-for="role in group.roles" :key="role.id" :role="role" @open="open(role.id)" />
        </ol>
      </details>
    </template>
    <form class="add" @submit.prevent="add">
      <label>Add a colour called <input v-model="newName" maxlength="80" /></label>
      <el-button native-type="submit" size="small" :disabled="!newName.trim()">Add</el-button>
    </form>
    <template #foot>
      <span>{{ taken ? `${count(taken, "colour")} merged with nearly alike ones.` : "Nothing is changed yet." }}</span>
      <el-button type="primary" @click="router.push({ name: 'bench' })">Go to the bench</el-button>
    </template>
  </look-frame>
</template>

<style scoped>
ol {
  margin: 0;
  padding: 0;
  list-style: none;
}
.group {
  margin-bottom: 18px;
}
summary {
  display: flex;
  gap: 12px;
  align-items: baseline;
  padding-bottom: 6px;
  cursor: pointer;
}
summary::before {
  content: "▸";
  width: 1em;
}
details[open] > summary::before {
  content: "▾";
}
h2 {
  font-size: 16px;
}
.add {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: center;
  padding: 14px 0;
  border-top: 1px solid var(--rule);
}
.add input {
  padding: 4px 8px;
  border: 1px solid var(--edge);
  border-radius: var(--corner);
}
</style>
