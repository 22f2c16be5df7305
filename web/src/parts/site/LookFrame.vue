<script setup lang="ts">
import LooksNav from "@/parts/site/LooksNav.vue";

/** What the three looks share: a heading with its sentence, the way between them, and a foot that stays in sight. */
defineProps<{ heading: string; about?: string }>();
</script>

<template>
  <main class="LookFrame" tabindex="-1">
    <div class="body">
      <header>
        <div>
          <h1>{{ heading }}</h1>
          <p v-if="about" class="soft">{{ about }}</p>
        </div>
        <looks-nav />
      </header>
      <slot />
    </div>
    <footer><slot name="foot" /></footer>
  </main>
</template>

<style scoped>
.LookFrame {
  display: flex;
  flex: 1;
  flex-direction: column;
  min-height: 0;
  background: var(--paper);
}
.body {
  flex: 1;
  overflow-y: auto;
  padding: 16px 20px;
}
header {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 24px;
  align-items: flex-start;
  justify-content: space-between;
  margin-bottom: 14px;
}
header p {
  margin-top: 3px;
}
footer {
  display: flex;
  flex: none;
  flex-wrap: wrap;
  gap: 10px 24px;
  align-items: center;
  justify-content: space-between;
  padding: 11px 20px;
  border-top: 2px solid var(--ink);
  background: var(--panel);
}
</style>
