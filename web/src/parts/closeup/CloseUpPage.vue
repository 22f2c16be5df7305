<script setup lang="ts">
import { useElementSize } from "@vueuse/core";
import { computed, inject, onBeforeUnmount, toRef, useTemplateRef, watch } from "vue";
import type { Page } from "@/api/client";
import { type Marks, type Step, useCloseUp } from "@/composables/useCloseUp";
import { PAINTER } from "@/logic/keys";

/** One page, large, in a sandboxed frame: what is clicked there is chosen, arrow keys go to its neighbours. */
const props = withDefaults(
  defineProps<{
    page: Page;
    width: number;
    marks: Marks;
    /** The selector of what is scrolled to at first. */
    start?: string;
  }>(),
  { start: "" },
);
const emit = defineEmits<{ pick: [path: string]; leave: [] }>();

const painter = inject(PAINTER);
const box = useTemplateRef<HTMLElement>("box");
const frame = useTemplateRef<HTMLIFrameElement>("frame");
const { width: wide, height: high } = useElementSize(box);
const scale = computed(() => Math.min(1, (wide.value || 1) / props.width));
const closeUp = useCloseUp(frame, toRef(props, "marks"), {
  picked: (path) => emit("pick", path),
  start: toRef(props, "start"),
  left: () => {
    box.value?.focus();
    emit("leave");
  },
});

const KEYS: Record<string, Step> = { ArrowRight: "next", ArrowLeft: "previous", ArrowUp: "out", ArrowDown: "in" };
function move(event: KeyboardEvent): void {
  const way = KEYS[event.key];
  if (!way) return;
  event.preventDefault();
  closeUp.step(way);
}

let detach: (() => void) | undefined;
watch(frame, (element) => {
  detach?.();
  detach = element ? painter?.attach(element) : undefined;
});
onBeforeUnmount(() => detach?.());
</script>

<template>
  <!-- the page inside cannot be walked by Tab: it is a picture of itself, and this is what holds the focus -->
  <div
    ref="box"
    class="CloseUpPage"
    role="application"
    tabindex="0"
    aria-label="The page. Arrow keys choose: right and left among neighbours, down into, up out of."
    @keydown="move"
  >
    <iframe
      ref="frame"
      :key="page.preview"
      :src="page.preview"
      :title="`The page ${page.name}, close up`"
      sandbox="allow-scripts"
      tabindex="-1"
      :style="{ width: `${width}px`, height: `${high / scale}px`, transform: `scale(${scale})` }"
    />
  </div>
</template>

<style scoped>
.CloseUpPage {
  position: relative;
  flex: 1;
  min-height: 0;
  overflow: hidden;
  border: 1px solid var(--rule);
  background: var(--raised);
}
iframe {
  position: absolute;
  inset: 0 auto auto 0;
  border: 0;
  transform-origin: 0 0;
}
</style>
