<script setup lang="ts">
import { ElCheckbox } from "element-plus";
import type { Schemas } from "@/api/client";
import { count } from "@/logic/words";

/** One change of fixing all, in words, to be taken or not. */
defineProps<{ change: Schemas["ChangeTold"]; isTaken: boolean }>();
const emit = defineEmits<{ toggle: [] }>();
</script>

<template>
  <li class="FixAllChange">
    <el-checkbox size="small" :model-value="isTaken" @change="emit('toggle')">
      <span class="line">
        <i :style="{ background: change.before }" data-specimen /><i
          :style="{ background: change.after }"
          data-specimen
        />
        <span v-if="change.where"
          ><b>{{ change.label }} {{ change.where }}</b> gets its own colour, {{ change.how }}</span
        >
        <span v-else
          ><b>{{ change.label }}</b> {{ change.how }}</span
        >
        <span class="soft">{{ count(change.texts, "text") }}</span>
      </span>
    </el-checkbox>
  </li>
</template>

<style scoped>
.FixAllChange .el-checkbox {
  align-items: start;
  height: auto;
  padding: 3px 0;
  white-space: normal;
}
.FixAllChange :deep(.el-checkbox__label) {
  line-height: 1.35;
}
i {
  display: inline-block;
  width: 14px;
  height: 14px;
  margin-right: 1px;
  box-shadow: inset 0 0 0 1px #0003;
  vertical-align: -2px;
}
i + span {
  margin-left: 5px;
}
.soft {
  margin-left: 5px;
}
</style>
