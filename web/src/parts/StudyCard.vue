<script setup lang="ts">
import { ElButton } from "element-plus";
import { nextTick, ref, useTemplateRef } from "vue";
import type { Schemas } from "@/api/client";
import ReadMark from "@/parts/ReadMark.vue";
import { count } from "@/logic/words";

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
      Deleted. <button type="button" class="act" @click="emit('step', 'bring-back', '')">bring it back</button>
    </p>
    <template v-else>
      <p class="soft">
        <read-mark :verdict="study.hard_texts ? 'fail' : 'pass'" />
        {{
          study.hard_texts ? `${count(study.hard_texts, "text")} of ${study.texts} hard to read` : "everything reads"
        }}
        · {{ count(study.changed, "colour") }} changed
      </p>
      <p v-if="isAsked" role="alert">
        Delete it?
        <button type="button" class="act" @click="emit('step', 'delete', '')">delete {{ study.name }}</button>
        <button type="button" class="act" @click="isAsked = false">keep it</button>
      </p>
      <p v-else class="acts">
        <b v-if="study.is_open">On the bench</b>
        <el-button v-else size="small" @click="emit('step', 'open', '')">Continue with it</el-button>
        <button type="button" class="act" :aria-pressed="compared" @click="emit('compare')">
          {{ compared ? "chosen to compare" : "compare" }}
        </button>
        <button type="button" class="act" @click="emit('copy')">copy</button>
        <button type="button" class="act" @click="startNaming">rename</button>
        <button type="button" class="act" @click="isAsked = true">delete</button>
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
