<script setup lang="ts">
import { ElButton, ElDialog } from "element-plus";
import { computed } from "vue";
import { useStudy } from "@/stores/study";

/** Another window wrote first: nothing is lost, the owner says which counts. */
const study = useStudy();
const isOpen = computed(() => study.stale !== null);
const mine = computed(() =>
  Object.entries(study.stale ?? {}).map(([name, value]) => ({
    value,
    label: study.roleById.get(name)?.label ?? name,
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
    <p>Nothing is lost. Keep your change on top of the newer colours, or use the newer ones as they are.</p>
    <ul v-if="mine.length">
      <li v-for="one in mine" :key="one.label">
        <i :style="{ background: one.value }" /> {{ one.label }} {{ one.value.toUpperCase() }}
      </li>
    </ul>
    <template #footer>
      <el-button @click="study.settle('newer')">Use the newer ones</el-button>
      <el-button v-if="mine.length" type="primary" @click="study.settle('keep')">Keep mine</el-button>
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
