<script setup lang="ts">
import { computed, ref } from "vue";
import { kindOf, LAYER_NAMES, type Layer, layerWords, type Paint } from "@/logic/backdrop";

/** The layers from the front to the back: chosen, moved by dragging or Alt with arrow keys, switched, taken away. */
const props = defineProps<{
  lookOf: (layer: Layer) => string;
  nameOf: (paint: Paint) => string;
}>();
const layers = defineModel<Layer[]>({ required: true });
const chosen = defineModel<number>("chosen", { required: true });

const rows = computed(() => layers.value.map((layer, number) => ({ layer, number })).reverse());
const isBase = (number: number) => layers.value[number]?.colour !== undefined;

function moveTo(from: number, to: number): void {
  // the base colour stays below all else
  if (to < 0 || to >= layers.value.length || isBase(from) || isBase(to)) return;
  const next = [...layers.value];
  next.splice(to, 0, next.splice(from, 1)[0]!);
  layers.value = next;
  chosen.value = to;
}
function press(event: KeyboardEvent, number: number): void {
  const up = { ArrowUp: 1, ArrowDown: -1 }[event.key];
  if (up === undefined || !event.altKey) return;
  moveTo(number, number + up);
  event.preventDefault();
}
const turn = (number: number) =>
  (layers.value = layers.value.map((layer, n) => (n === number ? { ...layer, off: !layer.off } : layer)));
function remove(number: number): void {
  layers.value = layers.value.filter((_, n) => n !== number);
  chosen.value = Math.max(0, Math.min(number, layers.value.length - 1));
}
const held = ref(-1);
</script>

<template>
  <ul class="LayerList">
    <li
      v-for="{ layer, number } in rows"
      :key="number"
      :class="{ chosen: number === chosen, off: layer.off }"
      :draggable="!isBase(number)"
      @dragstart="held = number"
      @dragover.prevent
      @drop.prevent="moveTo(held, number)"
    >
      <button
        type="button"
        class="one"
        :aria-pressed="number === chosen"
        @click="chosen = number"
        @keydown="press($event, number)"
      >
        <span class="look" :style="{ background: props.lookOf(layer) }" data-specimen />
        <span>
          <b>{{ LAYER_NAMES[kindOf(layer)] }}</b>
          <span class="soft">{{ layerWords(layer, nameOf) }}</span>
        </span>
      </button>
      <button
        type="button"
        class="act"
        :aria-label="`${layer.off ? 'Show' : 'Hide'} the ${LAYER_NAMES[kindOf(layer)].toLowerCase()}`"
        @click="turn(number)"
      >
        {{ layer.off ? "Show" : "Hide" }}
      </button>
      <button
        type="button"
        class="act"
        :aria-label="`Take the ${LAYER_NAMES[kindOf(layer)].toLowerCase()} away`"
        @click="remove(number)"
      >
        ✕
      </button>
    </li>
  </ul>
</template>

<style scoped>
.LayerList {
  margin: 0;
  padding: 0;
  border: 1px solid var(--rule);
  background: var(--raised);
  list-style: none;
}
li {
  display: flex;
  gap: 8px;
  align-items: center;
  padding: 5px 8px;
}
li + li {
  border-top: 1px solid var(--rule);
}
li.chosen {
  outline: 2px solid var(--ink);
  outline-offset: -1px;
}
li.off .one {
  opacity: 0.55;
}
.one {
  display: flex;
  flex: 1;
  gap: 10px;
  align-items: center;
  min-width: 0;
  padding: 0;
  border: 0;
  background: none;
  text-align: left;
  cursor: pointer;
}
.one > span:last-child {
  display: grid;
  min-width: 0;
}
.one .soft {
  overflow: hidden;
  font-size: 13px;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.look {
  flex: none;
  width: 54px;
  height: 34px;
  border: 1px solid var(--rule);
}
</style>
