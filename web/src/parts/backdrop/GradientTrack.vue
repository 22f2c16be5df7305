<script setup lang="ts">
import { computed, ref, useTemplateRef } from "vue";
import { alongStops, isReadableOn } from "@/logic/colour";
import { SAMPLES, stretches } from "@/logic/hatching";
import { MOST_STOPS, type Paint, type Stop } from "@/logic/backdrop";

/** The stops of a gradient on a track: moved by pointer or arrow keys, added by a click between, taken out by Delete. */
const props = defineProps<{
  colourOf: (paint: Paint) => string;
  /** The colours of text that lie on it, and the contrast each needs. */
  inks: { colour: string; required: number }[];
}>();
const stops = defineModel<Stop[]>({ required: true });
const chosen = defineModel<number>("chosen", { required: true });
const emit = defineEmits<{ done: [] }>();
const track = useTemplateRef<HTMLElement>("track");
const held = ref<number | null>(null);

const sorted = computed(() => [...stops.value].sort((a, b) => a.at - b.at));
const colours = computed(() =>
  sorted.value.map((stop) => `${props.colourOf(stop.colour)} ${stop.at * 100}%`).join(", "),
);
/** The stretches over which text would be hard to read. */
const hatched = computed(() => {
  const seen = stops.value.map(({ at, colour }) => ({ at, colour: props.colourOf(colour) }));
  const along = props.inks.length ? alongStops(seen, SAMPLES) : null;
  return along ? stretches(along.map((one) => (isReadableOn(one, props.inks) ? "1" : "0")).join("")) : [];
});
const shareOf = (event: PointerEvent | MouseEvent) => {
  const box = track.value!.getBoundingClientRect();
  return Math.round(Math.max(0, Math.min(1, (event.clientX - box.left) / box.width)) * 100) / 100;
};
const move = (number: number, at: number) =>
  (stops.value = stops.value.map((stop, n) => (n === number ? { ...stop, at: Math.max(0, Math.min(1, at)) } : stop)));

function grab(event: PointerEvent, number: number): void {
  chosen.value = held.value = number;
  (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
}
function drag(event: PointerEvent): void {
  if (held.value !== null) move(held.value, shareOf(event));
}
function letGo(): void {
  if (held.value === null) return;
  held.value = null;
  emit("done");
}
function add(event: MouseEvent): void {
  const isOnStop = (event.target as Element).closest(".stop");
  if (isOnStop || stops.value.length >= MOST_STOPS) return;
  const at = shareOf(event);
  const near = sorted.value.reduce((a, b) => (Math.abs(b.at - at) < Math.abs(a.at - at) ? b : a));
  const place = stops.value.length;
  stops.value = [...stops.value, { at, colour: near.colour }];
  chosen.value = place;
  emit("done");
}
function remove(number: number): void {
  if (stops.value.length <= 2) return;
  stops.value = stops.value.filter((_, n) => n !== number);
  chosen.value = 0;
  emit("done");
}
function press(event: KeyboardEvent, number: number): void {
  const step = { ArrowRight: 0.01, ArrowUp: 0.01, ArrowLeft: -0.01, ArrowDown: -0.01 }[event.key];
  if (step !== undefined)
    move(number, Math.round((stops.value[number]!.at + step * (event.shiftKey ? 10 : 1)) * 100) / 100);
  else if (event.key === "Delete" || event.key === "Backspace") remove(number);
  else return;
  event.preventDefault();
}
</script>

<template>
  <div class="GradientTrack">
    <div
      ref="track"
      class="track"
      :style="{ background: `linear-gradient(90deg, ${colours})` }"
      data-specimen
      @click="add"
    >
      <span
        v-for="([from, to], place) in hatched"
        :key="`hatch ${place}`"
        class="hatch"
        :style="{ left: `${from * 100}%`, width: `${(to - from) * 100}%` }"
      />
      <button
        v-for="(stop, number) in stops"
        :key="number"
        type="button"
        role="slider"
        class="stop"
        :class="{ chosen: number === chosen }"
        :aria-label="`Stop ${number + 1} of ${stops.length}`"
        aria-valuemin="0"
        aria-valuemax="100"
        :aria-valuenow="Math.round(stop.at * 100)"
        :style="{ left: `${stop.at * 100}%`, background: colourOf(stop.colour) }"
        @pointerdown="grab($event, number)"
        @pointermove="drag"
        @pointerup="letGo"
        @lostpointercapture="letGo"
        @focus="chosen = number"
        @keydown="press($event, number)"
        @keyup="emit('done')"
      />
    </div>
    <p v-if="hatched.length" class="soft">Text over what is hatched would be hard to read.</p>
    <p class="soft">
      {{
        stops.length < MOST_STOPS
          ? "Click between two stops for one more; Delete takes one out."
          : "Six stops are the most; Delete takes one out."
      }}
    </p>
  </div>
</template>

<style scoped>
.track {
  position: relative;
  height: 26px;
  margin: 0 8px;
  border: 1px solid var(--edge);
  border-radius: 2px;
  cursor: copy;
}
.hatch {
  position: absolute;
  inset: 0 auto;
  background: repeating-linear-gradient(45deg, #0000 0 4px, #ffffffb0 4px 6px, #00000090 6px 7px);
  pointer-events: none;
}
.stop {
  position: absolute;
  top: -4px;
  width: 14px;
  height: 32px;
  margin-left: -7px;
  padding: 0;
  border: 2px solid var(--raised);
  border-radius: 3px;
  box-shadow: 0 0 0 1.5px var(--ink);
  cursor: ew-resize;
  touch-action: none;
}
.stop.chosen {
  box-shadow: 0 0 0 3px var(--ink);
}
p {
  margin-top: 6px;
  font-size: 12px;
}
</style>
