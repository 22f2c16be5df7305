<script setup lang="ts">
import type { Paint, Plate } from "@/logic/backdrop";
import { count } from "@/logic/words";
import PaintChoice from "@/parts/backdrop/PaintChoice.vue";
import ShareSlider from "@/parts/backdrop/ShareSlider.vue";

/** A colour right behind some texts: which, how strong, or none any more. */
const props = defineProps<{ colourOf: (paint: Paint) => string }>();
const plate = defineModel<Plate | null>({ required: true });
const emit = defineEmits<{ done: [] }>();

function put(next: Plate | null, isDone: boolean): void {
  plate.value = next;
  if (isDone) emit("done");
}
</script>

<template>
  <template v-if="plate">
    <h3>Right behind {{ count(plate.behind.length, "kind") }} of text</h3>
    <share-slider
      label="How strong the plate is"
      :colours="['transparent', props.colourOf(plate.colour)]"
      :model-value="plate.opacity"
      @update:model-value="put({ ...plate, opacity: $event }, false)"
      @done="emit('done')"
    />
    <paint-choice
      label="Colour of the plate"
      :model-value="plate.colour"
      @update:model-value="put({ ...plate, colour: $event }, true)"
    />
    <p><button type="button" class="act" @click="put(null, true)">Remove the plate</button></p>
  </template>
</template>
