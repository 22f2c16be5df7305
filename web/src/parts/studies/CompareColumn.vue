<script setup lang="ts">
import { computed, provide, ref } from "vue";
import type { Schemas } from "@/api/client";
import PageMiniature from "@/parts/common/PageMiniature.vue";
import { usePainter } from "@/composables/usePainter";
import { PAINTER } from "@/logic/keys";
import { addressOf } from "@/logic/words";
import { useSite } from "@/stores/site";
import { useStudy } from "@/stores/study";
import { WIDTHS } from "@/stores/view";

/** All pages under one study, one below the other. */
const props = defineProps<{ side: Schemas["ComparedSide"] }>();
const site = useSite();
const study = useStudy();
/** The close-up shows the study that is worked on. */
const isOpen = computed(() => props.side.number === study.revision?.base.study);
const pages = computed(() =>
  site.pages.map((page) => ({ ...page, preview: props.side.preview + addressOf(page.path) })),
);
provide(
  PAINTER,
  usePainter(
    computed(() => props.side.wear),
    ref("rest"),
  ),
);
</script>

<template>
  <ul class="CompareColumn" :aria-label="side.name">
    <li v-for="page in pages" :key="page.path">
      <page-miniature :page="page" :width="WIDTHS.wide.width" :height="WIDTHS.wide.height" :still="!isOpen" />
      <p>
        <b>{{ page.name }}</b>
        <span class="soft">{{
          side.pages[page.path] ? ` ${side.pages[page.path]} hard to read` : " nothing hard to read"
        }}</span>
      </p>
    </li>
  </ul>
</template>

<style scoped>
.CompareColumn {
  display: grid;
  gap: 10px;
  margin: 0;
  padding: 0;
  font-size: 13px;
  list-style: none;
}
</style>
