<script setup lang="ts">
import { ElButton } from "element-plus";
import { nextTick, ref, useTemplateRef } from "vue";
import type { Schemas } from "@/api/client";
import ReadMark from "@/parts/common/ReadMark.vue";
import { count, readabilityText } from "@/logic/words";

/** One study: its colours by how much they show, how much reads, and what can be done with it. */
const props = defineProps<{ study: Schemas["StudyOut"]; compared: boolean }>();
const emit = defineEmits<{
  step: [what: "open" | "rename" | "delete" | "bring-back", name: string];
  copy: [];
  compare: [];
}>();
const name = ref("");
const isNaming = ref(false);
const isAsked = ref(false);
const field = useTemplateRef<HTMLInputElement>("field");

async function startNaming(): Promise<void> {
  name.value = props.study.name;
  isNaming.value = true;
  await nextTick();
  field.value?.select();
}

function rename(): void {
  if (isNaming.value && name.value.trim() && name.value !== props.study.name) emit("step", "rename", name.value);
  isNaming.value = false;
}
</script>

<template>
  <li class="StudyCard" :class="{ here: study.is_open, gone: study.is_deleted }">
    <div class="strip" aria-hidden="true">
      <i v-for="(one, place) in study.colours" :key="place" :style="{ background: one.colour, flexGrow: one.share }" />
    </div>
    <form v-if="isNaming" @submit.prevent="rename">
      <input ref="field" v-model="name" maxlength="80" aria-label="Name of the study" @blur="rename" />
    </form>
    <h2 v-else>{{ study.name }}</h2>
    <p v-if="study.is_deleted" class="soft">
      Deleted. <button type="button" class="act" @click="emit('step', 'bring-back', '')">Restore</button>
    </p>
    <template v-else>
      <p class="soft">
        <read-mark :verdict="study.hard_texts ? 'fail' : 'pass'" />
        {{ readabilityText(study.hard_texts, study.texts) }}
        · {{ count(study.changed, "colour") }} changed
      </p>
      <p v-if="isAsked" role="alert">
        Delete this study?
        <button type="button" class="act" @click="emit('step', 'delete', '')">Delete {{ study.name }}</button>
        <button type="button" class="act" @click="isAsked = false">Keep</button>
      </p>
      <p v-else class="acts">
        <b v-if="study.is_open">You are working on this one</b>
        <el-button v-else size="small" @click="emit('step', 'open', '')">Work on this one</el-button>
        <button type="button" class="act" :aria-pressed="compared" @click="emit('compare')">
          {{ compared ? "Chosen to compare" : "Compare" }}
        </button>
        <button type="button" class="act" @click="emit('copy')">Copy</button>
        <button type="button" class="act" @click="startNaming">Rename</button>
        <button type="button" class="act" @click="isAsked = true">Delete</button>
      </p>
    </template>
  </li>
</template>

<style scoped>
.StudyCard {
  display: grid;
  gap: 5px;
  padding: 10px 12px 12px;
  border: 1px solid var(--rule);
  background: var(--raised);
  font-size: 13px;
}
.here {
  border-color: var(--ink);
  box-shadow: inset 0 0 0 1px var(--ink);
}
.strip {
  display: flex;
  height: 40px;
}
.gone .strip {
  opacity: 0.4;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 12px;
  align-items: center;
}
</style>
