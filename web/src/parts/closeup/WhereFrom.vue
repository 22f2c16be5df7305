<script setup lang="ts">
import type { Schemas } from "@/api/client";

/** Where the text and the background have their colours from, in sentences, with the way to change them. */
defineProps<{ because: Schemas["BecauseOut"][]; labels: Map<string, string> }>();
const emit = defineEmits<{ change: [role: string] }>();
const TITLES: Record<string, string> = {
  text: "Where its text colour comes from",
  background: "Where its background comes from",
};
</script>

<template>
  <section v-for="one in because" :key="one.of" class="WhereFrom">
    <h3>{{ TITLES[one.of] }}</h3>
    <p>{{ one.says }}</p>
    <p v-for="note in one.notes" :key="note" class="soft">{{ note }}</p>
    <button v-if="one.change && labels.has(one.change)" type="button" class="act" @click="emit('change', one.change)">
      Change {{ labels.get(one.change) }}
    </button>
  </section>
</template>

<style scoped>
.WhereFrom {
  display: grid;
  gap: 4px;
  justify-items: start;
  font-size: 13px;
  overflow-wrap: anywhere;
}
</style>
