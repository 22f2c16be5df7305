<script setup lang="ts">
import { ElOption, ElSelect } from "element-plus";
import { computed, inject, nextTick, ref, useTemplateRef, watch } from "vue";
import FixAll from "@/parts/bench/FixAll.vue";
import LostMark from "@/parts/common/LostMark.vue";
import FindingCard from "@/parts/common/FindingCard.vue";
import { useOffers } from "@/composables/useOffers";
import { MEASURING } from "@/logic/keys";
import { AIMS, count } from "@/logic/words";
import { useSite } from "@/stores/site";
import { wear } from "@/logic/acts";
import { useStudy } from "@/stores/study";
import { useView } from "@/stores/view";

/** What is hard to read under the colours shown, the worst first. */
const emit = defineEmits<{ open: [role: string] }>();
const site = useSite();
const study = useStudy();
const view = useView();
const measuring = inject(MEASURING, ref(""));
const FIRST = 24;
const isLong = ref(false);
const list = useTemplateRef<HTMLElement>("list");
const all = computed(() => study.reading?.findings ?? []);
const listed = computed(() =>
  view.onPage ? all.value.filter((finding) => finding.pages.includes(view.onPage!)) : all.value,
);
const hard = computed(() => listed.value.filter((finding) => finding.verdict === "fail"));
const unsure = computed(() => listed.value.filter((finding) => finding.verdict === "unsure"));
const shown = computed(() => (isLong.value ? hard.value : hard.value.slice(0, FIRST)));
const { found, look } = useOffers(list);
watch(
  () => shown.value.map((finding) => finding.key).join("\n"),
  async () => {
    await nextTick();
    look();
  },
  { immediate: true },
);

// while the hand moves, what was found before would mislead
const isMoving = computed(() => Object.keys(study.draft).length > 0);
const aim = computed({
  get: () => study.revision?.aim ?? "AA",
  set: (value: "AA" | "AAA") => void study.act({ act: "set-aim", aim: value }),
});
const hardTexts = computed(() =>
  view.onPage ? (study.reading?.pages[view.onPage] ?? 0) : (study.reading?.hard_texts ?? 0),
);
const summary = computed(() => `${count(hardTexts.value, "text")}, in ${count(hard.value.length, "colour pair")}`);
</script>

<template>
  <aside class="HardToRead" aria-labelledby="hard-to-read">
    <header>
      <h2 id="hard-to-read">Hard to read</h2>
      <label class="soft aim" title="Contrast 4.5 : 1, and 3 for large text. AAA asks for 7, and 4.5 for large text.">
        Aim
        <el-select v-model="aim" size="small" aria-label="Aim" append-to="#dialogs">
          <el-option v-for="one in AIMS" :key="one.value" :value="one.value" :label="one.label" />
        </el-select>
      </label>
    </header>
    <p v-if="view.onPage" class="only">
      Only on <b>{{ site.names.get(view.onPage) }}</b>
      <button type="button" class="act" @click="view.onPage = null">All pages</button>
    </p>
    <p v-if="hard.length" class="soft">{{ summary }}</p>
    <fix-all v-if="study.reading?.hard_texts || isMoving" />
    <p v-if="measuring" class="soft">{{ measuring }}</p>
    <p v-if="study.reading && !hard.length" class="calm">
      <b>{{ unsure.length || measuring ? "Nothing is hard to read so far." : "Everything is readable." }}</b>
      {{ count(study.reading.texts, "text") }} on {{ count(site.pages.length, "page") }}, in every state.
    </p>
    <ul ref="list">
      <finding-card
        v-for="finding in shown"
        :key="`${finding.key} ${finding.sample}`"
        :data-key="finding.key"
        :finding="finding"
        :found="isMoving ? undefined : found.get(finding.key)"
        :is-asked="!isMoving"
        @use="(role, colour) => study.save({ [role]: colour })"
        @fade="(selector, opacity) => study.act({ act: 'fade', selector, opacity })"
        @here="study.act(wear([$event.where], $event.coat ?? null, $event.values))"
        @open="emit('open', $event)"
      />
    </ul>
    <ul v-if="study.reading?.lost?.length" aria-label="Pictures that are hard to see">
      <lost-mark
        v-for="one in study.reading.lost"
        :key="`${one.source} ${one.section}`"
        :lost="one"
        :is-asked="!isMoving"
        @take="
          study.act({ act: 'bring-back-mark', kind: one.kind, source: one.source, section: one.section, way: $event })
        "
      />
    </ul>
    <button v-if="hard.length > FIRST && !isLong" type="button" class="act" @click="isLong = true">
      Show all {{ hard.length }}
    </button>
    <details v-if="study.revision?.fades.length">
      <summary>Faded less than the page has it ({{ study.revision.fades.length }})</summary>
      <ul>
        <li v-for="one in study.revision.fades" :key="one.selector" class="fade">
          <code>{{ one.selector }}</code> at {{ Math.round((one.opacity ?? 1) * 100) }} %
          <button type="button" class="act" @click="study.act({ act: 'fade', selector: one.selector, opacity: null })">
            as the page has it
          </button>
        </li>
      </ul>
    </details>
    <details v-if="unsure.length" :open="!hard.length">
      <summary>{{ count(study.reading?.unsure_texts ?? 0, "place") }} Glaucon cannot judge yet</summary>
      <ul>
        <finding-card v-for="(finding, place) in unsure" :key="place" :finding="finding" @open="emit('open', $event)" />
      </ul>
    </details>
  </aside>
</template>

<style scoped>
.HardToRead {
  contain: content; /* what is read anew while a hand drags lays out nothing else */
  overflow-y: auto;
  padding: 12px 14px;
  border-left: 1px solid var(--rule);
  background: var(--panel);
  scrollbar-width: thin;
}
header {
  display: flex;
  align-items: center;
  justify-content: space-between;
  margin-bottom: 4px;
}
.aim {
  display: flex;
  gap: 6px;
  align-items: center;
}
.aim .el-select {
  width: 116px;
}
ul {
  margin: 0;
  padding: 0;
  list-style: none;
}
.only {
  display: flex;
  gap: 8px;
  align-items: baseline;
  justify-content: space-between;
}
.calm {
  padding: 9px 0;
  border-top: 1px solid var(--rule);
}
details {
  padding: 9px 0;
  border-top: 1px solid var(--rule);
}
summary {
  cursor: pointer;
  font-weight: 700;
}
</style>
