<script setup lang="ts">
import { computed } from "vue";
import type { Finding } from "@/api/client";
import ReadMark from "@/parts/common/ReadMark.vue";
import { stateLabel } from "@/logic/words";

/** What a role is read with, each pairing in the site's own words. */
const props = defineProps<{ name: string; pairs: Finding[] }>();
const rows = computed(() => props.pairs.filter((pair) => pair.text.colour && pair.background.colour).slice(0, 40));
const isBackground = computed(() => rows.value.some((row) => row.background.role === props.name));
const title = computed(() => (isBackground.value ? "Text on this colour" : "Where it is read"));
const stateOf = (pair: Finding) => (pair.states.includes("rest") ? "" : stateLabel(pair.states[0] ?? ""));
</script>

<template>
  <div class="MixTrayReadOn" tabindex="0" role="region" :aria-label="title">
    <h2>{{ title }}</h2>
    <p v-if="!rows.length" class="soft">No text here.</p>
    <ul>
      <li v-for="(pair, place) in rows" :key="place" :style="{ background: pair.background.colour }">
        <span class="words" :style="{ color: pair.text.colour }" data-specimen>{{ pair.sample }}</span>
        <span class="figure">
          <span v-if="stateOf(pair)" class="state">{{ stateOf(pair) }}</span>
          <read-mark :verdict="pair.verdict" :ratio="pair.ratio" :tagged="pair.verdict === 'fail'" />
        </span>
      </li>
    </ul>
  </div>
</template>

<style scoped>
ul {
  margin: 0;
  padding: 0;
  list-style: none;
}
li {
  display: flex;
  gap: 8px;
  align-items: center;
  justify-content: space-between;
  margin-bottom: 4px;
  padding: 5px 6px 5px 9px;
  box-shadow: inset 0 0 0 1px #0002;
}
.words {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.figure {
  display: flex;
  flex: none;
  gap: 5px;
  align-items: center;
  padding: 0 4px;
  border-radius: 2px;
  background: var(--raised);
}
.state {
  color: var(--ink-soft);
  font-size: 12px;
}
</style>
