<script setup lang="ts">
import { ElDialog } from "element-plus";

/** The keys, shown on demand. */
const isOpen = defineModel<boolean>({ required: true });
const KEYS = [
  ["?", "this list"],
  ["Ctrl Z · Ctrl Y", "undo, redo"],
  ["← → on the rail", "go along the palette; the pages show where a colour is used"],
  ["Alt ← → on the rail", "move a role along"],
  ["Enter on a tile", "open its tray; Esc closes it"],
  ["← → on a track", "step; with Shift ten steps; Home and End to its ends"],
  ["↑ ↓ ← → on the field", "lightness and colourfulness; with Shift ten steps"],
] as const;
</script>

<template>
  <el-dialog v-model="isOpen" title="Keys" width="520px" append-to="#dialogs">
    <dl>
      <template v-for="[key, does] in KEYS" :key="key">
        <dt>{{ key }}</dt>
        <dd>{{ does }}</dd>
      </template>
    </dl>
  </el-dialog>
</template>

<style scoped>
dl {
  display: grid;
  grid-template-columns: max-content 1fr;
  gap: 8px 20px;
  margin: 0;
}
dt {
  font-weight: 700;
}
dd {
  margin: 0;
}
</style>
