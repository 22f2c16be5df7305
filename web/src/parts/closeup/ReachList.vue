<script setup lang="ts">
import { ElRadio, ElRadioGroup } from "element-plus";
import type { Schemas } from "@/api/client";

/** How far a change goes, the narrowest first, each with how much it reaches. */
defineProps<{ reaches: Schemas["ReachOut"][]; names: Map<string, string> }>();
const chosen = defineModel<number>({ required: true });
const said = (reach: Schemas["ReachOut"], names: Map<string, string>) =>
  reach.where?.page && !reach.where.section && !reach.where.part
    ? `the page ${names.get(reach.where.page) ?? reach.where.page}`
    : reach.what;
const isSet = (reach: Schemas["ReachOut"]) => !!reach.coat || !!Object.keys(reach.own).length;
</script>

<template>
  <el-radio-group v-model="chosen" class="ReachList" aria-label="A change here reaches">
    <el-radio v-for="(reach, place) in reaches" :key="place" :value="place" :class="{ on: place === chosen }">
      <span class="what">{{ said(reach, names) }}<i v-if="isSet(reach)" title="set here"> ∗</i></span>
      <span class="count">{{ reach.count }}</span>
    </el-radio>
  </el-radio-group>
</template>

<style scoped>
.ReachList {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  border: 1px solid var(--ink);
  border-radius: var(--corner);
  background: var(--raised);
}
.ReachList :deep(.el-radio) {
  position: relative;
  height: auto;
  margin: 0;
  padding: 0 10px;
  border-bottom: 1px solid var(--rule);
  cursor: pointer;
}
.ReachList :deep(.el-radio:last-child) {
  border: 0;
}
.ReachList :deep(.el-radio:focus-within) {
  z-index: 1;
  box-shadow: var(--focus);
}
/* the row itself is the mark of what is chosen */
.ReachList :deep(.el-radio__input) {
  position: absolute;
  opacity: 0;
}
.ReachList :deep(.el-radio__label) {
  display: flex;
  flex: 1;
  gap: 12px;
  justify-content: space-between;
  padding: 5px 0;
  color: inherit;
  white-space: normal;
  font-size: 13px;
  line-height: 1.35;
}
.on {
  background: var(--ink);
  color: var(--paper);
}
.count {
  flex: none;
}
i {
  font-style: normal;
}
</style>
