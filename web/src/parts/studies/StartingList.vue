<script setup lang="ts">
import type { Schemas } from "@/api/client";
import StartingPage from "@/parts/studies/StartingPage.vue";

/** Palettes to start from: one that is hovered or focused is looked at, one that is clicked is made. */
defineProps<{ starting: Schemas["StartingOut"][]; isBusy: boolean }>();
const emit = defineEmits<{ start: [name: string]; peek: [name: string]; leave: [] }>();
</script>

<template>
  <ul class="starting">
    <li v-for="one in starting" :key="one.name">
      <button
        type="button"
        :disabled="isBusy"
        @click="emit('start', one.name)"
        @pointerenter="emit('peek', one.name)"
        @pointerleave="emit('leave')"
        @focus="emit('peek', one.name)"
        @blur="emit('leave')"
      >
        <starting-page :start="one" />
        {{ one.name }}<span class="unseen">{{ one.is_dark ? ", dark" : ", light" }}</span>
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
.starting {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 4px;
}
.starting button {
  display: flex;
  gap: 8px;
  align-items: center;
  width: 100%;
  padding: 3px;
  border: 1px solid var(--rule);
  background: var(--raised);
  font-size: 13px;
  text-align: left;
  cursor: pointer;
}
</style>
