<script setup lang="ts">
import type { Rail } from "@/logic/roles";
import { count } from "@/logic/words";
import { useStudy } from "@/stores/study";

/** The short palette at a glance: the site's colours, its sections', and how many are folded. */
defineProps<{ rail: Rail }>();
const study = useStudy();
</script>

<template>
  <section class="ShortPalette" aria-label="The short palette">
    <ul>
      <li v-for="tile in rail.site" :key="tile.role.id">
        <i :style="{ background: study.colourOf(tile.role.id) }" data-specimen />
        <b :title="tile.role.label">{{ tile.role.label }}</b>
      </li>
    </ul>
    <ul v-if="rail.coats.length">
      <li v-for="one in rail.coats" :key="one.coat.id">
        <i :style="{ background: study.colourOf(one.background.id) }" data-specimen />
        <b :title="one.coat.label">{{ one.coat.label }}</b>
      </li>
    </ul>
    <p v-if="rail.details.length" class="soft">{{ count(rail.details.length, "detail") }}</p>
  </section>
</template>

<style scoped>
.ShortPalette {
  display: flex;
  gap: 14px;
  align-items: stretch;
  margin-bottom: 16px;
  padding-bottom: 12px;
  border-bottom: 1px solid var(--rule);
}
ul {
  display: flex;
  flex: 1 1 0;
  gap: 2px;
  margin: 0;
  padding: 0;
  list-style: none;
}
li {
  display: grid;
  flex: 1 1 0;
  min-width: 0;
  font-size: 12px;
}
i {
  height: 40px;
  box-shadow: inset 0 0 0 1px #0003;
}
b {
  overflow: hidden;
  font-weight: 600;
  text-overflow: ellipsis;
  white-space: nowrap;
}
p {
  align-self: center;
  font-size: 12px;
}
@media (max-width: 700px) {
  .ShortPalette {
    flex-direction: column;
  }
}
</style>
