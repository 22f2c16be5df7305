<script setup lang="ts">
import { ElButton, ElProgress } from "element-plus";
import { useFileDialog } from "@vueuse/core";
import { ref } from "vue";
import { filesOfDrop, isWhole, packed, SAVED } from "@/logic/packing";

/** A site's folder or .zip, or pages as a browser saves them, chosen or dropped; what is many is packed here first. */
defineProps<{ sending: number | null; label?: string }>();
const emit = defineEmits<{ archive: [archive: File]; refused: [why: unknown] }>();
const isOver = ref(false);
const isPacking = ref(false);

async function pack(files: { path: string; file: File }[]): Promise<void> {
  const only = files.length === 1 ? files[0] : undefined;
  if (only && isWhole(only.path)) return emit("archive", only.file);
  isPacking.value = true;
  try {
    emit("archive", await packed(files));
  } catch (refusal) {
    emit("refused", refusal);
  } finally {
    isPacking.value = false;
  }
}

async function drop(event: DragEvent): Promise<void> {
  isOver.value = false;
  if (event.dataTransfer) await pack(await filesOfDrop(event.dataTransfer));
}

const zip = useFileDialog({ accept: ".zip,application/zip", multiple: false, reset: true });
const saved = useFileDialog({ accept: SAVED.join(","), multiple: true, reset: true });
const folder = useFileDialog({ directory: true, reset: true });

async function choose(chosen: FileList | null): Promise<void> {
  const files = [...(chosen ?? [])].map((file) => ({ path: file.webkitRelativePath || file.name, file }));
  if (files.length) await pack(files);
}
zip.onChange((files) => void choose(files));
saved.onChange((files) => void choose(files));
folder.onChange((files) => void choose(files));
</script>

<template>
  <div
    class="FolderOrZip"
    :class="{ over: isOver }"
    @dragover.prevent="isOver = true"
    @dragleave="isOver = false"
    @drop.prevent="drop"
  >
    <el-progress v-if="sending !== null" :percentage="Math.round(sending * 100)" aria-label="Sending the site" />
    <p v-else-if="isPacking" role="status">Packing the files…</p>
    <template v-else>
      <p>Drop your site's folder or .zip here.</p>
      <div class="acts">
        <el-button :type="label ? 'primary' : 'default'" @click="zip.open()">Choose a .zip…</el-button>
        <el-button @click="folder.open()">Choose a folder…</el-button>
        <el-button @click="saved.open()">Choose saved pages…</el-button>
      </div>
      <p class="soft">
        Saved from the browser, also behind a sign-in: .mhtml, or one .html with all in it. Or a whole visit: .har,
        .warc, .wacz.
      </p>
    </template>
  </div>
</template>

<style scoped>
.FolderOrZip {
  display: grid;
  gap: 9px;
  justify-items: start;
  width: 100%;
}
.over {
  outline: 2px solid var(--ink);
  outline-offset: 6px;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
.acts > * {
  margin: 0;
}
.FolderOrZip > :deep(.el-progress) {
  width: 100%;
}
</style>
