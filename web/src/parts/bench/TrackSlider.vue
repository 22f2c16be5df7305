<script setup lang="ts">
import { computed, useTemplateRef } from "vue";
import { usePointerDrag } from "@/composables/usePointerDrag";

/** A track to slide along: arrow keys step, with Shift ten steps. */
const props = defineProps<{
  label: string;
  max: number;
  step: number;
  text: string;
  /** CSS colours along the track, from its start to its end. */
  colours: string[];
  /** Where on the track the colours are hard to read, as shares from start to end. */
  hatched?: [number, number][];
  /** The share at which the nearest readable colour lies. */
  ring?: number | null;
}>();
const value = defineModel<number>({ required: true });
const emit = defineEmits<{ done: [] }>();
const track = useTemplateRef<HTMLElement>("track");
const share = computed(() => value.value / props.max);

function set(next: number): void {
  value.value = Math.max(0, Math.min(props.max, next));
}

function follow(event: PointerEvent): void {
  const box = track.value!.getBoundingClientRect();
  set(((event.clientX - box.left) / box.width) * props.max);
}

const drag = usePointerDrag(track, follow);

const KEYS: Record<string, number> = {
  ArrowRight: 1,
  ArrowUp: 1,
  ArrowLeft: -1,
  ArrowDown: -1,
  PageUp: 10,
  PageDown: -10,
};

function press(event: KeyboardEvent): void {
  const step = KEYS[event.key];
  if (step !== undefined) set(value.value + step * props.step * (event.shiftKey ? 10 : 1));
  else if (event.key === "Home") set(0);
  else if (event.key === "End") set(props.max);
  else return;
  event.preventDefault();
}
</script>

<template>
  <div class="TrackSlider">
    <span class="name">{{ label }}</span>
    <div
      ref="track"
      class="track"
      role="slider"
      tabindex="0"
      :aria-label="label"
      aria-valuemin="0"
      :aria-valuemax="max"
      :aria-valuenow="value"
      :aria-valuetext="text"
      v-on="drag"
      @lostpointercapture="emit('done')"
      @keydown="press"
      @keyup="emit('done')"
    >
      <span class="colours" :style="{ background: `linear-gradient(90deg, ${colours.join(', ')})` }" />
      <span
        v-for="([from, to], place) in hatched"
        :key="place"
        class="hatch"
        :style="{ left: `${from * 100}%`, width: `${(to - from) * 100}%` }"
      />
      <span v-if="ring !== null && ring !== undefined" class="ring" :style="{ left: `${ring * 100}%` }" />
      <span class="handle" :style="{ left: `${share * 100}%` }" />
    </div>
    <output>{{ text }}</output>
  </div>
</template>

<style scoped>
.TrackSlider {
  display: grid;
  grid-template-columns: 96px 1fr 52px;
  gap: 10px;
  align-items: center;
}
.track {
  position: relative;
  height: 24px;
  cursor: pointer;
  touch-action: none;
}
.colours {
  position: absolute;
  inset: 2px 0;
  border: 1px solid var(--edge);
  border-radius: 2px;
}
.hatch {
  position: absolute;
  inset: 3px auto;
  background: repeating-linear-gradient(45deg, #0000 0 4px, #ffffffb0 4px 6px, #00000090 6px 7px);
}
.handle {
  position: absolute;
  top: -1px;
  width: 8px;
  height: 26px;
  margin-left: -4px;
  border: 2px solid var(--ink);
  border-radius: 2px;
  background: var(--raised);
}
.ring {
  position: absolute;
  top: 4px;
  width: 16px;
  height: 16px;
  margin-left: -8px;
  border: 2px solid var(--raised);
  border-radius: 50%;
  box-shadow: 0 0 0 1.5px var(--ink);
  pointer-events: none;
}
</style>
