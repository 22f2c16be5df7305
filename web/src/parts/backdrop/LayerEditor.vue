<script setup lang="ts">
import { ElCheckbox, ElOption, ElRadioButton, ElRadioGroup, ElSelect } from "element-plus";
import { computed, ref, watch } from "vue";
import type { Schemas } from "@/api/client";
import {
  atSides,
  BLENDS,
  FITS,
  type Gradient,
  kindOf,
  LAYER_NAMES,
  type Layer,
  type Paint,
  type Pattern,
  type Picture,
  type Side,
} from "@/logic/backdrop";
import FocusPoint from "@/parts/backdrop/FocusPoint.vue";
import GradientTrack from "@/parts/backdrop/GradientTrack.vue";
import PaintChoice from "@/parts/backdrop/PaintChoice.vue";
import ShareSlider from "@/parts/backdrop/ShareSlider.vue";

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
const stop = ref(0);
const kind = computed(() => kindOf(props.layer));
watch(kind, () => (stop.value = 0));

const put = (layer: Layer, isDone = true) => emit("change", { ...layer, off: props.layer.off }, isDone);
const done = () => emit("change", props.layer, true);
const gradient = (some: Partial<Gradient>, isDone = true) =>
  put({ gradient: { ...props.layer.gradient!, ...some } }, isDone);
const picture = (some: Partial<Picture>, isDone = true) =>
  put({ picture: { ...props.layer.picture!, ...some } }, isDone);
const pattern = (some: Partial<Pattern>, isDone = true) =>
  put({ pattern: { ...props.layer.pattern!, ...some } }, isDone);
const source = computed(() => props.all.pictures.find((one) => one.path === props.layer.picture?.file));
const families = computed(() => [...new Set(props.all.patterns.map((one) => one.family))]);
const stopColour = computed({
  get: () => props.layer.gradient?.stops[stop.value]?.colour ?? "#ffffff",
  set: (colour: Paint) =>
    gradient({ stops: props.layer.gradient!.stops.map((one, n) => (n === stop.value ? { ...one, colour } : one)) }),
});
</script>

