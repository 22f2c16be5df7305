<script setup lang="ts">
import { useElementSize, useEventListener } from "@vueuse/core";
import { computed, inject, nextTick, onBeforeUnmount, ref, useTemplateRef, watch } from "vue";
import type { Page } from "@/api/client";
import { useInSight } from "@/composables/useInSight";
import { PAINTER } from "@/logic/keys";

/** Left, top, width and height of each place asked about, in CSS pixels of the page; null where nothing of it shows. */
export type Boxes = Record<string, [number, number, number, number] | null>;

/**
 * A page in its whole length, in its own pixels. In one long frame, or where its height hangs on that of the screen
 * screen by screen; what is fixed to the screen is then drawn on each.
 */
const props = defineProps<{ page: Page; width: number; height: number; selectors: Record<string, string> }>();
const emit = defineEmits<{ boxes: [boxes: Boxes]; long: [height: number] }>();

const LONGEST = 12_000; // CSS pixels: what is longer is cut
const SAME = 3;
const MOST_TRIES = 3;
const painter = inject(PAINTER);
const box = useTemplateRef<HTMLElement>("box");
const frames = new Map<number, HTMLIFrameElement>();
const { width: shown } = useElementSize(box);
const inSight = useInSight(box, 600);
const long = ref(0);
/** Whether the page is as long in a long frame as on a screen; unknown until it has been tried. */
const isFirm = ref<boolean | null>(null);
let first = 0;
let tries = 0;
const scale = computed(() => (shown.value || 1) / props.width);
const length = computed(() => Math.min(LONGEST, long.value || props.height));
const screens = computed(() => {
  if (!long.value || isFirm.value !== false) return [{ top: 0, height: length.value }];
  const last = length.value - props.height;
  const count = Math.ceil(length.value / props.height);
  return Array.from({ length: count }, (_, place) => ({
    top: Math.max(0, Math.min(place * props.height, last)),
    height: props.height,
  }));
});

const send = (frame: HTMLIFrameElement | undefined, what: object) => frame?.contentWindow?.postMessage(what, "*");
const ask = () => send(frames.get(0), { glaucon: "boxes", selectors: { ...props.selectors } });

useEventListener(window, "message", (event: MessageEvent) => {
  const place = [...frames.keys()].find((one) => frames.get(one)?.contentWindow === event.source) ?? -1;
  const data = event.data as { glaucon?: string; height?: number; boxes?: Boxes } | null;
  if (place < 0 || !data) return;
  if (data.glaucon === "boxes" && data.boxes) return emit("boxes", data.boxes);
  if (data.glaucon === "painted") return ask();
  if (data.glaucon !== "height") return;
  const height = Number(data.height) || 0;
  if (isFirm.value === null) settle(height);
  if (isFirm.value === false) send(frames.get(place), { glaucon: "scroll", top: screens.value[place]?.top ?? 0 });
  ask();
});
/** A page that grows each time its frame does hangs on the height of the screen; once, it is fonts that have come. */
function settle(height: number): void {
  tries += 1;
  first ||= height;
  if (tries > 1 && height <= long.value + SAME) isFirm.value = true;
  else if (tries > MOST_TRIES) {
    isFirm.value = false;
    long.value = first;
  } else long.value = height;
}
watch(length, (height) => emit("long", height), { immediate: true });
watch(() => props.selectors, ask);
watch(
  () => props.page.preview,
  () => {
    first = tries = 0; // as long as it was, until the new one tells
    isFirm.value = null;
  },
);

const detach = new Map<number, () => void>();
/** Takes a frame in: each is painted while it is there. It is told anew, as none and itself, whenever this is drawn. */
function hold(frame: unknown, place: number): void {
  const known = frames.get(place);
  if (frame === known) return;
  if (frame instanceof HTMLIFrameElement) {
    detach.get(place)?.();
    frames.set(place, frame);
    if (painter) detach.set(place, painter.attach(frame));
  } else void nextTick(() => known?.isConnected === false && frames.get(place) === known && drop(place));
}
function drop(place: number): void {
  detach.get(place)?.();
  detach.delete(place);
  frames.delete(place);
}
onBeforeUnmount(() => detach.forEach((stop) => stop()));
</script>

<template>
  <div ref="box" class="WholePage" :style="{ height: `${length * scale}px` }">
    <template v-if="inSight">
      <iframe
        v-for="(screen, place) in screens"
        :key="`${page.preview} ${place}`"
        :ref="(frame) => hold(frame, place)"
        :src="page.preview"
        :title="`The page ${page.name} as it will look` + (place ? `, part ${place + 1}` : '')"
        sandbox="allow-scripts"
        tabindex="-1"
        scrolling="no"
        :style="{
          top: `${screen.top * scale}px`,
          width: `${width}px`,
          height: `${screen.height}px`,
          transform: `scale(${scale})`,
        }"
      />
    </template>
  </div>
</template>

<style scoped>
.WholePage {
  contain: strict;
  position: relative;
  overflow: hidden;
  background: var(--raised);
}
iframe {
  position: absolute;
  left: 0;
  border: 0;
  transform-origin: 0 0;
  pointer-events: none;
}
</style>
