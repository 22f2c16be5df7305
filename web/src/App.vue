<script setup lang="ts">
import { ElConfigProvider } from "element-plus";
import { RouterView } from "vue-router";
</script>

<template>
  <el-config-provider :message="{ max: 2 }">
    <router-view />
  </el-config-provider>
</template>
