<script setup lang="ts">
import { computed } from "vue";
import { ratioText } from "@/logic/words";

/** A figure with its sign: filled disc readable, half disc for large text only, struck ring hard to read. */
const props = withDefaults(defineProps<{ verdict: string; ratio?: number | null; tagged?: boolean }>(), {
  ratio: undefined,
});
const WORDS: Record<string, string> = {
  pass: "readable",
  half: "enough for large text only",
  fail: "hard to read",
  unsure: "cannot tell",
  exempt: "does not have to be readable",
};
const words = computed(() => WORDS[props.verdict] ?? props.verdict);
</script>

<template>
  <span class="ReadMark" :data-verdict="verdict" :class="{ tagged: tagged && verdict !== 'pass' }">
    <svg v-if="!tagged || verdict === 'pass'" viewBox="0 0 12 12" aria-hidden="true">
      <circle cx="6" cy="6" r="4.6" :class="{ full: verdict === 'pass' }" />
      <path v-if="verdict === 'half'" d="M6 1.4a4.6 4.6 0 0 0 0 9.2z" class="full" />
      <path v-if="verdict === 'fail'" d="M2.2 9.8 9.8 2.2" />
      <path v-if="verdict === 'unsure'" d="M4 6h4" />
    </svg>
    <span class="unseen">{{ words }}{{ ratio === undefined ? "" : ": " }}</span>
    <span v-if="ratio !== undefined">{{ ratioText(ratio) }}</span>
  </span>
</template>

<style scoped>
.ReadMark {
  display: inline-flex;
  align-items: center;
  gap: 4px;
}
.ReadMark svg {
  width: 12px;
  height: 12px;
  fill: none;
  stroke: currentColor;
  stroke-width: 1.8;
}
.ReadMark .full {
  fill: currentColor;
}
.tagged {
  padding: 0 5px;
  border-radius: 2px;
  background: var(--ink);
  color: var(--paper);
  font-weight: 700;
}
</style>
