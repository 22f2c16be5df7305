<script setup lang="ts">
import { ElButton, ElOption, ElRadioButton, ElRadioGroup, ElSelect } from "element-plus";
import { useMagicKeys } from "@vueuse/core";
import { computed, inject, onMounted, ref, watch } from "vue";
import BeforeAfter from "@/parts/release/BeforeAfter.vue";
import ChangeList from "@/parts/release/ChangeList.vue";
import GoesWith from "@/parts/release/GoesWith.vue";
import IsItThere from "@/parts/release/IsItThere.vue";
import LetThrough from "@/parts/release/LetThrough.vue";
import LostMark from "@/parts/common/LostMark.vue";
import ReadMark from "@/parts/common/ReadMark.vue";
import ReleaseHistory from "@/parts/release/ReleaseHistory.vue";
import WaysOut from "@/parts/release/WaysOut.vue";
import StatePicker from "@/parts/common/StatePicker.vue";
import { useRelease } from "@/composables/useRelease";
import { MEASURING } from "@/logic/keys";
import { count, dateText, dueText } from "@/logic/words";
import { useSite } from "@/stores/site";
import { useStudy } from "@/stores/study";
import { useView, WIDTHS } from "@/stores/view";

/** Before and after, the changes in words, releasing, and earlier releases, any two of which can be compared. */
const site = useSite();
const study = useStudy();
const view = useView();
const { plan, going, trouble, said, isBusy, isWaiting, compared, ...does } = useRelease();
const changeCount = computed(() => plan.value?.changes.length ?? 0);
const chosen = ref(site.pages[0]?.path ?? "");
const edge = ref(0.5);
const isTaking = ref(false);
const isAsking = ref(false);

const page = computed(() => site.pages.find((one) => one.path === chosen.value) ?? site.pages[0]);
const address = computed(() => new URL(plan.value?.address ?? "/", location.href).href);
const liveRelease = computed(() => plan.value?.releases.find((one) => one.live));
const beforeLabel = computed(() =>
  liveRelease.value?.live_since ? `live since ${dateText(liveRelease.value.live_since)}` : "original",
);

// any two of what there is: the live site, the open study, earlier releases
const LIVE = -1;
const THIS = -2;
const from = ref<number>(LIVE);
const to = ref<number>(THIS);
const isComparing = computed(() => from.value !== LIVE || to.value !== THIS);
const released = computed(() =>
  (plan.value?.releases ?? []).map((one) => ({
    number: one.number,
    label: one.name || (one.number ? `Release ${one.number}` : "Original"),
  })),
);
const labelOf = (number: number) => released.value.find((one) => one.number === number)?.label ?? "";
const changes = computed(() => (isComparing.value ? (compared.value?.changes ?? []) : (plan.value?.changes ?? [])));
const pair = computed(() => {
  if (!isComparing.value) {
    return { before: plan.value?.before ?? {}, after: undefined, one: beforeLabel.value, other: "this study" };
  }
  return {
    before: compared.value?.before ?? {},
    after: to.value === THIS ? undefined : (compared.value?.after ?? {}),
    one: from.value === LIVE ? beforeLabel.value : labelOf(from.value),
    other: to.value === THIS ? "this study" : labelOf(to.value),
  };
});
watch([from, to, () => plan.value], () => {
  if (!isComparing.value) return;
  // what is live is the release that is; where none is, the original site
  const one = from.value === LIVE ? (plan.value?.live_number ?? 0) : from.value;
  void does.compare(one, to.value === THIS ? null : to.value);
});
function endComparing(): void {
  from.value = LIVE;
  to.value = THIS;
}

const measuring = inject(MEASURING, ref(""));
onMounted(does.refresh);
watch(
  () => study.revision?.base,
  () => !does.isOfNow() && !isBusy.value && !isWaiting.value && does.refresh(),
);

// holding B shows what was before
let parted = 0.5;
const { b } = useMagicKeys();
watch(b!, (isHeld) => {
  if (isHeld && document.activeElement?.matches("input, textarea")) return;
  if (isHeld) parted = edge.value;
  edge.value = isHeld ? 1 : parted;
});
</script>

