<script setup lang="ts">
import { computed } from "vue";
import type { Paint, Veil } from "@/logic/backdrop";
import PaintChoice from "@/parts/backdrop/PaintChoice.vue";
import ShareSlider from "@/parts/backdrop/ShareSlider.vue";

/** An even cover, with the least it may be once that is known. */
const props = defineProps<{
  veil: Veil;
  colourOf: (paint: Paint) => string;
  /** The least a veil may be that nothing is hard to read, once it is known. */
  least: number | null;
}>();
const emit = defineEmits<{ put: [some: Partial<Veil>, isDone: boolean]; done: [] }>();
const put = (some: Partial<Veil>, isDone = true) => emit("put", some, isDone);
const strength = computed(() => (props.veil.opacity === "least" ? (props.least ?? 0) : props.veil.opacity));
</script>

<template>
  <div class="VeilEditor layer">
    <share-slider
      label="Strength"
      :colours="['transparent', colourOf(veil.colour)]"
      :hatched="least ? [[0, least]] : []"
      :ring="least"
      :model-value="strength"
      @update:model-value="put({ opacity: $event }, false)"
      @done="emit('done')"
    />
    <div class="row">
      <span>Colour</span
      ><paint-choice label="Colour" :model-value="veil.colour" @update:model-value="put({ colour: $event })" />
    </div>
    <p v-if="least !== null" class="soft">
      Hatched: some text here is hard to read. Ring: the least veil with which it is not.
    </p>
  </div>
</template>

<style scoped src="./layer.css"></style>
