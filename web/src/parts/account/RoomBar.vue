<script setup lang="ts">
import { computed, onMounted, shallowRef } from "vue";
import client, { ask, type Schemas } from "@/api/client";
import { count, sizeText } from "@/logic/words";

/** How much somebody has of what they may have; `from` is the share below which nothing is shown. */
const props = defineProps<{ from?: number }>();
const room = shallowRef<Schemas["RoomOut"] | null>(null);
onMounted(async () => {
  room.value = await ask(client.GET("/api/room")).catch(() => null);
});
const bars = computed(() => {
  if (!room.value) return [];
  const { sites, most_sites, bytes, most_bytes } = room.value;
  return [
    { label: "Sites", share: sites / most_sites, words: `${sites} of ${count(most_sites, "site")}` },
    { label: "Room", share: bytes / most_bytes, words: `${sizeText(bytes)} of ${sizeText(most_bytes)}` },
  ].filter((one) => one.share >= (props.from ?? 0));
});
</script>

<template>
  <div v-if="bars.length" class="RoomBar">
    <div v-for="one in bars" :key="one.label" class="bar">
      <span>{{ one.label }}</span>
      <span
        class="track"
        role="meter"
        :aria-label="one.label"
        aria-valuemin="0"
        aria-valuemax="100"
        :aria-valuenow="Math.min(100, Math.round(100 * one.share))"
        :aria-valuetext="one.words"
        ><i :style="{ width: `${Math.min(100, 100 * one.share)}%` }"
      /></span>
      <span class="soft">{{ one.words }}</span>
    </div>
  </div>
</template>

<style scoped>
.bar {
  display: grid;
  grid-template-columns: 50px minmax(80px, 220px) auto;
  gap: 12px;
  align-items: center;
  padding: 3px 0;
}
.track {
  height: 10px;
  border: 1px solid var(--edge);
  background: var(--raised);
}
.track i {
  display: block;
  height: 100%;
  background: var(--ink);
}
</style>
