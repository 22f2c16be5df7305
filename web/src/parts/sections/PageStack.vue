<script setup lang="ts">
import { computed, ref } from "vue";
import { RouterLink } from "vue-router";
import type { Schemas } from "@/api/client";
import WholePage, { type Boxes } from "@/parts/sections/WholePage.vue";
import { inkOn } from "@/logic/colour";
import { count } from "@/logic/words";
import { useSite } from "@/stores/site";
import { WIDTHS } from "@/stores/view";

/** A page as it looks, in its whole length, its sections outlined on it to be chosen, dragged over and dropped on. */
const props = defineProps<{
  stack: Schemas["MapPage"];
  name: string;
  coats: Map<string, string>;
  selectors: Record<string, string>;
  chosen: Set<string>;
}>();
const site = useSite();
const page = computed(() => site.pages.find((one) => one.path === props.stack.path));
const emit = defineEmits<{
  choose: [key: string, how: "only" | "add" | "to"];
  drop: [key: string, coat: string];
}>();

const SCREEN = WIDTHS.wide;
const boxes = ref<Boxes>({});
const long = ref(0);
/** Blocks as they lie on the page, in shares of it; the smaller ones above those that they lie in. */
const placed = computed(() =>
  props.stack.blocks.map((block) => {
    const box = (block.key && boxes.value[block.key]) || null;
    if (!box || !long.value) return { block, style: null };
    const [left, top, width, height] = box;
    const share = (one: number, of: number) => `${(100 * one) / of}%`;
    return {
      block,
      style: {
        left: share(Math.max(0, left), SCREEN.width),
        top: share(top, long.value),
        width: share(Math.min(width, SCREEN.width), SCREEN.width),
        height: share(Math.min(height, long.value - top), long.value),
        zIndex: Math.max(1, 1000 - Math.round(Math.sqrt(width * height) / 4)),
      },
    };
  }),
);
const onPage = computed(() => placed.value.filter((one) => one.style));
/** What shows nowhere on a wide screen, and everything until the page is there. */
const beside = computed(() => placed.value.filter((one) => !one.style && (one.block.key || !onPage.value.length)));
const worn = (block: Schemas["MapBlock"]) => props.coats.get(block.coat ?? "") ?? "";
const wears = (block: Schemas["MapBlock"]) => {
  const own = Object.keys(block.own).length > 0;
  const name = block.coat === null && block.apart && !own ? "Original" : worn(block) || (own ? "own" : "plain");
  return block.scope === "here" ? `${name}, here` : name;
};
const spoken = (block: Schemas["MapBlock"]) =>
  [
    ` on ${props.name}`,
    count(block.texts, "text"),
    block.hard ? `${block.hard} hard to read` : "",
    block.joined ? "continues in the next" : "",
  ]
    .filter(Boolean)
    .join(", ");

function choose(event: MouseEvent, key: string): void {
  emit("choose", key, event.shiftKey ? "to" : event.ctrlKey || event.metaKey ? "add" : "only");
}
function drop(event: DragEvent, key: string): void {
  emit("drop", key, event.dataTransfer?.getData("text/plain") ?? "");
}
</script>

<template>
  <section class="PageStack">
    <header>
      <router-link
        class="name"
        :to="{ name: 'close-up', query: { page: stack.path } }"
        title="Look at this page closely"
      >
        <b>{{ name }}</b>
      </router-link>
      <button type="button" class="act" :aria-pressed="chosen.has('')" @click="choose($event, '')">whole page</button>
    </header>
    <div class="sheet" :class="{ whole: chosen.has('') }">
      <whole-page
        v-if="page"
        :page="page"
        :width="SCREEN.width"
        :height="SCREEN.height"
        :selectors="selectors"
        @boxes="boxes = $event"
        @long="long = $event"
      />
      <button
        v-for="{ block, style } in onPage"
        :key="block.key"
        type="button"
        class="block"
        :class="{ chosen: chosen.has(block.key) }"
        :style="style!"
        :data-block="`${stack.path} ${block.key}`"
        :aria-pressed="chosen.has(block.key)"
        @click="choose($event, block.key)"
        @pointerdown="($event.target as HTMLElement).releasePointerCapture?.($event.pointerId)"
        @dragover.prevent
        @drop.prevent="drop($event, block.key)"
      >
        <span class="tag"
          >{{ block.label }} · {{ wears(block) }}<span class="unseen">{{ spoken(block) }}</span></span
        >
      </button>
    </div>
    <ul v-if="beside.length">
      <li v-for="{ block } in beside" :key="block.key">
        <button
          type="button"
          class="row"
          :class="{ chosen: block.key && chosen.has(block.key) }"
          :style="{ background: block.background, color: inkOn(block.background) }"
          :data-block="`${stack.path} ${block.key}`"
          :aria-pressed="chosen.has(block.key)"
          data-specimen
          @click="choose($event, block.key)"
          @dragover.prevent
          @drop.prevent="drop($event, block.key)"
        >
          <b>{{ block.label }}</b>
          <span class="wears">{{ wears(block) }}</span>
          <span class="unseen">{{ spoken(block) }}</span>
        </button>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.PageStack {
  min-width: 0;
  max-width: calc(var(--least) * 1.3);
}
header {
  display: flex;
  gap: 8px;
  align-items: baseline;
  justify-content: space-between;
  margin-bottom: 5px;
}
.name {
  min-width: 0;
}
header b {
  display: block;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
header button {
  flex: none;
  font-size: 12px;
}
header button[aria-pressed="true"] {
  background: var(--ink);
  color: var(--paper);
}
.sheet {
  position: relative;
  border: 1px solid var(--edge);
}
.whole {
  outline: 3px solid var(--ink);
}
.block {
  position: absolute;
  padding: 0;
  border: 0;
  outline: 1px dashed #0009;
  outline-offset: -1px;
  background: none;
  cursor: pointer;
  touch-action: none;
  user-select: none;
}
.tag {
  position: absolute;
  top: 0;
  left: 0;
  opacity: 0; /* still the button's name */
  max-width: 100%;
  overflow: hidden;
  padding: 1px 6px;
  background: var(--ink);
  color: var(--paper);
  font-size: 11.5px;
  line-height: 1.4;
  text-overflow: ellipsis;
  white-space: nowrap;
  pointer-events: none;
}
.block:hover .tag,
.block:focus-visible .tag,
.block.chosen .tag {
  opacity: 1;
}
.block:hover {
  outline: 2px solid var(--ink);
  outline-offset: -2px;
}
.chosen,
.block.chosen {
  outline: 0;
  box-shadow:
    inset 0 0 0 3px var(--ink),
    inset 0 0 0 5px var(--paper);
}
ul {
  margin: 0;
  padding: 0;
  border: 1px solid var(--edge);
  border-top: 0;
  list-style: none;
}
.row {
  display: flex;
  gap: 8px;
  align-items: flex-start;
  justify-content: space-between;
  width: 100%;
  padding: 5px 9px;
  border: 0;
  font-size: 12.5px;
  line-height: 1.3;
  text-align: left;
  cursor: pointer;
}
.row b,
.wears {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.wears {
  flex: none;
  max-width: 50%;
}
</style>
