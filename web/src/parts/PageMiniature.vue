<script setup lang="ts">
import { useElementSize } from "@vueuse/core";
import { computed, inject, onBeforeUnmount, useTemplateRef, watch } from "vue";
import type { Page } from "@/api/client";
import { useInSight } from "@/composables/useInSight";
import { PAINTER } from "@/logic/keys";
import { pageName } from "@/logic/words";

/** A real page in a sandboxed frame, drawn small. Frames out of sight are let go. */
const props = defineProps<{ page: Page; width: number; height: number }>();

const painter = inject(PAINTER);
const box = useTemplateRef<HTMLElement>("box");
const frame = useTemplateRef<HTMLIFrameElement>("frame");
const { width: shown } = useElementSize(box);
const inSight = useInSight(box);
const scale = computed(() => (shown.value || 1) / props.width);

let detach: (() => void) | undefined;
watch(frame, (element) => {
  detach?.();
  detach = element ? painter?.attach(element) : undefined;
});
onBeforeUnmount(() => detach?.());
</script>

<template>
  <div ref="box" class="PageMiniature" :style="{ aspectRatio: `${width} / ${height}` }">
    <iframe
      v-if="inSight"
      ref="frame"
      :src="page.preview"
      :title="`The page ${pageName(page)} as it will look`"
      sandbox="allow-scripts"
      tabindex="-1"
      scrolling="no"
      :style="{ width: `${width}px`, height: `${height}px`, transform: `scale(${scale})` }"
    />
  </div>
</template>

<style scoped>
.PageMiniature {
  position: relative;
  overflow: hidden;
  border: 1px solid var(--rule);
  background: var(--raised);
}
.PageMiniature iframe {
  position: absolute;
  inset: 0 auto auto 0;
  border: 0;
  transform-origin: 0 0;
  pointer-events: none;
}
</style>
