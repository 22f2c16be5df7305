<script setup lang="ts">
import { computed } from "vue";
import TrackSlider from "@/parts/bench/TrackSlider.vue";

/** A number on a track, shown as people say it. */
const props = withDefaults(
  defineProps<{
    label: string;
    min?: number;
    max?: number;
    step?: number;
    unit?: "percent" | "degrees" | "times" | "seconds";
    colours?: string[];
    hatched?: [number, number][];
    ring?: number | null;
  }>(),
  { min: 0, max: 1, step: 0.01, unit: "percent", colours: () => ["#ddd", "#999"], hatched: () => [], ring: null },
);
const value = defineModel<number>({ required: true });
const emit = defineEmits<{ done: [] }>();
const inner = computed({
  get: () => value.value - props.min,
  set: (next) => (value.value = Math.round((next + props.min) / props.step) * props.step),
});
const text = computed(
  () =>
    ({
      percent: `${Math.round(value.value * 100)} %`,
      degrees: `${Math.round(value.value)}°`,
      times: `× ${Math.round(value.value * 100) / 100}`,
      seconds: `${Math.round(value.value)} s`,
    })[props.unit],
);
</script>

<template>
  <track-slider
    v-model="inner"
    :label="label"
    :max="max - min"
    :step="step"
    :text="text"
    :colours="colours"
    :hatched="hatched"
    :ring="ring"
    @done="emit('done')"
  />
</template>
