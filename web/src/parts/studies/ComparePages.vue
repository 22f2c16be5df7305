<script setup lang="ts">
import { computed } from "vue";
import type { Schemas } from "@/api/client";
import CompareColumn from "@/parts/studies/CompareColumn.vue";

/** All pages twice: under one study, and beside it under the other. */
const props = defineProps<{ sides: Schemas["ComparedSide"][] }>();
const both = computed(() => props.sides);
</script>

<template>
  <div class="ComparePages">
    <compare-column v-for="side in both" :key="side.number" :side="side" />
  </div>
</template>

<style scoped>
.ComparePages {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 10px;
}
</style>
