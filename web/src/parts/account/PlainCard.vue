<script setup lang="ts">
import TopBar from "@/parts/common/TopBar.vue";

/** A screen with one short form in its middle. */
defineProps<{ title: string; trouble?: string }>();
</script>

<template>
  <div class="PlainCard">
    <top-bar />
    <main tabindex="-1">
      <h1>{{ title }}</h1>
      <slot />
      <p role="alert" class="trouble">{{ trouble }}</p>
      <slot name="under" />
    </main>
  </div>
</template>

<style scoped>
main {
  max-width: 420px;
  margin: 10vh auto 0;
  padding: 28px 30px;
  background: var(--paper);
  border: 1px solid var(--rule);
}
h1 {
  margin-bottom: 14px;
}
.trouble {
  min-height: 1.4em;
  margin: 8px 0;
  font-weight: 700;
}
main :deep(form) {
  display: grid;
  gap: 6px;
}
main :deep(label) {
  font-weight: 700;
}
main :deep(.go) {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: center;
  margin-top: 8px;
}
</style>
