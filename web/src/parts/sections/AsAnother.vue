<script setup lang="ts">
import { ElButton, ElDropdown, ElDropdownItem, ElDropdownMenu } from "element-plus";

/** Lets what is chosen take the colours of another section, now and whenever that one changes. */
defineProps<{ sections: { key: string; label: string }[] }>();
const emit = defineEmits<{ choose: [key: string] }>();
</script>

<template>
  <el-dropdown trigger="click" max-height="300px" @command="emit('choose', $event)">
    <el-button size="small">Colours as in…</el-button>
    <template #dropdown>
      <el-dropdown-menu>
        <el-dropdown-item v-for="section in sections" :key="section.key" :command="section.key">
          {{ section.label }}
        </el-dropdown-item>
      </el-dropdown-menu>
    </template>
  </el-dropdown>
</template>
