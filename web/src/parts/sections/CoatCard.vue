<script setup lang="ts">
import { nextTick, ref, useTemplateRef } from "vue";
import type { Schemas } from "@/api/client";
import ReadMark from "@/parts/common/ReadMark.vue";
import { count } from "@/logic/words";

/** A coat shown on words of the owner's own; chosen, it is given to the sections that are chosen. */
const props = defineProps<{
  coat: Schemas["MapCoat"];
  sample: Schemas["SampleWords"];
  /** Its places in the turns that are being put together, the first being 1. */
  turns: number[];
  /** Whether what is chosen was given anything. */
  isGiven: boolean;
}>();
const emit = defineEmits<{ give: []; takeOff: []; rename: [label: string]; remove: []; copy: [] }>();
const name = ref<string | null>(null);
const field = useTemplateRef<HTMLInputElement>("field");

async function edit(): Promise<void> {
  name.value = props.coat.label;
  await nextTick();
  field.value?.select();
}
function rename(): void {
  const label = name.value?.trim() ?? "";
  name.value = null;
  if (label && label !== props.coat.label) emit("rename", label);
}
</script>

<template>
  <li class="CoatCard" :data-coat="coat.id">
    <button
      type="button"
      class="crop"
      :style="{ background: coat.background, color: coat.text }"
      draggable="true"
      data-specimen
      @click="emit('give')"
      @dragstart="$event.dataTransfer?.setData('text/plain', coat.id || 'plain')"
    >
      <span class="unseen">Give the chosen sections {{ coat.label }}: </span>
      <b :style="{ color: coat.heading }">{{ sample.heading }}</b>
      <span
        >{{ sample.text }} <u :style="{ color: coat.link }">{{ sample.link }}</u></span
      >
      <i v-if="turns.length" class="turn">{{ turns.join(", ") }}</i>
    </button>
    <p class="name">
      <input
        v-if="name !== null"
        ref="field"
        v-model="name"
        maxlength="80"
        aria-label="Name of the coat"
        @blur="rename"
        @keydown.enter="rename"
        @keydown.esc="name = null"
      />
      <template v-else>
        <b>{{ coat.label }}</b>
        <read-mark :verdict="coat.verdict" :ratio="coat.lowest" />
      </template>
    </p>
    <p class="soft">
      {{ coat.wearers ? `${count(coat.wearers, "place")} · ${count(coat.pages, "page")}` : "on no section" }}
    </p>
    <p v-if="coat.id" class="acts">
      <button type="button" class="act" :aria-label="`Rename ${coat.label}`" @click="edit">rename</button>
      <button type="button" class="act" :aria-label="`Copy ${coat.label}`" @click="emit('copy')">copy</button>
      <button v-if="!coat.came" type="button" class="act" :aria-label="`Delete ${coat.label}`" @click="emit('remove')">
        delete
      </button>
    </p>
    <p v-else-if="isGiven" class="acts">
      <button type="button" class="act" aria-label="The chosen sections as they came" @click="emit('takeOff')">
        as they came
      </button>
    </p>
  </li>
</template>

<style scoped>
.CoatCard {
  flex: 0 0 176px;
  border: 1px solid var(--edge);
  background: var(--raised);
}
.crop {
  position: relative;
  display: block;
  overflow: hidden;
  width: 100%;
  height: 84px;
  padding: 9px 11px;
  border: 0;
  font-size: 11px;
  line-height: 1.4;
  text-align: left;
  cursor: grab;
}
.crop b {
  display: block;
  overflow: hidden;
  font-size: 13px;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.turn {
  position: absolute;
  top: 6px;
  right: 6px;
  padding: 1px 6px;
  background: var(--ink);
  color: var(--paper);
  font-style: normal;
  font-weight: 700;
}
.CoatCard p {
  padding: 0 10px;
  font-size: 12px;
}
.name {
  display: flex;
  gap: 8px;
  align-items: center;
  margin-top: 5px;
}
.name b {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.name input {
  width: 100%;
}
.CoatCard .acts {
  display: flex;
  gap: 10px;
  padding-bottom: 6px;
}
</style>
