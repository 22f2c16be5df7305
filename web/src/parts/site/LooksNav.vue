<script setup lang="ts">
import { RouterLink } from "vue-router";

/** The three looks at a site, in their order. */
const LOOKS = [
  { name: "came-in", label: "Site" },
  { name: "found", label: "Colours found" },
  { name: "palette", label: "What each colour is for" },
];
</script>

<template>
  <nav class="LooksNav" aria-label="About this site">
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
