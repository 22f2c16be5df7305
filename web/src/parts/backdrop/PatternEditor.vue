<script setup lang="ts">
import { ElCheckbox } from "element-plus";
import { computed } from "vue";
import type { Schemas } from "@/api/client";
import type { Pattern } from "@/logic/backdrop";
import PaintChoice from "@/parts/backdrop/PaintChoice.vue";
import ShareSlider from "@/parts/backdrop/ShareSlider.vue";

/** A drawn pattern: which, its colour, its size, whether it drifts. */
const props = defineProps<{ pattern: Pattern; all: Schemas["BackdropsOut"] }>();
const emit = defineEmits<{ put: [some: Partial<Pattern>, isDone: boolean]; done: [] }>();
const put = (some: Partial<Pattern>, isDone = true) => emit("put", some, isDone);
const families = computed(() => [...new Set(props.all.patterns.map((one) => one.family))]);
</script>

<template>
  <div class="PatternEditor layer">
    <div v-for="family in families" :key="family" class="tiles" role="group" :aria-label="family">
      <button
        v-for="one in all.patterns.filter((p) => p.family === family)"
        :key="one.name"
        type="button"
        :aria-label="one.name"
        :title="one.name"
        :aria-pressed="one.name === pattern.name"
        :style="{ backgroundImage: `url(/api/patterns/${one.name})` }"
        @click="put({ name: one.name })"
      />
    </div>
    <div class="row">
      <span>Colour</span
      ><paint-choice label="Colour" :model-value="pattern.colour" @update:model-value="put({ colour: $event })" />
    </div>
    <share-slider
      label="Strength"
      :model-value="pattern.opacity"
      @update:model-value="put({ opacity: $event }, false)"
      @done="emit('done')"
    />
    <share-slider
      label="Scale"
      unit="times"
      :min="0.25"
      :max="6"
      :step="0.25"
      :model-value="pattern.scale"
      @update:model-value="put({ scale: $event }, false)"
      @done="emit('done')"
    />
    <share-slider
      v-if="!pattern.drift"
      label="Turned"
      unit="degrees"
      :max="359"
      :step="1"
      :model-value="pattern.turn"
      @update:model-value="put({ turn: $event }, false)"
      @done="emit('done')"
    />
    <el-checkbox
      :model-value="!!pattern.drift"
      @update:model-value="put({ turn: 0, drift: $event ? { towards: 90, seconds: 40 } : null })"
    >
      Drifts slowly
    </el-checkbox>
    <p v-if="pattern.drift" class="soft">It stands still for visitors who ask for less movement.</p>
    <template v-if="pattern.drift">
      <share-slider
        label="Towards"
        unit="degrees"
        :max="360"
        :step="45"
        :model-value="pattern.drift.towards"
        @update:model-value="put({ drift: { ...pattern.drift!, towards: $event } }, false)"
        @done="emit('done')"
      />
      <share-slider
        label="A tile takes"
        unit="seconds"
        :min="4"
        :max="120"
        :step="1"
        :model-value="pattern.drift.seconds"
        @update:model-value="put({ drift: { ...pattern.drift!, seconds: $event } }, false)"
        @done="emit('done')"
      />
    </template>
  </div>
</template>

<style scoped src="./layer.css"></style>
<style scoped>
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
