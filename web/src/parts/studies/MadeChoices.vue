<script setup lang="ts">
import type { Made } from "@/composables/useMaking";
import { count } from "@/logic/words";

/** The palettes that were made, to choose one that is tried on the pages. */
defineProps<{ made: Made[] }>();
const tried = defineModel<Made | null>({ required: true });
const reads = (hard: number) =>
  hard ? `${count(hard, "text")} ${hard === 1 ? "stays" : "stay"} hard to read` : "everything is readable";
</script>

<template>
  <ul class="choices">
    <li v-for="one in made" :key="one.name">
      <button type="button" :aria-pressed="tried === one" @click="tried = one">
        <span class="strip" aria-hidden="true"
          ><i v-for="(part, n) in one.colours" :key="n" :style="{ background: part.colour, flexGrow: part.share }"
        /></span>
        <b>{{ one.name }}</b>
        <span>{{ one.about }}</span>
        <span class="soft"
          >{{ reads(one.hard_texts)
          }}{{ Object.keys(one.fades).length ? "; what your pages fade is faded less" : "" }}</span
        >
      </button>
    </li>
  </ul>
</template>

<style scoped>
ul {
  margin: 0;
  padding: 0;
  list-style: none;
}
.choices {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(220px, 1fr));
  gap: 10px;
}
.choices button {
  display: grid;
  gap: 4px;
  align-content: start;
  width: 100%;
  height: 100%;
  padding: 8px;
  border: 1px solid var(--rule);
  background: var(--raised);
  font-size: 13px;
  text-align: left;
  cursor: pointer;
}
.choices button[aria-pressed="true"] {
  border-color: var(--ink);
  box-shadow: inset 0 0 0 1px var(--ink);
}
.strip {
  display: flex;
  height: 34px;
}
</style>
