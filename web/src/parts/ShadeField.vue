<script setup lang="ts">
import { refThrottled } from "@vueuse/core";
import { computed, onMounted, useTemplateRef, watch } from "vue";
import { usePointerDrag } from "@/composables/usePointerDrag";
import type { Lch } from "@/logic/colour";
import { FIELD, fieldColours, MAX_CHROMA } from "@/logic/hatching";

/** Lightness up, colourfulness across, at one hue; hatched where the colour is hard to read somewhere. */
const props = defineProps<{ lch: Lch; hard: boolean[]; ring: Lch | null }>();
const emit = defineEmits<{ mix: [change: Partial<Lch>]; done: [] }>();
const canvas = useTemplateRef<HTMLCanvasElement>("canvas");
const box = useTemplateRef<HTMLElement>("box");
const hue = computed(() => props.lch.hue);
// a thousand colours are not worked out for each step of a hand on the hue
const drawnHue = refThrottled(hue, 90, true);
const cells = computed(() => fieldColours(drawnHue.value));
const CELL = 8;

function draw(): void {
  const brush = canvas.value?.getContext("2d");
  if (!brush) return;
  brush.clearRect(0, 0, FIELD.columns * CELL, FIELD.rows * CELL);
  cells.value.forEach((cell, number) => {
    const x = (number % FIELD.columns) * CELL;
    const y = Math.floor(number / FIELD.columns) * CELL;
    if (!cell.inside) return;
    brush.fillStyle = cell.hex;
    brush.fillRect(x, y, CELL, CELL);
    if (!props.hard[number]) return;
    // one light and one dark stroke are seen on every colour
    for (const [colour, shift] of [
      ["#ffffffb0", 0],
      ["#00000090", 1],
    ] as const) {
      brush.strokeStyle = colour;
      brush.beginPath();
      brush.moveTo(x + shift, y + CELL);
      brush.lineTo(x + CELL + shift, y);
      brush.stroke();
    }
  });
}
onMounted(draw);
watch([cells, () => props.hard], draw);

const at = (lch: Lch) => ({
  left: `${Math.min(1, lch.chroma / MAX_CHROMA) * 100}%`,
  top: `${(1 - lch.lightness) * 100}%`,
});

function follow(event: PointerEvent): void {
  const area = box.value!.getBoundingClientRect();
  const share = (value: number) => Math.max(0, Math.min(1, value));
  emit("mix", {
    chroma: share((event.clientX - area.left) / area.width) * MAX_CHROMA,
    lightness: 1 - share((event.clientY - area.top) / area.height),
  });
}

const drag = usePointerDrag(box, follow);

const STEPS: Record<string, [keyof Lch, number]> = {
  ArrowUp: ["lightness", 0.01],
  ArrowDown: ["lightness", -0.01],
  ArrowRight: ["chroma", 0.004],
  ArrowLeft: ["chroma", -0.004],
};

function press(event: KeyboardEvent): void {
  const step = STEPS[event.key];
  if (!step) return;
  const [what, by] = step;
  const most = what === "chroma" ? MAX_CHROMA : 1;
  emit("mix", { [what]: Math.max(0, Math.min(most, props.lch[what] + by * (event.shiftKey ? 10 : 1))) });
  event.preventDefault();
}
const text = computed(
  () => `Lightness ${props.lch.lightness.toFixed(2)}, colourfulness ${props.lch.chroma.toFixed(3)}`,
);
</script>

<template>
  <div
    ref="box"
    class="ShadeField"
    role="slider"
    tabindex="0"
    aria-label="Lightness by colourfulness"
    aria-valuemin="0"
    aria-valuemax="1"
    :aria-valuenow="lch.lightness"
    :aria-valuetext="text"
    v-on="drag"
    @pointerup="emit('done')"
    @lostpointercapture="emit('done')"
    @keydown="press"
    @keyup="emit('done')"
  >
    <canvas ref="canvas" :width="FIELD.columns * CELL" :height="FIELD.rows * CELL" aria-hidden="true" />
    <span v-if="ring" class="ring" :style="at(ring)" />
    <span class="handle" :style="at(lch)" />
  </div>
</template>

<style scoped>
.ShadeField {
  position: relative;
  width: 100%;
  aspect-ratio: 40 / 26;
  border: 1px solid var(--edge);
  background: var(--sunk);
  cursor: crosshair;
  touch-action: none;
}
canvas {
  display: block;
  width: 100%;
  height: 100%;
}
.handle,
.ring {
  position: absolute;
  width: 14px;
  height: 14px;
  margin: -7px 0 0 -7px;
  border: 2px solid var(--ink);
  box-shadow:
    0 0 0 1.5px var(--raised),
    inset 0 0 0 1.5px var(--raised);
  pointer-events: none;
}
.ring {
  border-color: var(--raised);
  border-radius: 50%;
  box-shadow: 0 0 0 1.5px var(--ink);
}
</style>
