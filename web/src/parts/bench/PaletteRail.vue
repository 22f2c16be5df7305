<script setup lang="ts">
import { computed, nextTick, useTemplateRef } from "vue";
import PaletteRailCoat from "@/parts/bench/PaletteRailCoat.vue";
import PaletteRailTile from "@/parts/bench/PaletteRailTile.vue";
import { lookOf, railOf, tileOf, type Tile } from "@/logic/roles";
import { count } from "@/logic/words";
import { useStudy } from "@/stores/study";
import { useView } from "@/stores/view";

/** The short palette: site colours, coats, details folded. One tile is in the tab order; arrow keys go along. */
const selected = defineModel<string | null>({ required: true });
const study = useStudy();
const view = useView();
const strip = useTemplateRef<HTMLElement>("strip");
const rail = computed(() => railOf(study.roles, study.coats));
const openCoat = computed(() => rail.value.coats.find((one) => one.coat.id === view.unfolded) ?? null);
const isDetails = computed(() => view.unfolded === "details");
/** The id of the tile that holds the open role: a state is held by its role at rest. */
const chosen = computed(() => (selected.value ? (tileOf(rail.value, selected.value)?.role.id ?? null) : null));
const names = computed(() => {
  if (openCoat.value) return ["back", ...openCoat.value.tiles.map((tile) => tile.role.id)];
  if (isDetails.value) return ["back", ...rail.value.details.map((tile) => tile.role.id)];
  const coats = rail.value.coats.map((one) => `coat ${one.coat.id}`);
  return [...rail.value.site.map((tile) => tile.role.id), ...coats, ...(rail.value.details.length ? ["details"] : [])];
});
const reachable = computed(() => (chosen.value && names.value.includes(chosen.value) ? chosen.value : names.value[0]));

const STEPS: Record<string, number> = { ArrowRight: 1, ArrowLeft: -1, PageDown: 5, PageUp: -5, Home: -1e4, End: 1e4 };

const focus = (name: string) => strip.value?.querySelector<HTMLElement>(`[data-tile="${name}"]`)?.focus();

function walk(event: KeyboardEvent): void {
  const step = STEPS[event.key];
  if (event.key === "Escape" && view.unfolded) return void fold();
  if (event.altKey && step !== undefined && Math.abs(step) === 1) return void moveRole(event, step);
  const at = names.value.indexOf((event.target as HTMLElement).dataset.tile ?? "");
  if (step === undefined || at < 0) return;
  event.preventDefault();
  const next = names.value[Math.max(0, Math.min(names.value.length - 1, at + step))]!;
  focus(next);
  if (selected.value !== null && study.roleById.has(next)) selected.value = next;
}

/** Moves a colour along the rail: Alt and an arrow. */
async function moveRole(event: KeyboardEvent, step: number): Promise<void> {
  event.preventDefault();
  const name = (event.target as HTMLElement).dataset.tile ?? "";
  const here = names.value.filter((one) => study.roleById.has(one));
  const at = here.indexOf(name);
  const to = at + step;
  if (at < 0 || to < 0 || to >= here.length) return;
  here.splice(to, 0, ...here.splice(at, 1));
  const others = study.roles.map((role) => role.id).filter((id) => !here.includes(id));
  await study.act({ act: "order-roles", order: [...here, ...others] });
  await nextTick();
  focus(name);
}

async function unfold(what: string): Promise<void> {
  view.unfolded = what;
  await nextTick();
  focus(names.value[1] ?? "back");
}

async function fold(): Promise<void> {
  const back = view.unfolded === "details" ? "details" : `coat ${view.unfolded}`;
  view.unfolded = null;
  await nextTick();
  focus(back);
}

/** Backgrounds, text, buttons and lines stand a little apart. */
function part({ role }: Tile): string {
  if (role.kind === "accent" || role.kind === "accent-text") return "accent";
  return lookOf(role);
}

const choose = (id: string) => (selected.value = chosen.value === id ? null : id);
const kinds = computed(() => rail.value.details.slice(0, 3).map((tile) => tile.role.label.toLowerCase()));
</script>

<template>
  <nav ref="strip" class="PaletteRail" aria-label="Palette" @keydown="walk">
    <template v-if="openCoat || isDetails">
      <button type="button" class="back" data-tile="back" :tabindex="reachable === 'back' ? 0 : -1" @click="fold">
        <span aria-hidden="true">‹</span> <b>{{ openCoat?.coat.label ?? "Details" }}</b>
        <span class="soft">Back to the palette</span>
      </button>
      <div class="group wide" role="group" :aria-label="openCoat?.coat.label ?? 'Details'">
        <palette-rail-tile
          v-for="tile in openCoat ? openCoat.tiles : rail.details"
          :key="tile.role.id"
          :tile="tile"
          :chosen="tile.role.id === chosen"
          :tabindex="tile.role.id === reachable ? 0 : -1"
          @click="choose(tile.role.id)"
        />
      </div>
    </template>
    <template v-else>
      <div class="group" role="group" aria-label="Site colours" :style="{ flexGrow: rail.site.length }">
        <palette-rail-tile
          v-for="(tile, place) in rail.site"
          :key="tile.role.id"
          :class="{ starts: place > 0 && part(tile) !== part(rail.site[place - 1]!) }"
          :tile="tile"
          :chosen="tile.role.id === chosen"
          :tabindex="tile.role.id === reachable ? 0 : -1"
          @click="choose(tile.role.id)"
        />
      </div>
      <div
        v-if="rail.coats.length"
        class="group"
        role="group"
        aria-label="Section colours"
        :style="{ flexGrow: rail.coats.length }"
      >
        <palette-rail-coat
          v-for="one in rail.coats"
          :key="one.coat.id"
          :tile="one"
          :tabindex="reachable === `coat ${one.coat.id}` ? 0 : -1"
          @click="unfold(one.coat.id)"
        />
      </div>
      <button
        v-if="rail.details.length"
        type="button"
        class="details"
        data-tile="details"
        :tabindex="reachable === 'details' ? 0 : -1"
        @click="unfold('details')"
      >
        <b>{{ count(rail.details.length, "detail") }}</b>
        <span class="soft">{{ kinds.join(", ") }}</span>
      </button>
    </template>
  </nav>
</template>

<style scoped>
.PaletteRail {
  display: flex;
  gap: 6px;
  border-bottom: 1px solid var(--rule);
  background: var(--bench);
}
.group {
  display: flex;
  flex: 1 1 0;
  gap: 1px;
  min-width: 0;
  background: var(--rule);
}
.starts {
  margin-left: 5px;
}
.wide {
  overflow-x: auto;
  scrollbar-width: thin;
}
.wide > * {
  flex: 1 0 104px;
  max-width: 190px;
}
.back,
.details {
  display: flex;
  flex: 0 0 84px;
  flex-direction: column;
  gap: 4px;
  padding: 12px 9px;
  border: 0;
  background: var(--sunk);
  font-size: 12px;
  line-height: 1.3;
  text-align: left;
  overflow-wrap: anywhere;
  cursor: pointer;
}
.back {
  flex-basis: 104px;
}
.back:hover,
.details:hover {
  background: var(--raised);
}
.details .soft {
  display: -webkit-box;
  overflow: hidden;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 5;
}
@media (max-width: 900px) {
  .PaletteRail {
    overflow-x: auto;
  }
  .group {
    flex: 0 0 auto;
  }
  .group > * {
    flex: 0 0 104px;
  }
}
</style>