<template>
  <section class="LayerEditor" :aria-label="LAYER_NAMES[kind]">
    <h3>{{ LAYER_NAMES[kind] }}</h3>
    <p v-if="layer.colour !== undefined" class="row">
      <span>Colour</span
      ><paint-choice label="Colour" :model-value="layer.colour" @update:model-value="put({ colour: $event })" />
    </p>
    <template v-if="layer.gradient">
      <gradient-track
        v-model:chosen="stop"
        :model-value="layer.gradient.stops"
        :colour-of="colourOf"
        :inks="inks"
        @update:model-value="gradient({ stops: $event }, false)"
        @done="done"
      />
      <div class="row"><span>This stop</span><paint-choice v-model="stopColour" label="Colour of this stop" /></div>
      <el-radio-group
        :model-value="layer.gradient.kind"
        size="small"
        aria-label="Kind of gradient"
        @update:model-value="gradient({ kind: $event as Gradient['kind'] })"
      >
        <el-radio-button value="linear">Straight</el-radio-button>
        <el-radio-button value="radial">Round</el-radio-button>
        <el-radio-button value="conic">Turning</el-radio-button>
      </el-radio-group>
      <share-slider
        v-if="layer.gradient.kind !== 'radial'"
        label="Direction"
        unit="degrees"
        :max="360"
        :step="1"
        :model-value="layer.gradient.angle"
        @update:model-value="gradient({ angle: $event }, false)"
        @done="done"
      />
      <share-slider
        v-else
        label="Reach"
        :min="0.05"
        :max="2"
        :model-value="layer.gradient.reach"
        @update:model-value="gradient({ reach: $event }, false)"
        @done="done"
      />
      <template v-if="layer.gradient.kind !== 'linear'">
        <share-slider
          label="Across"
          :model-value="layer.gradient.place[0]"
          @update:model-value="gradient({ place: [$event, layer.gradient.place[1]] }, false)"
          @done="done"
        />
        <share-slider
          label="Down"
          :model-value="layer.gradient.place[1]"
          @update:model-value="gradient({ place: [layer.gradient.place[0], $event] }, false)"
          @done="done"
        />
      </template>
    </template>
    <template v-if="layer.picture">
      <focus-point
        v-if="source"
        label="What stays in view"
        :src="source.address"
        :model-value="layer.picture.at"
        @update:model-value="picture({ at: $event }, false)"
        @done="done"
      />
      <p class="soft">
        The ring is what stays in view.
        <button type="button" class="act" @click="emit('focus')">Find where the text reads best</button>
      </p>
      <div class="row">
        <span>Size</span>
        <el-select
          :model-value="layer.picture.fit"
          size="small"
          aria-label="Size"
          append-to="#dialogs"
          @update:model-value="picture({ fit: $event })"
        >
          <el-option v-for="(label, fit) in FITS" :key="fit" :value="fit" :label="label" />
        </el-select>
      </div>
      <p v-if="layer.picture.fit === 'tile' && source?.is_own" class="soft">
        {{ source.is_seamless ? "Its edges meet: no seam shows." : "Its edges do not meet: seams will show." }}
      </p>
      <p v-else-if="bare.length" class="soft">
        It leaves its place bare {{ atSides(bare) }}: the base colour shows there.
        <button type="button" class="act" @click="picture({ fit: 'cover' })">Fill it</button>{{ " " }}
        <button type="button" class="act" @click="emit('edge')">Base colour from its edge</button>
      </p>
      <share-slider
        v-if="layer.picture.fit !== 'contain'"
        :label="['tile', 'natural'].includes(layer.picture.fit) ? 'Scale' : 'Closer'"
        unit="times"
        :min="['tile', 'natural'].includes(layer.picture.fit) ? 0.1 : 1"
        :max="4"
        :step="0.05"
        :model-value="layer.picture.scale"
        @update:model-value="picture({ scale: $event }, false)"
        @done="done"
      />
      <share-slider
        label="Strength"
        :model-value="layer.picture.opacity"
        @update:model-value="picture({ opacity: $event }, false)"
        @done="done"
      />
      <share-slider
        label="Colour"
        :model-value="layer.picture.strength"
        @update:model-value="picture({ strength: $event }, false)"
        @done="done"
      />
      <share-slider
        label="Lightness"
        :min="-1"
        :colours="['#000', '#fff']"
        :model-value="layer.picture.lightness"
        @update:model-value="picture({ lightness: $event }, false)"
        @done="done"
      />
      <div class="row">
        <span>Over what is below</span>
        <el-select
          :model-value="layer.picture.blend"
          size="small"
          aria-label="Over what is below"
          append-to="#dialogs"
          @update:model-value="picture({ blend: $event })"
        >
          <el-option v-for="(label, blend) in BLENDS" :key="blend" :value="blend" :label="label" />
        </el-select>
      </div>
      <el-checkbox :model-value="layer.picture.fixed" @update:model-value="picture({ fixed: !!$event })"
        >Stays while the page scrolls</el-checkbox
      >
    </template>
    <template v-if="layer.pattern">
      <div v-for="family in families" :key="family" class="tiles" role="group" :aria-label="family">
        <button
          v-for="one in all.patterns.filter((p) => p.family === family)"
          :key="one.name"
          type="button"
          :aria-label="one.name"
          :title="one.name"
          :aria-pressed="one.name === layer.pattern.name"
          :style="{ backgroundImage: `url(/api/patterns/${one.name})` }"
          @click="pattern({ name: one.name })"
        />
      </div>
      <div class="row">
        <span>Colour</span
        ><paint-choice
          label="Colour"
          :model-value="layer.pattern.colour"
          @update:model-value="pattern({ colour: $event })"
        />
      </div>
      <share-slider
        label="Strength"
        :model-value="layer.pattern.opacity"
        @update:model-value="pattern({ opacity: $event }, false)"
        @done="done"
      />
      <share-slider
        label="Scale"
        unit="times"
        :min="0.25"
        :max="6"
        :step="0.25"
        :model-value="layer.pattern.scale"
        @update:model-value="pattern({ scale: $event }, false)"
        @done="done"
      />
      <share-slider
        v-if="!layer.pattern.drift"
        label="Turned"
        unit="degrees"
        :max="359"
        :step="1"
        :model-value="layer.pattern.turn"
        @update:model-value="pattern({ turn: $event }, false)"
        @done="done"
      />
      <el-checkbox
        :model-value="!!layer.pattern.drift"
        @update:model-value="pattern({ turn: 0, drift: $event ? { towards: 90, seconds: 40 } : null })"
      >
        Drifts slowly
      </el-checkbox>
      <p v-if="layer.pattern.drift" class="soft">It stands still for visitors who ask for less movement.</p>
      <template v-if="layer.pattern.drift">
        <share-slider
          label="Towards"
          unit="degrees"
          :max="360"
          :step="45"
          :model-value="layer.pattern.drift.towards"
          @update:model-value="pattern({ drift: { ...layer.pattern.drift!, towards: $event } }, false)"
          @done="done"
        />
        <share-slider
          label="A tile takes"
          unit="seconds"
          :min="4"
          :max="120"
          :step="1"
          :model-value="layer.pattern.drift.seconds"
          @update:model-value="pattern({ drift: { ...layer.pattern.drift!, seconds: $event } }, false)"
          @done="done"
        />
      </template>
    </template>
    <template v-if="layer.glow">
      <div class="row">
        <span>Colour</span
        ><paint-choice
          label="Colour"
          :model-value="layer.glow.colour"
          @update:model-value="put({ glow: { ...layer.glow!, colour: $event } })"
        />
      </div>
      <share-slider
        label="Strength"
        :model-value="layer.glow.opacity"
        @update:model-value="put({ glow: { ...layer.glow!, opacity: $event } }, false)"
        @done="done"
      />
      <share-slider
        label="Reach"
        :min="0.05"
        :max="2"
        :model-value="layer.glow.reach"
        @update:model-value="put({ glow: { ...layer.glow!, reach: $event } }, false)"
        @done="done"
      />
      <share-slider
        label="Across"
        :model-value="layer.glow.at[0]"
        @update:model-value="put({ glow: { ...layer.glow!, at: [$event, layer.glow!.at[1]] } }, false)"
        @done="done"
      />
      <share-slider
        label="Down"
        :model-value="layer.glow.at[1]"
        @update:model-value="put({ glow: { ...layer.glow!, at: [layer.glow!.at[0], $event] } }, false)"
        @done="done"
      />
    </template>
    <template v-if="layer.veil">
      <share-slider
        label="Strength"
        :colours="['transparent', colourOf(layer.veil.colour)]"
        :hatched="least ? [[0, least]] : []"
        :ring="least"
        :model-value="layer.veil.opacity"
        @update:model-value="put({ veil: { ...layer.veil!, opacity: $event } }, false)"
        @done="done"
      />
      <div class="row">
        <span>Colour</span
        ><paint-choice
          label="Colour"
          :model-value="layer.veil.colour"
          @update:model-value="put({ veil: { ...layer.veil!, colour: $event } })"
        />
      </div>
      <p v-if="least !== null" class="soft">
        Hatched: some text here is hard to read. Ring: the least veil with which it is not.
      </p>
    </template>
  </section>
</template>

<style scoped>
.LayerEditor {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 8px;
  align-content: start;
}
.row {
  display: grid;
  grid-template-columns: 96px minmax(0, 1fr);
  gap: 10px;
  align-items: center;
}
.soft {
  font-size: 13px;
}
.tiles {
  display: grid;
  grid-template-columns: repeat(6, 1fr);
  gap: 5px;
}
.tiles button {
  height: 34px;
  border: 1px solid var(--edge);
  background-color: var(--raised);
  background-size: 24px auto;
  cursor: pointer;
}
.tiles button[aria-pressed="true"] {
  outline: 2px solid var(--ink);
  outline-offset: 1px;
}
</style>
