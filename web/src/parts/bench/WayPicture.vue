<script setup lang="ts">
import { computed, provide, ref } from "vue";
import type { Page, Schemas } from "@/api/client";
import PageMiniature from "@/parts/common/PageMiniature.vue";
import { usePainter } from "@/composables/usePainter";
import { PAINTER } from "@/logic/keys";
import { WIDTHS } from "@/stores/view";

/** The first page under one way to fix it, and what that way keeps. */
const props = defineProps<{ way: Schemas["WayTold"]; page: Page; extra: string }>();
const worn = computed(() => {
  const css = [props.extra, props.way.css].filter(Boolean).join("\n");
  return css ? { ...props.way.wear, css } : props.way.wear;
});
provide(PAINTER, usePainter(worn, ref("rest")));
</script>

<template>
  <page-miniature :page="page" :width="WIDTHS.wide.width" :height="WIDTHS.wide.height" still />
</template>
