<script setup lang="ts">
import { ElButton, ElProgress } from "element-plus";
import { ref, useTemplateRef } from "vue";
import type { Schemas } from "@/api/client";

/** The ways in. */
defineProps<{ samples: Schemas["SampleOut"][]; sending: number | null }>();
const emit = defineEmits<{ zip: [archive: File]; sample: [name: string] }>();
const isOver = ref(false);
const chooser = useTemplateRef<HTMLInputElement>("chooser");

function drop(event: DragEvent): void {
  isOver.value = false;
  const archive = event.dataTransfer?.files[0];
  if (archive) emit("zip", archive);
}

function choose(): void {
  const archive = chooser.value?.files?.[0];
  if (archive) emit("zip", archive);
  if (chooser.value) chooser.value.value = "";
}
</script>

<template>
  <div class="ShelfWays">
    <section
      :class="{ over: isOver }"
      @dragover.prevent="isOver = true"
      @dragleave="isOver = false"
      @drop.prevent="drop"
    >
      <h2>Bring a site</h2>
      <p>Drop a .zip of its folder here: the pages, stylesheets and pictures as they are.</p>
      <el-progress v-if="sending !== null" :percentage="Math.round(sending * 100)" aria-label="Sending the archive" />
      <template v-else>
        <input
          id="archive"
          ref="chooser"
          type="file"
          accept=".zip,application/zip"
          class="unseen"
          tabindex="-1"
          aria-label="Archive of the site"
          @change="choose"
        />
        <el-button type="primary" @click="chooser?.click()">Choose a .zip…</el-button>
      </template>
    </section>
    <section>
      <h2>Start from a sample</h2>
      <ul>
        <li v-for="sample in samples" :key="sample.name">
          <el-button @click="emit('sample', sample.name)">{{ sample.title }}</el-button>
          <span class="soft">{{ sample.about }}</span>
        </li>
      </ul>
    </section>
  </div>
</template>

<style scoped>
.ShelfWays {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(min(100%, 330px), 1fr));
  gap: 24px;
}
section {
  display: grid;
  gap: 9px;
  align-content: start;
  justify-items: start;
  padding: 22px;
  border: 1px dashed var(--edge);
  background: var(--sunk);
}
.over {
  border: 1px solid var(--ink);
  background: var(--raised);
}
section > :deep(.el-progress) {
  width: 100%;
}
ul {
  display: grid;
  gap: 10px;
  margin: 0;
  padding: 0;
  list-style: none;
}
li {
  display: grid;
  gap: 3px;
  justify-items: start;
}
</style>
