<script setup lang="ts">
import { computed } from "vue";
import type { FoundColour, FoundGroup } from "@/api/client";
import { count } from "@/logic/words";

/** The found colours of one use side by side in proportion, those that would become one under one bracket. */
const props = defineProps<{ group: FoundGroup; labels: Map<string, string>; chosen: FoundColour | null }>();
const emit = defineEmits<{ choose: [colour: FoundColour] }>();

interface Bracket {
  role: string | null;
  share: number;
  colours: FoundColour[];
}
const brackets = computed(() => {
  const found: Bracket[] = [];
  for (const colour of props.group.colours) {
    const last = found.at(-1);
    if (last && last.role === colour.role) {
      last.share += colour.share;
      last.colours.push(colour);
    } else found.push({ role: colour.role, share: colour.share, colours: [colour] });
  }
  return found;
});
const title = (bracket: Bracket) =>
  bracket.role ? (props.labels.get(bracket.role) ?? bracket.role) : "not in the palette";
const about = (one: FoundColour) =>
  `${one.colour.toUpperCase()}, ${count(one.places, "place")}, ${count(one.texts, "text")}`;
</script>

<template>
  <section class="FoundBar">
    <div>
      <h2>{{ group.label }}</h2>
      <p class="soft">{{ count(group.colours.length, "colour") }}</p>
    </div>
    <ul class="bar">
      <li
        v-for="bracket in brackets"
        :key="`${bracket.role} ${bracket.colours[0]!.colour}`"
        class="bracket"
        :style="{ flexGrow: bracket.share * 100 }"
      >
        <span class="colours">
          <button
            v-for="one in bracket.colours"
            :key="one.colour"
            type="button"
            :style="{ background: one.colour, flexGrow: one.share * 100 }"
            :aria-label="about(one)"
            :title="about(one)"
            :aria-pressed="chosen?.colour === one.colour && chosen.role === one.role"
            @click="emit('choose', one)"
          />
        </span>
        <span class="hook" aria-hidden="true" />
        <span class="label" :title="title(bracket)">
          <b>{{ title(bracket) }}</b>
          <template v-if="bracket.colours.length > 1">&nbsp;{{ bracket.colours.length }} → 1</template>
        </span>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.FoundBar {
  display: grid;
  grid-template-columns: 104px 1fr;
  margin-bottom: 8px;
}
h2 {
  padding-top: 6px;
  font-size: 14px;
}
.bar {
  display: flex;
  min-width: 0;
  margin: 0;
  padding: 0;
  list-style: none;
}
.bracket {
  display: block;
  flex: 1 1 0;
  min-width: 14px;
}
.colours {
  display: flex;
  height: 44px;
  box-shadow: 0 0 0 1px var(--edge);
}
.colours button {
  flex: 1 1 0;
  min-width: 5px;
  padding: 0;
  border: 0;
  box-shadow: inset -1px 0 0 #8884;
  cursor: pointer;
}
.colours button:hover,
.colours button[aria-pressed="true"] {
  outline: 2px solid var(--ink);
  outline-offset: 1px;
  z-index: 1;
}
.hook {
  display: block;
  height: 6px;
  margin: 2px 2px 0;
  border: 1px solid var(--ink);
  border-top: 0;
}
.label {
  display: block;
  overflow: hidden;
  padding: 1px 2px 0;
  font-size: 12px;
  white-space: nowrap;
  text-overflow: ellipsis;
}
@media (max-width: 700px) {
  .FoundBar {
    grid-template-columns: 1fr;
  }
}
</style>
