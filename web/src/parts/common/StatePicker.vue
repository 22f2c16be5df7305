<script setup lang="ts">
import { ElOption, ElRadioButton, ElRadioGroup, ElSelect } from "element-plus";
import { computed } from "vue";
import { useSite } from "@/stores/site";
import { STATES, useView } from "@/stores/view";

/** The state that pages are shown in, and what is opened on them: all that opens on the site, or on one page. */
const props = withDefaults(defineProps<{ label?: string; page?: string }>(), { label: "State", page: undefined });
const site = useSite();
const view = useView();
const opened = computed(() => {
  const all = site.site?.opened ?? [];
  return props.page === undefined ? all : all.filter((one) => one.pages.includes(props.page!));
});
const shown = computed(() => (opened.value.some((one) => one.label === view.opened) ? view.opened : ""));
</script>

<template>
  <el-radio-group v-model="view.state" size="small" :aria-label="label">
    <el-radio-button v-for="(name, state) in STATES" :key="state" :value="state">{{ name }}</el-radio-button>
  </el-radio-group>
  <el-select
    v-if="opened.length"
    :model-value="shown"
    size="small"
    class="opened"
    aria-label="What is opened"
    append-to="#dialogs"
    :empty-values="[null]"
    @update:model-value="view.opened = $event"
  >
    <el-option value="" label="Nothing opened" />
    <el-option v-for="one in opened" :key="one.label" :value="one.label" :label="`opened: ${one.label}`" />
  </el-select>
</template>

<style scoped>
.opened {
  width: 9.2em;
}
</style>