<template>
  <main class="ReleaseScreen" tabindex="-1">
    <h1 class="unseen">Release {{ site.site?.name }}</h1>
    <section class="stage" aria-label="Before and after">
      <div class="tabs" role="group" aria-label="Pages">
        <button
          v-for="one in site.pages"
          :key="one.path"
          type="button"
          :aria-pressed="one.path === page?.path"
          @click="chosen = one.path"
        >
          {{ one.name }}
        </button>
      </div>
      <before-after
        v-if="page && plan"
        v-model:edge="edge"
        class="pair"
        :page="page"
        :width="WIDTHS[view.width].width"
        :worn="pair.before"
        :worn-after="pair.after"
        :before-label="pair.one"
        :after-label="pair.other"
      />
      <div v-else class="pair" />
      <div class="under">
        <span class="soft">Move the edge, or hold B, to see the page before.</span>
        <state-picker label="State the page is shown in" :page="page?.path" />
        <el-radio-group v-model="view.width" size="small" aria-label="How wide the page is">
          <el-radio-button v-for="(one, name) in WIDTHS" :key="name" :value="name">{{ one.label }}</el-radio-button>
        </el-radio-group>
      </div>
    </section>

    <section v-if="plan" class="acts" aria-label="What would change">
      <div v-if="isComparing" class="compare">
        <label>
          <span>From</span>
          <el-select v-model="from" size="small" aria-label="Compare from" append-to="#dialogs">
            <el-option :value="LIVE" :label="beforeLabel" />
            <el-option v-for="one in released" :key="one.number" :value="one.number" :label="one.label" />
          </el-select>
        </label>
        <label>
          <span>To</span>
          <el-select v-model="to" size="small" aria-label="Compare to" append-to="#dialogs">
            <el-option :value="THIS" label="this study" />
            <el-option v-for="one in released" :key="one.number" :value="one.number" :label="one.label" />
          </el-select>
        </label>
        <button type="button" class="act" @click="endComparing">Back to this release</button>
      </div>
      <h2 v-if="isComparing">{{ compared ? count(changes.length, "change") : "Comparing…" }}</h2>
      <h2 v-else>
        {{
          changeCount
            ? `${count(changeCount, "change")}, ${count(site.pages.length, "page")}`
            : plan.live
              ? "Nothing differs from what is live"
              : "No colour is changed yet"
        }}
      </h2>
      <change-list
        :changes="changes"
        :can-take-back="!isComparing"
        :busy="isBusy || study.saving === 'saving'"
        @look="chosen = $event"
        @take-back="study.act({ act: 'take-back', change: $event })"
      />
      <template v-if="!isComparing">
        <p class="tally">
          <read-mark :verdict="plan.hard.length ? 'fail' : 'pass'" />
          <span>
            <b>{{ plan.readable }} of {{ plan.texts }} texts are readable</b><br />
            <span class="soft">in every state; {{ beforeLabel }}: {{ plan.readable_before }}</span>
            <template v-if="plan.unsure">
              <br />
              <span class="soft">Glaucon cannot judge {{ count(plan.unsure, "text") }} yet.</span>
            </template>
          </span>
        </p>
        <details v-if="plan.lost.length">
          <summary>Pictures that are hard to see ({{ plan.lost.length }})</summary>
          <ul>
            <lost-mark v-for="one in plan.lost" :key="`${one.source} ${one.section}`" :lost="one" :is-asked="false" />
          </ul>
        </details>
        <let-through v-if="plan.hard.length && (changeCount || !plan.live)" v-model="going" :hard="plan.hard" />
        <goes-with v-model="going" />
        <p class="soft" role="status">{{ said }}</p>
      </template>
      <p v-if="trouble" role="alert">
        <b>{{ trouble }}</b>
      </p>
      <div v-if="!isComparing" class="go">
        <p v-if="isWaiting" role="status">
          {{ measuring || "Looking at the pages" }}, then it is released.
          <button type="button" class="act" @click="does.stopWaiting">Release now</button>
        </p>
        <el-button
          type="primary"
          size="large"
          :loading="isBusy || isWaiting"
          :disabled="!changeCount && plan.live && !going.withStatement"
          @click="does.release"
        >
          {{ going.due ? `Release ${dueText(new Date(going.due).toISOString())}` : "Release to the live site" }}
        </el-button>
      </div>
      <p v-if="plan.live" class="live">
        Live at <a :href="plan.address" target="_blank" rel="noopener">{{ address }}</a>
      </p>
      <p class="outside">
        <button type="button" class="act" @click="isTaking = true">Download for my own host…</button>
        <button type="button" class="act" @click="isAsking = true">Is it there?</button>
      </p>
      <ways-out v-model="isTaking" />
      <is-it-there v-model="isAsking" :downloaded="plan.downloaded" />
      <release-history
        :releases="plan.releases"
        :busy="isBusy"
        @take-back="does.takeBack"
        @rename="does.rename"
        @call-off="does.callOff"
        @compare="from = $event"
      />
    </section>
    <section v-else class="acts">
      <p v-if="trouble" role="alert">{{ trouble }}</p>
      <p v-else class="soft">Comparing with what is live…</p>
    </section>
  </main>
</template>

<style scoped>
.ReleaseScreen {
  display: grid;
  flex: 1;
  grid-template-columns: 1fr 430px;
  min-height: 0;
}
.stage {
  display: flex;
  flex-direction: column;
  gap: 10px;
  min-width: 0;
  min-height: 0;
  padding: 12px 18px;
  background: var(--paper);
}
.tabs {
  display: flex;
  flex: none;
  flex-wrap: wrap;
  gap: 4px;
  max-height: 66px;
  overflow-y: auto;
}
.tabs button {
  padding: 3px 10px;
  border: 1px solid var(--edge);
  border-radius: var(--corner);
  background: var(--raised);
  cursor: pointer;
}
.tabs button[aria-pressed="true"] {
  border-color: var(--ink);
  background: var(--ink);
  color: var(--paper);
}
.pair {
  flex: 1;
  min-height: 260px;
}
.under {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
  justify-content: space-between;
}
.acts {
  overflow-y: auto;
  padding: 18px 20px;
  border-left: 1px solid var(--rule);
  background: var(--panel);
  scrollbar-width: thin;
}
.acts > * + * {
  margin-top: 12px;
}
h2 {
  font-size: 19px;
}
ul {
  padding: 0;
  list-style: none;
}
.compare {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 14px;
  align-items: center;
}
.compare label {
  display: flex;
  gap: 8px;
  align-items: center;
}
.compare .el-select {
  width: 170px;
}
.tally {
  display: flex;
  gap: 12px;
  align-items: baseline;
  padding-top: 12px;
  border-top: 1px solid var(--rule);
  line-height: 1.4;
}
/* however long the list above it is */
.go {
  position: sticky;
  bottom: -18px;
  z-index: 1;
  padding: 10px 0 12px;
  border-top: 1px solid var(--rule);
  background: var(--panel);
}
.go .el-button {
  width: 100%;
}
.outside {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 18px;
}
.live {
  overflow-wrap: anywhere;
}
summary {
  cursor: pointer;
}
@media (max-width: 900px) {
  .ReleaseScreen {
    grid-template-columns: 1fr;
    overflow-y: auto;
  }
  .stage {
    min-height: 78vh;
  }
  .acts {
    overflow: visible;
    border-left: 0;
  }
}
</style>
