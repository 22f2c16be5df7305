<script setup lang="ts">
import { useTimeoutFn } from "@vueuse/core";
import { computed } from "vue";
import RailSpecimen from "@/parts/bench/RailSpecimen.vue";
import { differenceOk, inkOn } from "@/logic/colour";
import { lookOf, type Tile } from "@/logic/roles";
import { STATE_LABELS } from "@/logic/words";
import { useStudy } from "@/stores/study";
import { useView } from "@/stores/view";

/** One colour as a specimen: text stands on its background, backgrounds carry their text, states are small squares. */
const props = defineProps<{ tile: Tile; chosen: boolean }>();
const study = useStudy();
const view = useView();
const role = computed(() => props.tile.role);
const value = computed(() => study.colourOf(role.value.id));
const look = computed(() => lookOf(role.value));
const partner = computed(() => (role.value.seen_with ? study.colourOf(role.value.seen_with) : null));
const page = computed(() => study.roles.find((one) => one.kind === "background" && !one.coat)?.id ?? "");
const INVISIBLE = 0.06; // ΔE OK
/** What text stands on; what is only written on pictures may be lost on the page, and shows on what it is read on. */
const ground = computed(() => {
  const own = partner.value ?? study.colourOf(page.value);
  return differenceOk(own, value.value) > INVISIBLE ? own : inkOn(value.value);
});
const fill = computed(() => (look.value === "text" ? ground.value : value.value));
const text = computed(() => (look.value === "background" ? (partner.value ?? "#000000") : value.value));
const read = computed(() => {
  const all = [role.value, ...props.tile.states].map((one) => study.reading?.roles[one.id]);
  const known = all.filter((one) => one && one.lowest !== null);
  return known.sort((one, other) => one!.lowest! - other!.lowest!)[0];
});
const follows = computed(() => study.roleById.get(role.value.tie?.to ?? "")?.label ?? "");
const isByKey = (event: FocusEvent) => (event.target as HTMLElement).matches(":focus-visible");

// a hand that only passes over the rail does not make the pages flicker
const { start: lightSoon, stop } = useTimeoutFn(() => (view.lit = role.value.id), 220, { immediate: false });
function lightNot(): void {
  stop();
  if (view.lit === role.value.id) view.lit = null;
}
const isDifferent = computed(() =>
  [role.value, ...props.tile.states].some((one) => one.changed || one.id in study.draft),
);
</script>

<template>
  <rail-specimen
    :class="{ chosen }"
    :data-tile="role.id"
    :aria-pressed="chosen"
    :fill="fill"
    :text="text"
    :label="role.label"
    :is-different="isDifferent"
    :reading="read"
    @pointerenter="lightSoon"
    @pointerleave="lightNot"
    @click="lightNot"
    @focus="isByKey($event) && (view.lit = role.id)"
    @blur="lightNot"
  >
    <span v-if="look !== 'line'" :class="{ link: role.kind === 'link' }">Aa</span>
    <template v-if="tile.states.length" #states>
      <span class="states">
        <i
          v-for="state in tile.states.slice(0, 6)"
          :key="state.id"
          :style="{ background: study.colourOf(state.id) }"
          :title="STATE_LABELS[state.state]"
          data-specimen
        />
      </span>
    </template>
    <template #under>
      <span class="code">{{ value }}</span>
      <span v-if="role.locked || role.tie" class="signs">
        <i v-if="role.locked" title="locked">⊠<span class="unseen"> locked</span></i>
        <i v-if="role.tie" :title="`follows ${follows}`">⤷ {{ follows }}</i>
      </span>
    </template>
  </rail-specimen>
</template>

<style scoped>
.link {
  text-decoration: underline;
  text-decoration-thickness: 2px;
}
.states {
  position: absolute;
  top: 40px;
  right: 7px;
  display: flex;
  gap: 2px;
}
.states i {
  width: 11px;
  height: 11px;
  box-shadow:
    0 0 0 1px var(--raised),
    0 0 0 2px #0006;
}
.code {
  text-transform: uppercase;
}
.signs {
  position: absolute;
  top: 5px;
  right: 6px;
  max-width: 90%;
  padding: 0 4px;
  border-radius: 2px;
  background: var(--raised);
  color: var(--ink);
  font-size: 11px;
}
.chosen {
  z-index: 1;
  box-shadow: inset 0 0 0 3px var(--ink);
}
.chosen :deep(.specimen) {
  margin: 3px 3px 0;
  padding: 5px 7px;
}
</style>
