<script setup lang="ts">
import { computed } from "vue";
import ReadMark from "@/parts/common/ReadMark.vue";
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
  <button type="button" class="PaletteRailCoat" :data-tile="`coat ${tile.coat.id}`" aria-haspopup="true">
    <span class="specimen" :style="{ background: fill, color: text }" data-specimen>Aa</span>
    <span class="label">
      <b
        >{{ tile.coat.label }}<i v-if="isDifferent" title="changed"> ∗<span class="unseen"> changed</span></i></b
      >
      <span class="soft">{{ count(tile.coat.sections, "section") }}</span>
      <read-mark v-if="reading" :verdict="reading.verdict" :ratio="reading.lowest" />
      <span v-else class="soft">no text</span>
    </span>
  </button>
</template>

<style scoped>
.PaletteRailCoat {
  display: flex;
  flex: 1 1 0;
  flex-direction: column;
  min-width: 0;
  height: 126px;
  padding: 0;
  border: 0;
  background: var(--panel);
  text-align: left;
  cursor: pointer;
}
.PaletteRailCoat:hover {
  background: var(--raised);
}
.specimen {
  flex: 1;
  padding: 8px 10px;
  font-size: 26px;
  font-weight: 700;
  line-height: 1.2;
}
.label {
  display: grid;
  padding: 5px 8px 7px;
  font-size: 12px;
  line-height: 1.36;
}
.label > * {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.label i {
  font-style: normal;
}
.PaletteRailCoat:focus-visible {
  z-index: 2;
  box-shadow:
    inset 0 0 0 3px var(--ink),
    inset 0 0 0 5px var(--paper);
}
</style>
