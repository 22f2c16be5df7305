<script setup lang="ts">
import type { Schemas } from "@/api/client";

/** A palette to start from, drawn as a small page: header, heading, text, a button, a section, the footer. */
defineProps<{ start: Schemas["StartingOut"] }>();
</script>

<template>
  <svg class="StartingPage" viewBox="0 0 64 44" width="64" height="44" aria-hidden="true">
    <rect width="64" height="44" :fill="start.page" />
    <rect width="64" height="6" :fill="start.dark" />
    <rect x="6" y="10" width="26" height="3" :fill="start.heading" />
    <g :fill="start.text">
      <rect x="6" y="15.5" width="34" height="1.2" />
      <rect x="6" y="18" width="30" height="1.2" />
    </g>
    <rect x="6" y="21.5" width="13" height="4.5" rx="1" :fill="start.accent" />
    <rect y="29" width="64" height="9" :fill="start.section" />
    <rect x="6" y="32" width="30" height="1.2" :fill="start.text" />
    <rect x="6" y="34.5" width="22" height="1.2" :fill="start.text" />
    <rect y="38" width="64" height="6" :fill="start.dark" />
  </svg>
</template>

<style scoped>
.StartingPage {
  flex: none;
  border: 1px solid var(--edge);
}
</style>
