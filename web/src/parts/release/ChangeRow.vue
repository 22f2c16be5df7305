<script setup lang="ts">
import { computed } from "vue";
import type { Schemas } from "@/api/client";
import { count } from "@/logic/words";
import { useSite } from "@/stores/site";

/** One change in words: what it is, how it changes, on how many texts, and what it makes readable. */
const props = defineProps<{ change: Schemas["ChangeOut"]; page?: string; canTakeBack?: boolean; busy?: boolean }>();
const emit = defineEmits<{ takeBack: [] }>();
const site = useSite();
const where = computed(() => {
  const { change, page } = props;
  const pages = Object.keys(change.pages);
  if (page) return change.pages[page] ? `${count(change.pages[page], "text")} here` : "shows here, in no text";
  if (!pages.length) return "";
  const on = change.page
    ? `on ${site.names.get(change.page) ?? change.page} only`
    : `on ${count(pages.length, "page")}`;
  return `${change.texts ? `${count(change.texts, "text")} ` : "no text, "}${on}`;
});
</script>

<template>
  <li class="ChangeRow">
    <span class="swatches" aria-hidden="true"
      ><template v-if="change.before || change.after"
        ><i :style="{ background: change.before }" /><i :style="{ background: change.after }" /></template
    ></span>
    <span class="words">
      <b>{{ change.label }}</b> <span class="says">{{ change.says }}</span><br />
      <span class="soft">{{ where }}</span>
      <span v-if="change.mended && !page" class="good">{{ where ? ", " : "" }}{{ change.mended }} become readable</span>
      <details v-if="change.lines.length">
        <summary>{{ count(change.lines.length, "rule") }}</summary>
        <pre tabindex="0">{{ change.lines.map((line) => `${line[0]} ${line.slice(1)}`).join("\n") }}</pre>
      </details>
    </span>
    <button
      v-if="canTakeBack"
      type="button"
      class="act"
      :disabled="busy"
      :aria-label="`Take back: ${change.label} ${change.says}`"
      @click="emit('takeBack')"
    >
      Take back
    </button>
  </li>
</template>

<style scoped>
.ChangeRow {
  display: flex;
  gap: 12px;
  padding: 7px 0;
  border-top: 1px solid var(--rule);
  line-height: 1.35;
}
.words {
  flex: 1;
  min-width: 0;
}
.act {
  flex: none;
  align-self: start;
}
.swatches {
  display: flex;
  flex: none;
  width: 60px;
  height: 34px;
}
.swatches i {
  flex: 1;
  box-shadow: inset 0 0 0 1px #0003;
}
.says {
  overflow-wrap: anywhere;
}
.good {
  color: var(--ink);
}
pre {
  max-height: 140px;
  overflow: auto;
  margin: 4px 0 0;
  padding: 6px 8px;
  background: var(--sunk);
  font-size: 12px;
  white-space: pre-wrap;
}
</style>
