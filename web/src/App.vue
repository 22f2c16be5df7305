<script setup lang="ts">
import { ElConfigProvider } from "element-plus";
import { RouterView } from "vue-router";
</script>

<template>
  <el-config-provider :message="{ max: 2 }">
    <router-view />
    <!-- a section, so that the head of a dialog is not taken for that of the page -->
    <section id="dialogs" />
  </el-config-provider>
</template>
