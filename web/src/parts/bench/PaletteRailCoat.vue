<script setup lang="ts">
import { computed } from "vue";
import RailSpecimen from "@/parts/bench/RailSpecimen.vue";
import type { CoatTile } from "@/logic/roles";
import { count } from "@/logic/words";
import { useStudy } from "@/stores/study";

/** A coat as a specimen: its background with what is written on it. Opening it shows its own colours in place. */
const props = defineProps<{ tile: CoatTile }>();
const study = useStudy();
const fill = computed(() => study.colourOf(props.tile.background.id));
const text = computed(() => {
  const own = props.tile.text ?? study.roleById.get(props.tile.background.seen_with ?? "");
  return own ? study.colourOf(own.id) : "#000000";
});
const reading = computed(() => {
  const all = props.tile.tiles.flatMap((one) => [one.role, ...one.states]);
  const found = all.map((role) => study.reading?.roles[role.id]).filter((one) => one && one.lowest !== null);
  return found.sort((one, other) => one!.lowest! - other!.lowest!)[0];
});
const isDifferent = computed(() =>
  props.tile.tiles.some(({ role, states }) => [role, ...states].some((one) => one.changed || one.id in study.draft)),
);
</script>

<template>
  <rail-specimen
    :data-tile="`coat ${tile.coat.id}`"
    aria-haspopup="true"
    :fill="fill"
    :text="text"
    :label="tile.coat.label"
    :is-different="isDifferent"
    :reading="reading"
  >
    <template #under
      ><span class="soft">{{ tile.coat.places ? count(tile.coat.places, "place") : "on no section" }}</span></template
    >
  </rail-specimen>
</template>
