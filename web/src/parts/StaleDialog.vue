<script setup lang="ts">
import { ElButton, ElDialog } from "element-plus";
import { computed } from "vue";
import { useBench } from "@/stores/bench";

/** Another window wrote first: nothing is lost, the owner says which counts. */
const bench = useBench();
const isOpen = computed(() => bench.stale !== null);
const mine = computed(() =>
  Object.entries(bench.stale ?? {}).map(([name, value]) => ({
    value,
    label: bench.roleByName.get(name)?.label ?? name,
  })),
);
</script>

<template>
  <el-dialog
    :model-value="isOpen"
    title="These colours were changed in another window"
    width="460"
    append-to="#dialogs"
    :show-close="false"
    :close-on-click-modal="false"
    :close-on-press-escape="false"
  >
    <p>Nothing is lost. Put what you did here on top of the newer colours, or take the newer ones as they are.</p>
    <ul v-if="mine.length">
      <li v-for="one in mine" :key="one.label">
        <i :style="{ background: one.value }" /> {{ one.label }} {{ one.value.toUpperCase() }}
      </li>
    </ul>
    <template #footer>
      <el-button @click="bench.settle('newer')">Take the newer</el-button>
      <el-button v-if="mine.length" type="primary" @click="bench.settle('keep')">Keep mine</el-button>
    </template>
  </el-dialog>
</template>

<style scoped>
ul {
  padding: 0;
  list-style: none;
}
i {
  display: inline-block;
  width: 18px;
  height: 18px;
  box-shadow: inset 0 0 0 1px #0003;
  vertical-align: -4px;
}
</style>
