<script setup lang="ts">
import { ElCheckbox, ElOption, ElSelect } from "element-plus";
import { computed } from "vue";
import type { Schemas } from "@/api/client";
import { atSides, BLENDS, FITS, type Picture, type Side } from "@/logic/backdrop";
import FocusPoint from "@/parts/backdrop/FocusPoint.vue";
import ShareSlider from "@/parts/backdrop/ShareSlider.vue";

/** A picture: what of it stays in view, its size, how strong it is. */
const props = defineProps<{
  picture: Picture;
  all: Schemas["BackdropsOut"];
  /** The sides of its place that the topmost picture leaves bare. */
  bare: Side[];
}>();
const emit = defineEmits<{ put: [some: Partial<Picture>, isDone: boolean]; done: []; focus: []; edge: [] }>();
const put = (some: Partial<Picture>, isDone = true) => emit("put", some, isDone);
const source = computed(() => props.all.pictures.find((one) => one.path === props.picture.file));
</script>

<template>
  <div class="PictureEditor layer">
    <focus-point
      v-if="source"
      label="What stays in view"
      :src="source.address"
      :model-value="picture.at"
      @update:model-value="put({ at: $event }, false)"
      @done="emit('done')"
    />
    <p class="soft">
      The ring is what stays in view.
      <button type="button" class="act" @click="emit('focus')">Find where the text reads best</button>
    </p>
    <div class="row">
      <span>Size</span>
      <el-select
        :model-value="picture.fit"
        size="small"
        aria-label="Size"
        append-to="#dialogs"
        @update:model-value="put({ fit: $event, scale: 1 })"
      >
        <el-option v-for="(label, fit) in FITS" :key="fit" :value="fit" :label="label" />
      </el-select>
    </div>
    <p v-if="picture.fit === 'tile' && source?.is_own" class="soft">
      {{ source.is_seamless ? "Its edges meet: no seam shows." : "Its edges do not meet: seams will show." }}
    </p>
    <p v-else-if="bare.length" class="soft">
      It leaves its place bare {{ atSides(bare) }}: the base colour shows there.
      <button type="button" class="act" @click="put({ fit: 'cover', scale: 1 })">Fill it</button>{{ " " }}
      <button type="button" class="act" @click="emit('edge')">Base colour from its edge</button>
    </p>
    <share-slider
      v-if="picture.fit !== 'contain'"
      :label="['tile', 'natural'].includes(picture.fit) ? 'Scale' : 'Closer'"
      unit="times"
      :min="['tile', 'natural'].includes(picture.fit) ? 0.1 : 1"
      :max="4"
      :step="0.05"
      :model-value="picture.scale"
      @update:model-value="put({ scale: $event }, false)"
      @done="emit('done')"
    />
    <share-slider
      label="Strength"
      :model-value="picture.opacity"
      @update:model-value="put({ opacity: $event }, false)"
      @done="emit('done')"
    />
    <share-slider
      label="Colour"
      :model-value="picture.strength"
      @update:model-value="put({ strength: $event }, false)"
      @done="emit('done')"
    />
    <share-slider
      label="Lightness"
      :min="-1"
      :colours="['#000', '#fff']"
      :model-value="picture.lightness"
      @update:model-value="put({ lightness: $event }, false)"
      @done="emit('done')"
    />
    <div class="row">
      <span>Over what is below</span>
      <el-select
        :model-value="picture.blend"
        size="small"
        aria-label="Over what is below"
        append-to="#dialogs"
        @update:model-value="put({ blend: $event })"
      >
        <el-option v-for="(label, blend) in BLENDS" :key="blend" :value="blend" :label="label" />
      </el-select>
    </div>
    <el-checkbox :model-value="picture.fixed" @update:model-value="put({ fixed: !!$event })"
      >Stays still while the page scrolls</el-checkbox
    >
  </div>
</template>

<style scoped src="./layer.css"></style>
