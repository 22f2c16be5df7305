<script setup lang="ts">
import { ElButton, ElDialog, ElOption, ElSelect } from "element-plus";
import { ref } from "vue";
import type { Schemas } from "@/api/client";
import { count } from "@/logic/words";

/** Asks what the sections that wear a coat are to wear once it is deleted. */
defineProps<{ coat: Schemas["MapCoat"]; others: Schemas["MapCoat"][] }>();
const emit = defineEmits<{ close: []; remove: [to: string] }>();
const to = ref("");
</script>

<template>
  <el-dialog
    model-value
    :title="`Delete ${coat.label}?`"
    width="420"
    append-to="#dialogs"
    @update:model-value="emit('close')"
  >
    <p>{{ count(coat.wearers, "place") }} on {{ count(coat.pages, "page") }} wear it. What do they wear then?</p>
    <el-select
      v-model="to"
      aria-label="What they wear then"
      append-to="#dialogs"
      :empty-values="[null, undefined]"
      :value-on-clear="null"
    >
      <el-option v-for="one in others" :key="one.id" :value="one.id" :label="one.label" />
    </el-select>
    <template #footer>
      <el-button @click="emit('close')">Cancel</el-button>
      <el-button type="primary" @click="emit('remove', to)">Delete</el-button>
    </template>
  </el-dialog>
</template>
