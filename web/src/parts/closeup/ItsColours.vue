<script setup lang="ts">
import { computed } from "vue";
import type { Schemas } from "@/api/client";
import ReadMark from "@/parts/common/ReadMark.vue";
import { stateLabel } from "@/logic/words";

/** The colours in what is chosen, each in the states the site has; a click changes one. */
const props = defineProps<{ colours: Schemas["PartColourOut"][]; open: string | null }>();
const emit = defineEmits<{ change: [colour: Schemas["PartColourOut"], one: Schemas["InStateOut"]] }>();
const ORDER = ["rest", "hover", "focus", "active", "visited"];
/** The states in which anything here differs from rest. */
const states = computed(() =>
  ORDER.filter(
    (state) => state === "rest" || props.colours.some((row) => row.states.some((s) => s.state === state && !s.same)),
  ),
);
const at = (row: Schemas["PartColourOut"], state: string) => row.states.find((one) => one.state === state);
</script>

<template>
  <table class="ItsColours">
    <thead>
      <tr>
        <th><span class="unseen">Colour</span></th>
        <th v-for="state in states" :key="state" scope="col">{{ stateLabel(state) }}</th>
        <th scope="col"><span class="unseen">Lowest contrast</span></th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="row in colours" :key="`${row.kind} ${row.role}`">
        <th scope="row">{{ row.label }}</th>
        <td v-for="state in states" :key="state">
          <span v-if="!at(row, state) || at(row, state)!.same" class="soft">same</span>
          <button
            v-else
            type="button"
            class="change"
            :aria-pressed="!!open && open === at(row, state)!.role"
            :disabled="!at(row, state)!.role"
            :aria-label="`Change ${row.label}, ${stateLabel(state)}, ${at(row, state)!.colour}`"
            :title="at(row, state)!.role ? at(row, state)!.colour : 'No colour of the palette'"
            @click="emit('change', row, at(row, state)!)"
          >
            <i :style="{ background: at(row, state)!.colour }" data-specimen />
            <span v-if="state === 'rest'" class="code">{{ at(row, state)!.colour }}</span>
          </button>
        </td>
        <td>
          <read-mark v-if="row.lowest !== null" :verdict="row.verdict" :ratio="row.lowest" tagged />
          <small v-if="row.lowest !== null && row.verdict === 'fail' && row.worst !== 'rest'" class="soft">
            {{ stateLabel(row.worst).toLowerCase() }}
          </small>
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.ItsColours {
  width: 100%;
  border-collapse: collapse;
  font-size: 13px;
}
th,
td {
  padding: 4px 5px 4px 0;
  border-bottom: 1px solid var(--rule);
  font-weight: 400;
  text-align: left;
}
thead th {
  color: var(--ink-soft);
  font-size: 12px;
}
.change {
  display: flex;
  gap: 6px;
  align-items: center;
  padding: 2px 4px;
  border: 1px solid transparent;
  border-radius: var(--corner);
  background: none;
  cursor: pointer;
}
.change:hover,
.change[aria-pressed="true"] {
  border-color: var(--ink);
}
i {
  width: 17px;
  height: 17px;
  border: 1px solid #0004;
}
small {
  display: block;
}
.code {
  text-transform: uppercase;
}
</style>
