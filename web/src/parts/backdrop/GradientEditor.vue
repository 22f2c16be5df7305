<script setup lang="ts">
import { ElRadioButton, ElRadioGroup } from "element-plus";
import { computed, ref } from "vue";
import type { Gradient, Paint } from "@/logic/backdrop";
import GradientTrack from "@/parts/backdrop/GradientTrack.vue";
import PaintChoice from "@/parts/backdrop/PaintChoice.vue";
import ShareSlider from "@/parts/backdrop/ShareSlider.vue";

/** A gradient: its stops, its kind, where it lies. */
const props = defineProps<{
  gradient: Gradient;
  colourOf: (paint: Paint) => string;
  /** The colours of text that lie on it, and the contrast each needs. */
  inks: { colour: string; required: number }[];
}>();
const emit = defineEmits<{ put: [some: Partial<Gradient>, isDone: boolean]; done: [] }>();
const put = (some: Partial<Gradient>, isDone = true) => emit("put", some, isDone);
const stop = ref(0);
const stopColour = computed({
  get: () => props.gradient.stops[stop.value]?.colour ?? "#ffffff",
  set: (colour: Paint) =>
    put({ stops: props.gradient.stops.map((one, n) => (n === stop.value ? { ...one, colour } : one)) }),
});
</script>

<template>
  <div class="GradientEditor layer">
    <gradient-track
      v-model:chosen="stop"
      :model-value="gradient.stops"
      :colour-of="colourOf"
      :inks="inks"
      @update:model-value="put({ stops: $event }, false)"
      @done="emit('done')"
    />
    <div class="row"><span>This stop</span><paint-choice v-model="stopColour" label="Colour of this stop" /></div>
    <el-radio-group
      :model-value="gradient.kind"
      size="small"
      aria-label="Kind of gradient"
      @update:model-value="put({ kind: $event as Gradient['kind'] })"
    >
      <el-radio-button value="linear">Straight</el-radio-button>
      <el-radio-button value="radial">Round</el-radio-button>
      <el-radio-button value="conic">Turning</el-radio-button>
    </el-radio-group>
    <share-slider
      v-if="gradient.kind !== 'radial'"
      label="Direction"
      unit="degrees"
      :max="360"
      :step="1"
      :model-value="gradient.angle"
      @update:model-value="put({ angle: $event }, false)"
      @done="emit('done')"
    />
    <share-slider
      v-else
      label="Reach"
      :min="0.05"
      :max="2"
      :model-value="gradient.reach"
      @update:model-value="put({ reach: $event }, false)"
      @done="emit('done')"
    />
    <template v-if="gradient.kind !== 'linear'">
      <share-slider
        label="Across"
        :model-value="gradient.place[0]"
        @update:model-value="put({ place: [$event, gradient.place[1]] }, false)"
        @done="emit('done')"
      />
      <share-slider
        label="Down"
        :model-value="gradient.place[1]"
        @update:model-value="put({ place: [gradient.place[0], $event] }, false)"
        @done="emit('done')"
      />
    </template>
  </div>
</template>

<style scoped src="./layer.css"></style>
