<script setup lang="ts">
import { computed } from "vue";
import type { Schemas } from "@/api/client";
import ReadMark from "@/parts/common/ReadMark.vue";
import { count } from "@/logic/words";

/** A logo or icon that is hard to see on what now lies behind it, and what would bring it back. */
const props = defineProps<{ lost: Schemas["LostMarkOut"]; isAsked: boolean }>();
const emit = defineEmits<{ take: [way: Schemas["LostMarkOut"]["ways"][number]] }>();

const WAYS = {
  other: "Show the site’s other version of it",
  plate: "Put a plate behind it",
  light: "Turn it white",
  dark: "Turn it black",
} as const;
const name = computed(() => {
  if (props.lost.kind !== "drawing") return `The picture ${props.lost.source.split("/").at(-1)}`;
  return props.lost.words ? `The drawing “${props.lost.words}”` : "A drawing";
});
const title = computed(() => name.value + (props.lost.place ? `, in ${props.lost.place}` : ""));
</script>

<template>
  <li class="LostMark">
    <p class="sample" :style="{ background: lost.under }" data-specimen>
      <img v-if="lost.address" :src="lost.address" :alt="lost.words" height="28" />
      <i v-for="colour in lost.address ? [] : lost.colours" :key="colour" :style="{ background: colour }" />
    </p>
    <p class="pair">
      <read-mark verdict="fail" :ratio="lost.ratio" tagged /> <b>{{ title }}</b>
    </p>
    <p class="soft">
      Hard to see on {{ count(lost.pages.length, "page") }}: its colours hardly differ from what is behind.
    </p>
    <p v-if="isAsked" class="ways">
      <button v-for="way in lost.ways" :key="way" type="button" class="act" @click="emit('take', way)">
        {{ WAYS[way] }}
      </button>
    </p>
  </li>
</template>

<style scoped>
.LostMark {
  padding: 9px 0;
  border-top: 1px solid var(--rule);
}
.sample {
  padding: 6px 8px;
  border: 1px solid var(--edge);
}
.sample img {
  display: block;
  max-width: 100%;
  object-fit: contain;
}
.sample i {
  display: inline-block;
  width: 28px;
  height: 18px;
  margin-right: 6px;
}
.ways {
  display: flex;
  gap: 12px;
}
</style>
