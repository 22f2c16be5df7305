<script setup lang="ts">
import { computed, nextTick, useTemplateRef, watch } from "vue";
import PaletteRailTile from "@/parts/PaletteRailTile.vue";
import { railGroups } from "@/logic/roles";
import { useBench } from "@/stores/bench";

/** The strip of role tiles. One tile is in the tab order; arrow keys go along. */
const selected = defineModel<string | null>({ required: true });
const bench = useBench();
const rail = useTemplateRef<HTMLElement>("rail");
const groups = computed(() => railGroups(bench.roles));
const names = computed(() => groups.value.flatMap((group) => group.roles.map((role) => role.name)));
const reachable = computed(() => selected.value ?? names.value[0]);

const STEPS: Record<string, number> = { ArrowRight: 1, ArrowLeft: -1, PageDown: 5, PageUp: -5, Home: -1e4, End: 1e4 };

function walk(event: KeyboardEvent): void {
  const step = STEPS[event.key];
  if (event.altKey && step !== undefined && Math.abs(step) === 1) return void moveRole(event, step);
  const at = names.value.findIndex((name) => name === (event.target as HTMLElement).dataset.role);
  if (step === undefined || at < 0) return;
  event.preventDefault();
  const next = names.value[Math.max(0, Math.min(names.value.length - 1, at + step))]!;
  rail.value?.querySelector<HTMLElement>(`[data-role="${next}"]`)?.focus();
  if (selected.value !== null) selected.value = next;
}

/** Moves a role along the rail: Alt and an arrow. */
async function moveRole(event: KeyboardEvent, step: number): Promise<void> {
  event.preventDefault();
  const name = (event.target as HTMLElement).dataset.role;
  const order = [...names.value];
  const at = order.indexOf(name ?? "");
  const to = at + step;
  if (at < 0 || to < 0 || to >= order.length) return;
  order.splice(to, 0, ...order.splice(at, 1));
  await bench.changeRole({ what: "order", order });
  await nextTick();
  rail.value?.querySelector<HTMLElement>(`[data-role="${name}"]`)?.focus();
}

watch(selected, async (name) => {
  await nextTick();
  rail.value?.querySelector(`[data-role="${name}"]`)?.scrollIntoView({ block: "nearest", inline: "nearest" });
});
</script>

<template>
  <nav ref="rail" class="PaletteRail" aria-label="Palette" @keydown="walk">
    <div v-for="group in groups" :key="group.name" class="group" role="group" :aria-label="group.label">
      <palette-rail-tile
        v-for="role in group.roles"
        :key="role.name"
        :role="role"
        :chosen="role.name === selected"
        :tabindex="role.name === reachable ? 0 : -1"
        @click="selected = selected === role.name ? null : role.name"
      />
    </div>
  </nav>
</template>

<style scoped>
.PaletteRail {
  display: flex;
  gap: 6px;
  overflow-x: auto;
  padding: 0 0 1px;
  border-bottom: 1px solid var(--rule);
  background: var(--bench);
  scrollbar-width: thin;
}
.group {
  display: flex;
  flex: 1 0 auto;
  gap: 1px;
  background: var(--rule);
}
</style>
