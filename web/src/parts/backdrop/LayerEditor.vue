<script setup lang="ts">
import { computed, watch } from "vue";
import type { Schemas } from "@/api/client";
import { kindOf, LAYER_NAMES, type Layer, type LayerKind, type Paint, type Side } from "@/logic/backdrop";
import GlowEditor from "@/parts/backdrop/GlowEditor.vue";
import GradientEditor from "@/parts/backdrop/GradientEditor.vue";
import PaintChoice from "@/parts/backdrop/PaintChoice.vue";
import PatternEditor from "@/parts/backdrop/PatternEditor.vue";
import PictureEditor from "@/parts/backdrop/PictureEditor.vue";
import VeilEditor from "@/parts/backdrop/VeilEditor.vue";

/** What one layer is made of. */
const props = defineProps<{
  layer: Layer;
  all: Schemas["BackdropsOut"];
  colourOf: (paint: Paint) => string;
  /** The least a veil may be that nothing is hard to read, once it is known. */
  least: number | null;
  /** The colours of text that lie on it, and the contrast each needs. */
  inks: { colour: string; required: number }[];
  /** The sides of its place that the topmost picture leaves bare. */
  bare: Side[];
}>();
const emit = defineEmits<{ change: [layer: Layer, isDone: boolean]; focus: []; edge: [] }>();
const kind = computed(() => kindOf(props.layer));
/** The layer as it was sent last: letting go may come before it has come back. */
let last = props.layer;
watch(
  () => props.layer,
  (layer) => (last = layer),
);

function send(layer: Layer, isDone: boolean): void {
  last = { ...layer, off: props.layer.off };
  emit("change", last, isDone);
}
const put = (of: LayerKind, some: object, isDone = true) =>
  send({ [of]: { ...(last[of] as object), ...some } } as Layer, isDone);
const done = () => emit("change", last, true);
</script>

<template>
  <section class="LayerEditor layer" :aria-label="LAYER_NAMES[kind]">
    <h3>{{ LAYER_NAMES[kind] }}</h3>
    <p v-if="layer.colour != null" class="row">
      <span>Colour</span
      ><paint-choice label="Colour" :model-value="layer.colour" @update:model-value="send({ colour: $event }, true)" />
    </p>
    <gradient-editor
      v-if="layer.gradient"
      :gradient="layer.gradient"
      :colour-of="colourOf"
      :inks="inks"
      @put="(some, isDone) => put('gradient', some, isDone)"
      @done="done"
    />
    <picture-editor
      v-if="layer.picture"
      :picture="layer.picture"
      :all="all"
      :bare="bare"
      @put="(some, isDone) => put('picture', some, isDone)"
      @done="done"
      @focus="emit('focus')"
      @edge="emit('edge')"
    />
    <pattern-editor
      v-if="layer.pattern"
      :pattern="layer.pattern"
      :all="all"
      @put="(some, isDone) => put('pattern', some, isDone)"
      @done="done"
    />
    <glow-editor v-if="layer.glow" :glow="layer.glow" @put="(some, isDone) => put('glow', some, isDone)" @done="done" />
    <veil-editor
      v-if="layer.veil"
      :veil="layer.veil"
      :colour-of="colourOf"
      :least="least"
      @put="(some, isDone) => put('veil', some, isDone)"
      @done="done"
    />
  </section>
</template>

<style scoped src="./layer.css"></style>
