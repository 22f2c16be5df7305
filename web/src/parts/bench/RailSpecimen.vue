<script setup lang="ts">
import ReadMark from "@/parts/common/ReadMark.vue";

/** What each tile of the rail is built on: a colour pair as a specimen, its name, and how well it is read. */
defineProps<{
  fill: string;
  text: string;
  label: string;
  isDifferent: boolean;
  reading?: { verdict: string; lowest: number | null };
}>();
</script>

<template>
  <button type="button" class="RailSpecimen">
    <span class="specimen" :style="{ background: fill, color: text }" data-specimen><slot>Aa</slot></span>
    <slot name="states" />
    <span class="label">
      <b
        >{{ label }}<i v-if="isDifferent" title="changed"> ∗<span class="unseen"> changed</span></i></b
      >
      <slot name="under" />
      <read-mark v-if="reading" :verdict="reading.verdict" :ratio="reading.lowest" />
      <span v-else class="soft">no text</span>
    </span>
  </button>
</template>

<style scoped>
.RailSpecimen {
  contain: content;
  container-type: inline-size;
  position: relative;
  display: flex;
  flex: 1 1 0;
  flex-direction: column;
  min-width: 0;
  height: 126px;
  padding: 0;
  border: 0;
  background: var(--panel);
  text-align: left;
  cursor: pointer;
}
.RailSpecimen:hover {
  background: var(--raised);
}
.specimen {
  flex: 1;
  padding: 8px 10px;
  font-size: 26px;
  font-weight: 700;
  line-height: 1.2;
}
.label {
  display: grid;
  padding: 5px 8px 7px;
  font-size: 12px;
  line-height: 1.36;
}
@container (max-width: 92px) {
  .label {
    padding-inline: 5px 3px;
    letter-spacing: -0.02em;
  }
}
.label > * {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.label b {
  display: -webkit-box;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 2;
  line-clamp: 2;
  white-space: normal;
}
.label i {
  font-style: normal;
}
.RailSpecimen:focus-visible {
  z-index: 2;
  box-shadow:
    inset 0 0 0 3px var(--ink),
    inset 0 0 0 5px var(--paper);
}
</style>
