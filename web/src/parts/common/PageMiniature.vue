<script setup lang="ts">
import { useElementSize } from "@vueuse/core";
import { computed, inject, onBeforeUnmount, useTemplateRef, watch } from "vue";
import { useRouter } from "vue-router";
import type { Page } from "@/api/client";
import type { Spot } from "@/composables/usePainter";
import { useScrolledFrames } from "@/composables/useScrolledFrames";
import { useInSight } from "@/composables/useInSight";
import { PAINTER } from "@/logic/keys";

/**
 * A real page in a sandboxed frame, drawn small, or a further part of it. Frames out of sight are let go.
 *
 * A click opens the close-up at that spot, unless it is `still`: it shows colours that the study does not have.
 */
const props = defineProps<{
  page: Page;
  width: number;
  height: number;
  part?: number;
  picking?: boolean;
  still?: boolean;
}>();
const emit = defineEmits<{ spot: [spot: Spot]; long: [height: number] }>();

const painter = inject(PAINTER);
const box = useTemplateRef<HTMLElement>("box");
const frame = useTemplateRef<HTMLIFrameElement>("frame");
const { width: shown } = useElementSize(box);
const inSight = useInSight(box);
const { height: long, top } = useScrolledFrames([frame]);
top.value = (props.part ?? 0) * props.height;
watch(long, (height) => emit("long", height));
const title = computed(
  () => `The page ${props.page.name} as it will look` + (props.part ? `, part ${props.part + 1}` : ""),
);
const scale = computed(() => (shown.value || 1) / props.width);

async function spotOf(event: MouseEvent): Promise<Spot | null> {
  if (!frame.value || !painter) return null;
  const area = box.value!.getBoundingClientRect();
  const at = [event.clientX - area.left, event.clientY - area.top].map((length) => length / scale.value);
  return painter.look(frame.value, at[0]!, at[1]!);
}
/** Tells what the page shows at a spot that was chosen on its miniature. */
async function look(event: MouseEvent): Promise<void> {
  const spot = props.picking ? await spotOf(event) : null;
  if (spot) emit("spot", spot);
}
const router = useRouter();
const closeUp = computed(() => ({ name: "close-up", query: { page: props.page.path } }));
/** Opens the page close up: by the pointer with what lies under it chosen, by the keyboard as a whole. */
async function enter(event: MouseEvent): Promise<void> {
  const path = event.detail ? (await spotOf(event))?.path : null;
  await router.push(path ? { name: "close-up", query: { page: props.page.path, at: path } } : closeUp.value);
}

let detach: (() => void) | undefined;
watch(frame, (element) => {
  detach?.();
  detach = element ? painter?.attach(element) : undefined;
});
onBeforeUnmount(() => detach?.());
</script>

<template>
  <div
    ref="box"
    class="PageMiniature"
    :class="{ picking }"
    :style="{ aspectRatio: `${width} / ${height}` }"
    @click="look"
  >
    <iframe
      v-if="inSight"
      ref="frame"
      :src="page.preview"
      :title="title"
      sandbox="allow-scripts"
      tabindex="-1"
      scrolling="no"
      :style="{ width: `${width}px`, height: `${height}px`, transform: `scale(${scale})` }"
    />
    <a
      v-if="!picking && !still"
      class="way-in"
      :href="router.resolve(closeUp).href"
      :aria-label="`${page.name}${part ? `, part ${part + 1}` : ''}: close up`"
      @click.exact.prevent="enter"
    />
  </div>
</template>

<style scoped>
.PageMiniature {
  contain: content;
  position: relative;
  overflow: hidden;
  border: 1px solid var(--rule);
  background: var(--raised);
}
.picking {
  cursor: crosshair;
  outline: 2px dashed var(--ink);
  outline-offset: 1px;
}
.way-in {
  position: absolute;
  inset: 0;
  cursor: zoom-in;
}
.way-in:hover {
  box-shadow: inset 0 0 0 2px var(--ink);
}
.way-in:focus-visible {
  box-shadow:
    inset 0 0 0 3px var(--ink),
    inset 0 0 0 5px var(--paper);
}
.PageMiniature iframe {
  position: absolute;
  inset: 0 auto auto 0;
  border: 0;
  transform-origin: 0 0;
  pointer-events: none;
}
</style>
