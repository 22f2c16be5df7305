<script setup lang="ts">
import { computed, onBeforeUnmount, toRef, useTemplateRef, watch } from "vue";
import { useInSight } from "@/composables/useInSight";
import { usePainter } from "@/composables/usePainter";
import { useWorstSpot } from "@/composables/useWorstSpots";
import { useStudy } from "@/stores/study";

/** The page itself where a text is hardest to read, cut out around its line and the worst spot ringed; or what is given. */
const props = defineProps<{ of: string }>();
const WIDE = 264;
const HIGH = 76;
const LEAST_SCALE = 0.45; // below it nobody could read along
const RING = 22;
const VIEW = 800; // the height of the screen that pages are measured on
const box = useTemplateRef<HTMLElement>("box");
const frame = useTemplateRef<HTMLIFrameElement>("frame");
const inSight = useInSight(box, 60);
const found = useWorstSpot(toRef(props, "of"), inSight);
// in the state it is hard to read in, whatever the other pages show
const painter = usePainter(
  toRef(useStudy(), "wear"),
  computed(() => found.value?.state ?? "rest"),
);

/** How the page is scaled and moved so that the line, or as much of it as is legible, lies in the middle. */
const cut = computed(() => {
  if (!found.value) return null;
  const { line, spot } = found.value;
  const scale = Math.max(LEAST_SCALE, Math.min(1, (WIDE - 24) / line.width));
  const x = spot.left + spot.width / 2;
  const y = spot.top + spot.height / 2;
  const wide = WIDE / scale;
  // the whole line where it fits, else the stretch around the spot
  const middle = line.width * scale <= WIDE ? line.left + line.width / 2 : x;
  const left = Math.max(0, middle - wide / 2);
  const top = Math.max(0, y - HIGH / scale / 2);
  // a page is as high as the screen it was measured on, and scrolled to what lies further down
  const scrolled = top < VIEW / 2 ? 0 : Math.max(0, Math.min(top - VIEW / 2, found.value.height - VIEW));
  return {
    scrolled,
    page: {
      width: `${found.value.width}px`,
      height: `${VIEW}px`,
      transform: `scale(${scale}) translate(${-left}px, ${scrolled - top}px)`,
    },
    ring: { left: `${(x - left) * scale - RING / 2}px`, top: `${(y - top) * scale - RING / 2}px` },
  };
});
const scroll = () => frame.value?.contentWindow?.postMessage({ glaucon: "scroll", top: cut.value?.scrolled ?? 0 }, "*");

let detach: (() => void) | undefined;
watch(frame, (element) => {
  detach?.();
  detach = element ? painter.attach(element) : undefined;
});
onBeforeUnmount(() => detach?.());
</script>

<template>
  <div ref="box" class="WorstSpot" :class="{ shown: cut }">
    <template v-if="cut && found && inSight">
      <iframe
        ref="frame"
        :src="found.address"
        :title="`Where it is hardest to read, on ${found.page}`"
        sandbox="allow-scripts"
        tabindex="-1"
        scrolling="no"
        :style="cut.page"
        @load="scroll"
      />
      <span class="ring" :style="cut.ring" />
      <span class="unseen">The worst spot has a contrast of {{ found.ratio }}.</span>
    </template>
    <slot v-else />
  </div>
</template>

<style scoped>
.WorstSpot {
  position: relative;
  min-height: 1px;
}
.shown {
  contain: strict;
  overflow: hidden;
  width: 264px;
  height: 76px;
  margin: 5px 0;
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
.ring {
  position: absolute;
  width: 22px;
  height: 22px;
  border: 2px solid #1b1b1b;
  border-radius: 50%;
  outline: 2px solid #fff;
}
</style>
