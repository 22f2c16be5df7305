<script setup lang="ts">
import { useElementSize } from "@vueuse/core";
import { computed, inject, onBeforeUnmount, toRef, useTemplateRef, watch } from "vue";
import { useRouter } from "vue-router";
import type { Page } from "@/api/client";
import { usePainter } from "@/composables/usePainter";
import { useScrolledFrames } from "@/composables/useScrolledFrames";
import { PAINTER } from "@/logic/keys";
import { useView } from "@/stores/view";

/** One page twice, before and after, under one sliding edge. Without `wornAfter` the after is the open study. */
const props = defineProps<{
  page: Page;
  width: number;
  worn: Record<string, string | null>;
  wornAfter?: Record<string, string | null>;
  beforeLabel: string;
  afterLabel: string;
}>();
const edge = defineModel<number>("edge", { default: 0.5 });

const box = useTemplateRef<HTMLElement>("box");
const before = useTemplateRef<HTMLIFrameElement>("before");
const after = useTemplateRef<HTMLIFrameElement>("after");
const scroller = useTemplateRef<HTMLElement>("scroller");
const { width: boxWidth, height: boxHeight } = useElementSize(box);
const scale = computed(() => Math.min(1, (boxWidth.value || 1) / props.width));
const shownWidth = computed(() => props.width * scale.value);
const frameStyle = computed(() => ({
  width: `${props.width}px`,
  height: `${Math.max(1, boxHeight.value / scale.value)}px`,
  transform: `scale(${scale.value})`,
}));

const { height, top } = useScrolledFrames([before, after]);
watch(
  () => [props.page.preview, props.width],
  () => {
    height.value = 0;
    top.value = 0;
    scroller.value?.scrollTo({ top: 0 });
  },
);

const view = useView();
const past = usePainter(toRef(props, "worn"), toRef(view, "state"));
const open = inject(PAINTER)!;
const other = usePainter(
  computed(() => props.wornAfter ?? {}),
  toRef(view, "state"),
);
const now = computed(() => (props.wornAfter ? other : open));
const detach: (() => void)[] = [];
watch([before, after, now], ([one, later, painter]) => {
  detach.splice(0).forEach((stop) => stop());
  if (one) detach.push(past.attach(one));
  if (later) detach.push(painter.attach(later));
});
onBeforeUnmount(() => detach.forEach((stop) => stop()));

function slide(event: PointerEvent): void {
  const handle = event.currentTarget as HTMLElement;
  if (event.type === "pointerdown") handle.setPointerCapture(event.pointerId);
  if (!handle.hasPointerCapture(event.pointerId)) return;
  const left = box.value!.getBoundingClientRect().left;
  edge.value = Math.max(0, Math.min(1, (event.clientX - left) / shownWidth.value));
}

const router = useRouter();
/** Opens the page close up, with what lies under the pointer chosen; by Enter as a whole. */
async function enter(event: MouseEvent | KeyboardEvent): Promise<void> {
  const query: Record<string, string> = { page: props.page.path };
  if (event instanceof MouseEvent && after.value) {
    const area = box.value!.getBoundingClientRect();
    const [x, y] = [event.clientX - area.left, event.clientY - area.top].map((one) => one / scale.value);
    const { path } = await now.value.look(after.value, x!, y!);
    if (path) query.at = path;
  }
  await router.push({ name: "close-up", query });
}

const KEYS: Record<string, number> = {
  ArrowLeft: -0.02,
  ArrowRight: 0.02,
  PageDown: -0.2,
  PageUp: 0.2,
  Home: -1,
  End: 1,
};
function press(event: KeyboardEvent): void {
  const step = KEYS[event.key];
  if (step === undefined) return;
  event.preventDefault();
  edge.value = Math.max(0, Math.min(1, edge.value + step * (event.shiftKey ? 5 : 1)));
}
</script>

<template>
  <div ref="box" class="BeforeAfter">
    <div class="stage" :style="{ width: `${shownWidth}px` }">
      <iframe
        ref="after"
        :key="`a${page.preview}${wornAfter ? ' compared' : ''}`"
        :src="page.preview"
        :title="`${page.name} after`"
        sandbox="allow-scripts"
        tabindex="-1"
        :style="frameStyle"
      />
      <div class="half" :style="{ clipPath: `inset(0 ${(1 - edge) * 100}% 0 0)` }">
        <iframe
          ref="before"
          :key="`b${page.preview}`"
          :src="page.preview"
          :title="`${page.name} before`"
          sandbox="allow-scripts"
          tabindex="-1"
          :style="frameStyle"
        />
      </div>
      <div
        ref="scroller"
        class="scroller"
        tabindex="0"
        role="group"
        :aria-label="`Both pages of ${page.name}, scrolled together`"
        title="Click to look closely"
        @click="enter"
        @keydown.enter="enter"
        @scroll="top = ($event.target as HTMLElement).scrollTop / scale"
      >
        <div :style="{ height: `${height * scale}px` }" />
      </div>
      <div
        class="edge"
        role="slider"
        tabindex="0"
        aria-label="The edge between before and after"
        aria-valuemin="0"
        aria-valuemax="100"
        :aria-valuenow="Math.round(edge * 100)"
        :style="{ left: `${edge * 100}%` }"
        @pointerdown="slide"
        @pointermove="slide"
        @keydown="press"
      >
        <span class="grip" aria-hidden="true">‹ ›</span>
      </div>
      <span class="flag left">{{ beforeLabel }}</span>
      <span class="flag right">{{ afterLabel }}</span>
    </div>
  </div>
</template>

<style scoped>
.BeforeAfter {
  position: relative;
  min-height: 0;
  overflow: hidden;
}
.stage {
  position: relative;
  height: 100%;
  overflow: hidden;
  outline: 1px solid var(--edge);
  outline-offset: -1px;
  background: var(--raised);
}
iframe {
  position: absolute;
  inset: 0 auto auto 0;
  border: 0;
  transform-origin: 0 0;
}
.half,
.scroller {
  position: absolute;
  inset: 0;
}
.scroller {
  overflow-y: auto;
  scrollbar-width: thin;
  cursor: zoom-in;
}
.edge {
  position: absolute;
  top: 0;
  bottom: 0;
  width: 22px;
  margin-left: -11px;
  cursor: ew-resize;
  touch-action: none;
}
.edge::before {
  content: "";
  position: absolute;
  inset: 0 10px;
  background: var(--ink);
  box-shadow: 0 0 0 1px var(--paper);
}
.grip {
  position: absolute;
  top: calc(50% - 17px);
  left: -6px;
  display: grid;
  place-content: center;
  width: 34px;
  height: 34px;
  border-radius: 50%;
  background: var(--ink);
  color: var(--paper);
  font-weight: 700;
  box-shadow: 0 0 0 1px var(--paper);
}
.flag {
  position: absolute;
  bottom: 10px;
  padding: 3px 9px;
  background: var(--ink);
  color: var(--paper);
  font-size: 13px;
  font-weight: 700;
  pointer-events: none;
}
.left {
  left: 10px;
}
.right {
  right: 18px;
}
</style>
