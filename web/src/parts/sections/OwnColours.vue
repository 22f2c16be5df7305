<script setup lang="ts">
import { computed, ref } from "vue";
import { ElButton, ElOption, ElSelect } from "element-plus";
import ValueEntry from "@/parts/common/ValueEntry.vue";

/** Colours that the chosen places have of their own, by what they are for. */
const props = defineProps<{ own: Record<string, string> }>();
const emit = defineEmits<{ change: [own: Record<string, string>] }>();
const KINDS: Record<string, string> = {
  background: "Background",
  text: "Text",
  heading: "Heading",
  quiet: "Quiet text",
  link: "Link",
  "link.hover": "Link (hover)",
  "link.current": "Link (current page)",
  panel: "Panel",
  accent: "Buttons",
  "accent-text": "Button text",
  line: "Line",
};
const kind = ref("background");
const isOpen = ref(false);
const entries = computed(() => Object.entries(props.own));

function set(value: string): void {
  isOpen.value = false;
  emit("change", { ...props.own, [kind.value]: value });
}
function drop(name: string): void {
  emit("change", Object.fromEntries(entries.value.filter(([one]) => one !== name)));
}
</script>

<template>
  <div class="OwnColours">
    <p v-for="[name, value] in entries" :key="name">
      <i :style="{ background: value }" data-specimen />
      {{ KINDS[name] ?? name }} <span class="code">{{ value }}</span>
      <button type="button" class="act" :aria-label="`Take off ${KINDS[name] ?? name}`" @click="drop(name)">
        take off
      </button>
    </p>
    <el-button v-if="!isOpen" size="small" @click="isOpen = true">Set a colour…</el-button>
    <div v-else class="form" @keydown.esc.stop="isOpen = false">
      <el-select v-model="kind" size="small" aria-label="What the colour is for" append-to="#dialogs">
        <el-option v-for="(label, name) in KINDS" :key="name" :value="name" :label="label" />
      </el-select>
      <value-entry :value="own[kind] ?? ''" label="The colour here" @change="set" />
    </div>
  </div>
</template>

<style scoped>
.OwnColours {
  display: grid;
  gap: 5px;
  justify-items: start;
  font-size: 12px;
}
p {
  display: flex;
  gap: 6px;
  align-items: center;
}
i {
  width: 14px;
  height: 14px;
  border: 1px solid var(--edge);
}
.code {
  text-transform: uppercase;
}
.form {
  display: grid;
  gap: 5px;
}
</style>
