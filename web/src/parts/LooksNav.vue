<script setup lang="ts">
import { RouterLink } from "vue-router";

/** The three looks at what was brought in, in their order. */
const LOOKS = [
  { name: "came-in", label: "What came in" },
  { name: "found", label: "Colours found" },
  { name: "palette", label: "Palette" },
];
</script>

<template>
  <nav class="LooksNav" aria-label="Looks at what was brought in">
    <router-link v-for="(look, place) in LOOKS" :key="look.name" :to="{ name: look.name }"
      >{{ place + 1 }} {{ look.label }}</router-link
    >
  </nav>
</template>

<style scoped>
.LooksNav {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
}
a {
  padding: 2px 0;
  text-decoration: none;
}
a:hover {
  text-decoration: underline;
}
a[aria-current="page"] {
  border-bottom: 2px solid var(--ink);
  font-weight: 700;
}
</style>
