<script setup lang="ts">
import { ElButton, ElDialog, ElInput } from "element-plus";

/** The password once more, before something that only its owner may do. */
const isOpen = defineModel<boolean>({ required: true });
const password = defineModel<string>("password", { required: true });
defineProps<{ trouble: string }>();
defineEmits<{ go: [] }>();
</script>

<template>
  <el-dialog v-model="isOpen" title="Is it you?" width="420" append-to="#dialogs">
    <form @submit.prevent="$emit('go')">
      <label for="once-more">Your password once more</label>
      <el-input id="once-more" v-model="password" type="password" autocomplete="current-password" show-password />
      <p role="alert">
        <b>{{ trouble }}</b>
      </p>
      <el-button type="primary" native-type="submit">Go on</el-button>
    </form>
  </el-dialog>
</template>
