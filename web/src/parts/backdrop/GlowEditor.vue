<script setup lang="ts">
import type { Glow } from "@/logic/backdrop";
import PaintChoice from "@/parts/backdrop/PaintChoice.vue";
import ShareSlider from "@/parts/backdrop/ShareSlider.vue";

/** Light from a place: its colour, how strong it is, how far it reaches. */
defineProps<{ glow: Glow }>();
const emit = defineEmits<{ put: [some: Partial<Glow>, isDone: boolean]; done: [] }>();
const put = (some: Partial<Glow>, isDone = true) => emit("put", some, isDone);
</script>

<template>
  <div class="GlowEditor layer">
    <div class="row">
      <span>Colour</span
      ><paint-choice label="Colour" :model-value="glow.colour" @update:model-value="put({ colour: $event })" />
    </div>
    <share-slider
      label="Strength"
      :model-value="glow.opacity"
      @update:model-value="put({ opacity: $event }, false)"
      @done="emit('done')"
    />
    <share-slider
      label="Reach"
      :min="0.05"
      :max="2"
      :model-value="glow.reach"
      @update:model-value="put({ reach: $event }, false)"
      @done="emit('done')"
    />
    <share-slider
      label="Across"
      :model-value="glow.at[0]"
      @update:model-value="put({ at: [$event, glow.at[1]] }, false)"
      @done="emit('done')"
    />
    <share-slider
      label="Down"
      :model-value="glow.at[1]"
      @update:model-value="put({ at: [glow.at[0], $event] }, false)"
      @done="emit('done')"
    />
  </div>
</template>

<style scoped src="./layer.css"></style>
