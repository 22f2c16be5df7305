<script setup lang="ts">
import { useTemplateRef } from "vue";
import { usePointerDrag } from "@/composables/usePointerDrag";

/** A place on a picture, set by pointer or arrow keys: what stays in view when the picture is cut. */
defineProps<{ src: string; label: string }>();
const at = defineModel<[number, number]>({ required: true });
const emit = defineEmits<{ done: [] }>();
const box = useTemplateRef<HTMLElement>("box");
const held = (value: number) => Math.round(Math.max(0, Math.min(1, value)) * 100) / 100;

const drag = usePointerDrag(box, (event) => {
  const area = box.value!.getBoundingClientRect();
  at.value = [held((event.clientX - area.left) / area.width), held((event.clientY - area.top) / area.height)];
});
const STEPS: Record<string, [number, number]> = {
  ArrowLeft: [-0.02, 0],
  ArrowRight: [0.02, 0],
  ArrowUp: [0, -0.02],
  ArrowDown: [0, 0.02],
};
function press(event: KeyboardEvent): void {
  const step = STEPS[event.key];
  if (!step) return;
  at.value = [held(at.value[0] + step[0]), held(at.value[1] + step[1])];
  event.preventDefault();
}
</script>

<template>
  <div
    ref="box"
    class="FocusPoint"
    role="slider"
    tabindex="0"
    :aria-label="label"
    aria-valuemin="0"
    aria-valuemax="100"
    :aria-valuenow="Math.round(at[0] * 100)"
    :aria-valuetext="`${Math.round(at[0] * 100)} % across, ${Math.round(at[1] * 100)} % down`"
    v-on="drag"
    @lostpointercapture="emit('done')"
    @keydown="press"
    @keyup="emit('done')"
  >
    <img :src="src" alt="" draggable="false" />
    <span class="ring" :style="{ left: `${at[0] * 100}%`, top: `${at[1] * 100}%` }" />
  </div>
</template>

<style scoped>
.FocusPoint {
  position: relative;
  justify-self: start;
  max-width: 100%;
  cursor: crosshair;
  touch-action: none;
}
img {
  display: block;
  max-width: 100%;
  max-height: 150px;
}
.ring {
  position: absolute;
  width: 18px;
  height: 18px;
  margin: -9px;
  border: 2px solid #1b1b1b;
  border-radius: 50%;
  outline: 2px solid #fff;
  pointer-events: none;
}
</style>
