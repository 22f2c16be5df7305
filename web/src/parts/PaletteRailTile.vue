<script setup lang="ts">
import { useTimeoutFn } from "@vueuse/core";
import { computed } from "vue";
import type { Role } from "@/api/client";
import ReadMark from "@/parts/ReadMark.vue";
import { shortLabel } from "@/logic/roles";
import { useBench } from "@/stores/bench";

/** One role as a specimen: words stand on their ground, grounds carry their words. */
const props = defineProps<{ role: Role; chosen: boolean }>();
const bench = useBench();
const value = computed(() => bench.colourOf(props.role.name));
const partner = computed(() => (props.role.seen_with ? bench.colourOf(props.role.seen_with) : null));
const isGround = computed(() => props.role.kind === "ground");
const isLine = computed(() => props.role.kind === "line" || props.role.kind === "other");
const fill = computed(() =>
  isGround.value || isLine.value ? value.value : (partner.value ?? bench.colourOf("background")),
);
const words = computed(() => (isGround.value ? (partner.value ?? bench.colourOf("text")) : value.value));
const read = computed(() => bench.reading?.roles[props.role.name]);
const follows = computed(() => bench.roleByName.get(props.role.tie?.to ?? "")?.label ?? "");
const isByKey = (event: FocusEvent) => (event.target as HTMLElement).matches(":focus-visible");

// a hand that only passes over the rail does not make the pages flicker
const { start: lightSoon, stop } = useTimeoutFn(() => (bench.lit = props.role.name), 220, { immediate: false });
function lightNot(): void {
  stop();
  if (bench.lit === props.role.name) bench.lit = null;
}
const isDifferent = computed(() => props.role.changed || props.role.name in bench.draft);
</script>

<template>
  <button
    type="button"
    class="PaletteRailTile"
    :class="{ chosen, small: !!read && role.label.includes(',') }"
    :data-role="role.name"
    :aria-pressed="chosen"
    @pointerenter="lightSoon"
    @pointerleave="lightNot"
    @click="lightNot"
    @focus="isByKey($event) && (bench.lit = role.name)"
    @blur="lightNot"
  >
    <span class="specimen" :style="{ background: fill, color: words }" data-specimen>
      <span v-if="!isLine" :class="{ link: role.name.includes('link') }">Aa</span>
    </span>
    <span class="label">
      <b
        >{{ shortLabel(role) }}<i v-if="isDifferent" title="changed"> ∗<span class="unseen"> changed</span></i></b
      >
      <span class="code">{{ value }}</span>
      <span v-if="role.locked || role.tie" class="signs">
        <i v-if="role.locked" title="locked">⊠<span class="unseen"> locked</span></i>
        <i v-if="role.tie" :title="`follows ${follows}`">⤷ {{ follows }}</i>
      </span>
      <read-mark v-if="read && read.lowest !== null" :verdict="read.verdict" :ratio="read.lowest" />
      <span v-else class="soft">{{ isLine ? "not read" : "unused" }}</span>
    </span>
  </button>
</template>

<style scoped>
.PaletteRailTile {
  contain: content;
  position: relative;
  display: flex;
  flex: 1 0 104px;
  flex-direction: column;
  width: 104px;
  height: 126px;
  padding: 0;
  border: 0;
  background: var(--panel);
  text-align: left;
  cursor: pointer;
}
.PaletteRailTile:hover {
  background: var(--raised);
}
.specimen {
  flex: 1;
  padding: 8px 10px;
  font-size: 26px;
  font-weight: 700;
  line-height: 1.2;
}
.link {
  text-decoration: underline;
  text-decoration-thickness: 2px;
}
.label {
  display: grid;
  padding: 5px 9px 7px;
  font-size: 12px;
  line-height: 1.36;
}
.label b {
  overflow: hidden;
  font-weight: 700;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.label i {
  font-style: normal;
}
.code {
  text-transform: uppercase;
}
.signs {
  position: absolute;
  top: 5px;
  right: 6px;
  max-width: 90%;
  overflow: hidden;
  padding: 0 4px;
  border-radius: 2px;
  background: var(--raised);
  color: var(--ink);
  font-size: 11px;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.chosen {
  z-index: 1;
  box-shadow: inset 0 0 0 3px var(--ink);
}
.chosen .specimen {
  margin: 3px 3px 0;
  padding: 5px 7px;
}
.PaletteRailTile:focus-visible {
  z-index: 2;
  box-shadow:
    inset 0 0 0 3px var(--ink),
    inset 0 0 0 5px var(--paper);
}
</style>
