<script setup lang="ts">
import { computed, onBeforeUnmount, ref, toRef, useTemplateRef, watch } from "vue";
import type { Row } from "@/composables/useTextList";
import { useCloseUp } from "@/composables/useCloseUp";
import { usePainter } from "@/composables/usePainter";
import { useElementSize, useEventListener } from "@vueuse/core";
import type { Boxes } from "@/parts/sections/WholePage.vue";
import { placeOfState } from "@/logic/words";
import { useSite } from "@/stores/site";
import { useStudy } from "@/stores/study";

/** Where a text of the list is: its page, scrolled to it, in the state it is in, the text outlined. */
const props = defineProps<{ row: Row }>();
const site = useSite();
const page = computed(() => site.pages.find((one) => one.path === props.row.page));
const frame = useTemplateRef<HTMLIFrameElement>("frame");
const box = useTemplateRef<HTMLElement>("box");
const { width: wide } = useElementSize(box);
const HIGH = 230;
const selector = computed(() => props.row.path.replace(/::[\w-]+$/, ""));
const marks = computed(() => ({ chosen: selector.value, reach: null, label: "" }));
const width = computed(() => Math.max(...props.row.widths));
const scale = computed(() => Math.max(0.5, Math.min(1, (wide.value || 300) / width.value)));
/** How far to the right the text lies, CSS pixels of the page. */
const middle = ref(0);
const shift = computed(() =>
  Math.max(0, Math.min(width.value - wide.value / scale.value, middle.value - wide.value / scale.value / 2)),
);
const askWhere = () =>
  frame.value?.contentWindow?.postMessage({ glaucon: "boxes", selectors: { it: selector.value } }, "*");
useEventListener(window, "message", (event: MessageEvent) => {
  if (!frame.value || event.source !== frame.value.contentWindow) return;
  const data = event.data as { glaucon?: string; boxes?: Boxes } | null;
  if (data?.glaucon === "ready") askWhere();
  const box = data?.glaucon === "boxes" ? data.boxes?.it : null;
  if (box) middle.value = box[0] + Math.min(box[2], 400) / 2;
});
watch(selector, askWhere);
useCloseUp(frame, marks, { picked: () => {}, left: () => {}, start: selector });
const shown = computed(() =>
  placeOfState(props.row.states.includes("rest") ? "rest" : (props.row.states[0] ?? "rest"), props.row.opened),
);
const painter = usePainter(
  toRef(useStudy(), "wear"),
  computed(() => shown.value.state),
  { opened: computed(() => shown.value.opened) },
);
let detach: (() => void) | undefined;
watch(frame, (element) => {
  detach?.();
  detach = element ? painter.attach(element) : undefined;
});
onBeforeUnmount(() => detach?.());
</script>

<template>
  <div ref="box" class="TextPlace">
    <iframe
      v-if="page"
      ref="frame"
      :key="page.preview"
      :src="page.preview"
      :title="`Where “${row.text.slice(0, 40)}” is on ${page.name}`"
      sandbox="allow-scripts"
      tabindex="-1"
      scrolling="no"
      :style="{
        width: `${width}px`,
        height: `${HIGH / scale}px`,
        transform: `scale(${scale}) translateX(${-shift}px)`,
      }"
    />
  </div>
</template>

<style scoped>
.TextPlace {
  contain: strict;
  position: relative;
  overflow: hidden;
  height: 230px;
  border: 1px solid var(--rule);
  background: var(--raised);
}
iframe {
  position: absolute;
  inset: 0 auto auto 0;
  border: 0;
  transform-origin: 0 0;
  pointer-events: none;
}
</style>
