<script setup lang="ts">
import { refThrottled, useElementSize } from "@vueuse/core";
import { computed, onMounted, useTemplateRef, watch } from "vue";
import { usePointerDrag } from "@/composables/usePointerDrag";
import type { Lch } from "@/logic/colour";
import { FIELD, fieldColours, fieldPixels, MAX_CHROMA } from "@/logic/hatching";

/** Lightness up, colourfulness across, at one hue; hatched where the colour is hard to read somewhere. */
const props = defineProps<{ lch: Lch; hard: boolean[]; ring: Lch | null }>();
const emit = defineEmits<{ mix: [change: Partial<Lch>]; done: [] }>();
const canvas = useTemplateRef<HTMLCanvasElement>("canvas");
const box = useTemplateRef<HTMLElement>("box");
const hue = computed(() => props.lch.hue);
// a thousand colours are not worked out for each step of a hand on the hue
const drawnHue = refThrottled(hue, 90, true);
const cells = computed(() => fieldColours(drawnHue.value));
const { width: boxWidth, height: boxHeight } = useElementSize(box);
/** The field in pixels of the screen, so that it is as fine as the screen is. */
const size = computed(() => ({
  width: Math.max(1, Math.round(boxWidth.value * window.devicePixelRatio)),
  height: Math.max(1, Math.round(boxHeight.value * window.devicePixelRatio)),
}));

function draw(): void {
  const brush = canvas.value?.getContext("2d");
  const { width, height } = size.value;
  if (!brush || width < 2) return;
  brush.putImageData(new ImageData(fieldPixels(drawnHue.value, width, height), width, height), 0, 0);
  hatch(brush, width / FIELD.columns, height / FIELD.rows);
}

/** Strokes over the cells that are hard to read: one light and one dark are seen on every colour. */
function hatch(brush: CanvasRenderingContext2D, wide: number, high: number): void {
  brush.lineWidth = Math.max(1, window.devicePixelRatio);
  cells.value.forEach((cell, number) => {
    if (!cell.inside || !props.hard[number]) return;
    const x = (number % FIELD.columns) * wide;
    const y = Math.floor(number / FIELD.columns) * high;
    for (const [colour, shift] of [
      ["#ffffffb0", 0],
      ["#00000090", brush.lineWidth],
    ] as const) {
      brush.strokeStyle = colour;
      brush.beginPath();
      brush.moveTo(x + shift, y + high);
      brush.lineTo(x + wide + shift, y);
      brush.stroke();
    }
  });
}
onMounted(draw);
watch([cells, () => props.hard, size], draw, { flush: "post" });

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
    @lostpointercapture="emit('done')"
    @keydown="press"
    @keyup="emit('done')"
  >
    <canvas ref="canvas" :width="size.width" :height="size.height" aria-hidden="true" />
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
