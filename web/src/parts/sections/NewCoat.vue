<script setup lang="ts">
import { ElButton, ElDialog } from "element-plus";
import { computed, nextTick, ref, useTemplateRef } from "vue";
import ValueEntry from "@/parts/common/ValueEntry.vue";
import PictureColours from "@/parts/studies/PictureColours.vue";

/** A new coat from a background, typed or taken from a picture: its text is made readable on it. */
const props = defineProps<{ slug: string; taken: string[]; isGiven: boolean }>();
const emit = defineEmits<{ make: [label: string, background: string] }>();
const isOpen = ref(false);
const isPicking = ref(false);
const label = ref("");
const background = ref("#e8ddc4");
const field = useTemplateRef<HTMLInputElement>("field");
const entry = useTemplateRef<InstanceType<typeof ValueEntry>>("entry");
const isTaken = computed(() => props.taken.some((one) => one.toLowerCase() === label.value.trim().toLowerCase()));

async function open(): Promise<void> {
  isOpen.value = true;
  label.value = "";
  await nextTick();
  field.value?.focus();
}
function pick(hex: string): void {
  background.value = hex;
  isPicking.value = false;
}
async function make(): Promise<void> {
  if (!label.value.trim() || isTaken.value) return;
  // what was typed last may still be on its way
  if (!(await entry.value?.settled()) || !isOpen.value) return;
  emit("make", label.value.trim(), background.value);
  isOpen.value = false;
}
</script>

<template>
  <li class="NewCoat">
    <button v-if="!isOpen" type="button" class="ask" @click="open">New coat…</button>
    <div v-else class="form" @keydown.esc.stop="isOpen = false">
      <label>Name <input ref="field" v-model="label" maxlength="80" @keydown.enter="make" /></label>
      <value-entry ref="entry" :value="background" label="Background of the new coat" @change="background = $event" />
      <span class="patch" :style="{ background }" data-specimen />
      <button type="button" class="act" @click="isPicking = true">From a picture…</button>
      <p v-if="isTaken" role="alert">That name is taken.</p>
      <p class="acts">
        <el-button size="small" type="primary" :disabled="!label.trim() || isTaken" @click="make">{{
          isGiven ? "Add and give" : "Add"
        }}</el-button>
        <el-button size="small" @click="isOpen = false">Cancel</el-button>
      </p>
    </div>
    <el-dialog v-model="isPicking" title="A background from a picture" width="420px" append-to-body destroy-on-close>
      <picture-colours :slug is-for-one @take="pick" />
    </el-dialog>
  </li>
</template>

<style scoped>
.NewCoat {
  flex: 0 0 168px;
  border: 1px dashed var(--edge);
}
.ask {
  width: 100%;
  height: 100%;
  min-height: 84px;
  border: 0;
  background: none;
  cursor: pointer;
}
.form {
  display: grid;
  gap: 6px;
  padding: 8px 10px;
  font-size: 12px;
}
.form input {
  width: 100%;
}
.patch {
  height: 16px;
  border: 1px solid var(--edge);
}
.acts {
  display: flex;
  gap: 6px;
}
.acts > * {
  margin: 0;
}
</style>
