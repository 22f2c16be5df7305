<script setup lang="ts">
import { ElRadioButton, ElRadioGroup } from "element-plus";
import { computed, provide, ref } from "vue";
import PageMiniature from "@/parts/common/PageMiniature.vue";
import { usePainter } from "@/composables/usePainter";
import { PAINTER } from "@/logic/keys";
import { addressOf } from "@/logic/words";
import { useSite } from "@/stores/site";
import { WIDTHS } from "@/stores/view";

/** All pages in a palette that is not taken yet, and as they came, in the same places. */
const props = defineProps<{ root: string; wear: Record<string, string | null> }>();
const site = useSite();
const isOn = ref("on");
const worn = computed(() =>
  isOn.value === "on" ? props.wear : Object.fromEntries(Object.keys(props.wear).map((name) => [name, null])),
);
provide(PAINTER, usePainter(worn, ref("rest")));
const pages = computed(() => site.pages.map((page) => ({ ...page, preview: props.root + addressOf(page.path) })));
</script>

<template>
  <div class="PalettePreview">
    <el-radio-group v-model="isOn" aria-label="Which colours the pages show">
      <el-radio-button value="off">Original</el-radio-button>
      <el-radio-button value="on">With this palette</el-radio-button>
    </el-radio-group>
    <ul>
      <li v-for="page in pages" :key="page.path">
        <page-miniature :page="page" :width="WIDTHS.wide.width" :height="WIDTHS.wide.height" still />
        <b>{{ page.name }}</b>
      </li>
    </ul>
  </div>
</template>

<style scoped>
ul {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(260px, 1fr));
  gap: 14px;
  max-height: 66vh;
  overflow-y: auto;
  margin: 12px 0 0;
  padding: 0;
  list-style: none;
}
</style>
