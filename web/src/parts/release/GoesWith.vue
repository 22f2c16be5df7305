<script setup lang="ts">
import { ElCheckbox, ElInput } from "element-plus";
import { computed } from "vue";
import type { Going } from "@/composables/useRelease";
import { useSite } from "@/stores/site";

/** What goes with a release: what it is called, when it goes live, and a readability statement. */
const going = defineModel<Going>({ required: true });
const site = useSite();
const report = computed(() => `/api/sites/${site.slug}/report?form=statement`);
/** The next minute that can be waited for, as a form has it. */
const earliest = () => {
  const soon = new Date(Date.now() + 60_000);
  return new Date(soon.getTime() - soon.getTimezoneOffset() * 60_000).toISOString().slice(0, 16);
};
</script>

<template>
  <details class="GoesWith">
    <summary>Name, time, readability statement</summary>
    <label>
      <span>Call it</span>
      <el-input v-model="going.name" size="small" maxlength="80" placeholder="Spring paint" />
    </label>
    <label>
      <span>Go live at</span>
      <input v-model="going.due" type="datetime-local" :min="earliest()" />
      <button v-if="going.due" type="button" class="act" @click="going.due = ''">Now instead</button>
    </label>
    <el-checkbox v-model="going.withStatement">
      Put a readability statement on the site, as readability.html
    </el-checkbox>
    <p class="soft"><a :href="report" download>Read the statement first</a></p>
  </details>
</template>

<style scoped>
summary {
  cursor: pointer;
}
label:not(.el-checkbox) {
  display: flex;
  gap: 10px;
  align-items: center;
  margin-top: 8px;
}
label > span {
  flex: none;
  width: 74px;
}
input[type="datetime-local"] {
  padding: 2px 6px;
  border: 1px solid var(--edge);
  border-radius: var(--corner);
  background: var(--raised);
  font: inherit;
}
.el-checkbox {
  margin-top: 6px;
  white-space: normal;
}
p {
  margin: 0;
}
</style>
