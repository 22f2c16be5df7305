<script setup lang="ts">
import { RouterLink } from "vue-router";
import type { Schemas } from "@/api/client";
import { inkOn } from "@/logic/colour";
import { count } from "@/logic/words";

/** A page as its stack of sections, in their true colours and order, in proportion to the text they hold. */
const props = defineProps<{
  stack: Schemas["MapPage"];
  name: string;
  coats: Map<string, string>;
  chosen: Set<string>;
}>();
const emit = defineEmits<{
  choose: [key: string, how: "only" | "add" | "to"];
  drop: [key: string, coat: string];
}>();

const height = (block: Schemas["MapBlock"]) => `${Math.round(34 + 5.5 * Math.sqrt(block.characters))}px`;
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
    block.joined ? "goes on into the next" : "",
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
    <ul :class="{ whole: chosen.has('') }">
      <li v-for="block in stack.blocks" :key="block.key">
        <button
          type="button"
          class="block"
          :class="{ chosen: block.key && chosen.has(block.key), joined: block.joined }"
          :style="{ height: height(block), background: block.background, color: inkOn(block.background) }"
          :data-block="`${stack.path} ${block.key}`"
          :aria-pressed="chosen.has(block.key)"
          data-specimen
          @click="choose($event, block.key)"
          @pointerdown="($event.target as HTMLElement).releasePointerCapture?.($event.pointerId)"
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
  /* a few pages are drawn larger, many go on to the side */
  flex: 1 0 196px;
  max-width: 380px;
  min-width: 0;
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
ul {
  margin: 0;
  padding: 0;
  border: 1px solid var(--edge);
  list-style: none;
}
ul.whole {
  outline: 3px solid var(--ink);
}
li + li {
  border-top: 1px solid var(--edge);
}
li:has(.joined) + li {
  border-top-color: transparent;
}
.block {
  display: flex;
  gap: 8px;
  align-items: flex-start;
  justify-content: space-between;
  width: 100%;
  padding: 7px 9px;
  border: 0;
  font-size: 12.5px;
  line-height: 1.3;
  text-align: left;
  cursor: pointer;
  touch-action: none;
  user-select: none;
}
.block b,
.wears {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.wears {
  flex: none;
  max-width: 50%;
}
.chosen {
  box-shadow:
    inset 0 0 0 3px var(--ink),
    inset 0 0 0 5px var(--paper);
}
</style>
