<script setup lang="ts">
import { ElButton, ElOption, ElSelect } from "element-plus";
import { RouterLink } from "vue-router";
import type { Schemas } from "@/api/client";

/** What is done with a backdrop as a whole: kept, put back, taken away, copied, let go on behind its neighbour. */
defineProps<{
  isChanged: boolean;
  isBusy: boolean;
  isEmpty: boolean;
  hasLayers: boolean;
  /** What the coat is called that the place is given, "" for none; whether what lies behind it comes with that. */
  coat: string;
  isWithCoat: boolean;
  sections: Schemas["MapRegion"][];
  /** The section above, where a picture can go on. */
  above: string;
  goesOn: { label: string; query: Record<string, string> } | null;
  said: string;
}>();
const emit = defineEmits<{ keep: []; keepWithCoat: []; load: []; clear: []; copy: [key: string]; goOn: [] }>();
</script>

<template>
  <p class="KeepBar end">
    <el-button type="primary" :disabled="!isChanged || isBusy" @click="emit('keep')">Keep</el-button>
    <el-button
      v-if="coat && hasLayers"
      :disabled="isBusy || (isWithCoat && !isChanged)"
      :title="`Whatever is given “${coat}” lies on it`"
      @click="emit('keepWithCoat')"
      >Keep with “{{ coat }}”</el-button
    >
    <el-button :disabled="!isChanged || isBusy" @click="emit('load')">Put back</el-button>
    <el-button v-if="!isEmpty" :disabled="isBusy" @click="emit('clear')">Take it away</el-button>
    <el-select
      v-if="hasLayers && sections.length"
      size="small"
      :model-value="''"
      placeholder="Copy to…"
      aria-label="Copy to another section"
      append-to="#dialogs"
      @update:model-value="emit('copy', $event)"
    >
      <el-option v-for="other in sections" :key="other.key" :value="other.key" :label="other.label" />
    </el-select>
    <el-button v-if="above && !goesOn" size="small" :disabled="isBusy" @click="emit('goOn')"
      >Go on behind {{ above }}</el-button
    >
    <span v-if="said" class="soft" role="status">{{ said }}</span>
    <span v-if="goesOn" class="soft" role="status"
      >The picture goes on behind {{ goesOn.label }} and stays while the page scrolls.
      <router-link :to="{ name: 'backdrop', query: goesOn.query }">How {{ goesOn.label }} reads on it</router-link>
    </span>
  </p>
</template>

<style scoped>
.end {
  position: sticky;
  bottom: 0;
  z-index: 3;
  display: flex;
  flex-wrap: wrap;
  gap: 6px 12px;
  align-items: center;
  margin-top: 4px;
  padding: 10px 0;
  border-top: 1px solid var(--rule);
  background: var(--panel);
}
.end > * {
  margin: 0;
}
.end .el-select {
  width: 108px;
}
</style>
