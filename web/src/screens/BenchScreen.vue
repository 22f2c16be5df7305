<script setup lang="ts">
import { useEventListener } from "@vueuse/core";
import { ElRadioButton, ElRadioGroup } from "element-plus";
import { computed, onMounted, reactive, ref, shallowRef, useTemplateRef } from "vue";
import HardToRead from "@/parts/bench/HardToRead.vue";
import MixTray from "@/parts/bench/MixTray.vue";
import PageMiniature from "@/parts/common/PageMiniature.vue";
import PaletteRail from "@/parts/bench/PaletteRail.vue";
import SpotPanel from "@/parts/bench/SpotPanel.vue";
import { useKeptScroll } from "@/composables/useKeptScroll";
import type { Spot } from "@/composables/usePainter";
import ReadMark from "@/parts/common/ReadMark.vue";
import StatePicker from "@/parts/common/StatePicker.vue";
import { useSite } from "@/stores/site";
import { useStudy } from "@/stores/study";
import { useView, WIDTHS } from "@/stores/view";

/** The bench: the palette above, all pages in the middle, what is hard to read beside them, mixing below. */
const FEW_PAGES = 3;
const MOST_PARTS = 9;
const LEAST_REST_PX = 60;
const site = useSite();
const study = useStudy();
const view = useView();
const spot = shallowRef<Spot | null>(null);
/** Whether a spot on a page is asked about without a role being open. */
const isAsking = ref(false);
function closeSpot(): void {
  spot.value = null;
  view.isPicking = isAsking.value = false;
}
useEventListener(window, "keydown", (event: KeyboardEvent) => {
  const isBusy = event.target instanceof HTMLElement && event.target.closest("input, textarea, #dialogs, .PaletteRail");
  if (event.key !== "Escape" || event.defaultPrevented || isBusy) return;
  if (spot.value || isAsking.value || view.isPicking) closeSpot();
  else view.open = null;
});
/** The pages are asked for before the palette above them and the list beside them are made. */
const isMounted = ref(false);
onMounted(() => setTimeout(() => (isMounted.value = true)));
const isAsked = computed(() => isMounted.value && study.revision !== null);
const screen = computed(() => WIDTHS[view.width]);
useKeptScroll(useTemplateRef<HTMLElement>("table"));
/** How long pages are, CSS pixels, by path and width of screen. */
const lengths = reactive(new Map<string, number>());
/** All pages by their first screen; where those are few, each from top to bottom, screen by screen. */
const shown = computed(() =>
  site.pages.flatMap((page) => {
    const long = site.pages.length > FEW_PAGES ? 0 : (lengths.get(`${page.path} ${view.width}`) ?? 0);
    const parts = Math.min(MOST_PARTS, Math.max(1, Math.ceil((long - LEAST_REST_PX) / screen.value.height)));
    return Array.from({ length: parts }, (_, part) => ({ page, part, parts }));
  }),
);
/** One picture alone is drawn large; two stand beside each other. */
const cell = computed(() => {
  const few = { 1: 620, 2: 420 }[shown.value.length];
  return view.width === "phone" || !few ? screen.value.cell : Math.max(few, screen.value.cell);
});
</script>

<template>
  <div class="BenchScreen">
    <palette-rail v-if="isAsked" v-model="view.open" />
    <p v-else class="room soft" role="status">Reading its colours…</p>
    <div class="middle">
      <main ref="table" class="table" tabindex="-1">
        <h1 class="unseen">Bench: {{ site.site?.name }}</h1>
        <div class="switches">
          <el-radio-group v-model="view.width" size="small" aria-label="Screen width">
            <el-radio-button v-for="(one, name) in WIDTHS" :key="name" :value="name">{{ one.label }}</el-radio-button>
          </el-radio-group>
          <state-picker />
          <button type="button" class="act" :aria-pressed="isAsking" @click="isAsking = !isAsking">
            {{ isAsking ? "Click a page…" : "What colour is this?" }}
          </button>
        </div>
        <spot-panel v-if="spot" :spot="spot" @close="closeSpot" />
        <ul class="pages" :style="{ '--cell': `${cell}px` }">
          <li v-for="{ page, part, parts } in shown" :key="`${page.path} ${part} ${view.width}`">
            <page-miniature
              :page="page"
              :part="part"
              :width="screen.width"
              :height="screen.height"
              :picking="view.isPicking || isAsking"
              @spot="spot = $event"
              @long="part === 0 && lengths.set(`${page.path} ${view.width}`, $event)"
            />
            <p class="caption">
              <b :title="page.path">{{ site.names.get(page.path) }}</b>
              <span v-if="part" class="soft">{{ part + 1 }} of {{ parts }}</span>
              <button
                v-else-if="study.reading?.pages[page.path]"
                type="button"
                class="tag"
                :aria-pressed="view.onPage === page.path"
                :title="`What is hard to read on ${site.names.get(page.path)}`"
                @click="view.onPage = view.onPage === page.path ? null : page.path"
              >
                {{ study.reading.pages[page.path] }}<span class="unseen"> hard to read</span>
              </button>
              <read-mark v-else-if="study.reading" verdict="pass" />
            </p>
          </li>
        </ul>
      </main>
      <hard-to-read v-if="isAsked" @open="view.open = $event" />
    </div>
    <mix-tray v-if="view.open && study.roleById.has(view.open)" :name="view.open" @close="view.open = null" />
  </div>
</template>

<style scoped>
.BenchScreen {
  display: flex;
  flex: 1;
  flex-direction: column;
  min-height: 0;
}
.room {
  display: grid;
  place-content: center;
  height: 127px;
}
.middle {
  display: grid;
  flex: 1;
  grid-template-columns: 1fr 292px;
  min-height: 0;
}
.table {
  overflow-y: auto;
  padding: 10px 16px 16px;
  background: var(--paper);
  scrollbar-width: thin;
}
.switches {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 20px;
  margin-bottom: 10px;
}
.pages {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(var(--cell), 1fr));
  gap: 12px 14px;
  margin: 0;
  padding: 0;
  list-style: none;
}
.caption {
  display: flex;
  gap: 8px;
  align-items: center;
  justify-content: space-between;
  padding: 3px 1px 0;
  font-size: 13px;
}
.caption b {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.tag {
  padding: 0 6px;
  border: 0;
  border-radius: 2px;
  cursor: pointer;
  background: var(--ink);
  color: var(--paper);
  font-weight: 700;
}
@media (max-width: 900px) {
  .BenchScreen {
    overflow-y: auto;
  }
  .middle {
    grid-template-columns: 1fr;
  }
  .table {
    overflow: visible;
  }
}
</style>
