<script setup lang="ts">
import { ElInput } from "element-plus";
import { ref, watch } from "vue";
import client, { ask, sentence } from "@/api/client";

/** Takes any CSS colour as typed. What is not understood stays, with what would be. */
const props = defineProps<{ value: string; label: string }>();
const emit = defineEmits<{ change: [hex: string] }>();
const typed = ref(props.value);
const problem = ref("");
let isTyping = false;

watch(
  () => props.value,
  (value) => {
    if (!isTyping && !problem.value) typed.value = value;
  },
);

let taking: Promise<void> = Promise.resolve();
/** Waits until what was typed is understood; false: it was not. */
async function settled(): Promise<boolean> {
  await taking;
  return !problem.value;
}
defineExpose({ settled });

const take = () => (taking = understand());

async function understand(): Promise<void> {
  isTyping = false;
  if (typed.value.trim().toLowerCase() === props.value) {
    problem.value = "";
    return;
  }
  try {
    const hex = await hexOf(typed.value.trim());
    problem.value = "";
    typed.value = hex;
    emit("change", hex);
  } catch (refusal) {
    problem.value = sentence(refusal);
  }
}

/** A whole code needs nobody to understand it, so that one can be typed offline too. */
async function hexOf(text: string): Promise<string> {
  if (/^#[0-9a-f]{6}$/i.test(text)) return text.toLowerCase();
  return (await ask(client.POST("/api/colour", { body: { text } }))).hex;
}

function leave(): void {
  typed.value = props.value;
  problem.value = "";
}
</script>

<template>
  <div class="ValueEntry">
    <el-input
      v-model="typed"
      :aria-label="label"
      :aria-invalid="!!problem"
      aria-describedby="value-problem"
      spellcheck="false"
      autocomplete="off"
      @input="isTyping = true"
      @change="take"
      @keydown.esc.stop="leave"
    />
    <p id="value-problem" role="alert">{{ problem }}</p>
  </div>
</template>

<style scoped>
.ValueEntry :deep(input) {
  font-size: 15px;
}
p {
  font-size: 13px;
}
p:not(:empty) {
  margin-top: 6px;
}
p:not(:empty)::before {
  content: "! ";
  font-weight: 700;
}
</style>
