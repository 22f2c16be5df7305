<script setup lang="ts">
import { ElDialog } from "element-plus";

/** The keys, shown on demand. */
const isOpen = defineModel<boolean>({ required: true });
const KEYS = [
  ["?", "this list"],
  ["Ctrl Z · Ctrl Y", "undo, redo"],
  ["← → on the rail", "move along the palette; the pages show where each colour is used"],
  ["Alt ← → on the rail", "move a colour along the palette"],
  ["Enter on a tile", "open it; Esc closes it"],
  ["← → on a slider", "one step; with Shift ten; Home and End go to the ends"],
  ["↑ ↓ ← → on the field", "lightness and colourfulness; with Shift ten steps"],
  ["← → on the ladder", "less contrast, more contrast"],
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
