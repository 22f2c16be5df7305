<script setup lang="ts">
import { ElButton, ElRadioButton, ElRadioGroup } from "element-plus";
import { useMagicKeys } from "@vueuse/core";
import { computed, inject, onMounted, ref, shallowRef, watch } from "vue";
import client, { ask, type Plan, sentence } from "@/api/client";
import BeforeAfter from "@/parts/release/BeforeAfter.vue";
import FindingCard from "@/parts/common/FindingCard.vue";
import LostMark from "@/parts/common/LostMark.vue";
import ReadMark from "@/parts/common/ReadMark.vue";
import WaysOut from "@/parts/release/WaysOut.vue";
import ReleaseHistory from "@/parts/release/ReleaseHistory.vue";
import { LOOKED_AT, MEASURING } from "@/logic/keys";
import { count, dateText } from "@/logic/words";
import { useSite } from "@/stores/site";
import { useStudy } from "@/stores/study";
import { useView, WIDTHS } from "@/stores/view";

/** Before and after, the changes in words, releasing, and earlier releases. */
const site = useSite();
const study = useStudy();
const view = useView();
const plan = shallowRef<Plan | null>(null);
const changeCount = computed(() =>
  plan.value
    ? plan.value.changes.length + plan.value.fades.length + plan.value.places.length + Number(plan.value.own_css)
    : 0,
);
const chosen = ref(site.pages[0]?.path ?? "");
const trouble = ref("");
const said = ref("");
const isBusy = ref(false);
const edge = ref(0.5);
const isTaking = ref(false);

const page = computed(() => site.pages.find((one) => one.path === chosen.value) ?? site.pages[0]);
const address = computed(() => new URL(plan.value?.address ?? "/", location.href).href);
const liveRelease = computed(() => plan.value?.releases.find((one) => one.live));
const beforeLabel = computed(() =>
  liveRelease.value?.live_since ? `live since ${dateText(liveRelease.value.live_since)}` : "original",
);
const before = computed(() => plan.value?.before ?? {});

const path = computed(() => ({ params: { path: { slug: site.slug } } }));

async function run(step: () => Promise<Plan>, what: string): Promise<void> {
  isBusy.value = true;
  trouble.value = "";
  try {
    plan.value = await step();
    said.value = what;
    study.take(await ask(client.GET("/api/sites/{slug}/study", path.value)));
  } catch (refusal) {
    trouble.value = sentence(refusal);
  } finally {
    isBusy.value = false;
  }
}

/** The release that was live when the plan was made. */
const seen = () => plan.value?.live_number ?? null;
/** The plan of what is there once all that was pressed before is done. */
const refresh = () =>
  run(async () => {
    await study.written();
    return ask(client.GET("/api/sites/{slug}/release", path.value));
  }, "");
const isOfNow = () => JSON.stringify(study.revision?.base) === JSON.stringify(plan.value?.base);
const measuring = inject(MEASURING, ref(""));
const lookedAt = inject(LOOKED_AT, () => Promise.resolve());
const isWaiting = ref(false);
let waiting = new AbortController();
/** Releases once the pages have been looked at: what is said of them is then known. */
async function release(): Promise<void> {
  waiting = new AbortController();
  isWaiting.value = true;
  await study.written();
  await lookedAt(waiting.signal);
  if (!isOfNow()) await refresh();
  isWaiting.value = false;
  if (isOfNow()) await releaseNow();
}
const releaseNow = () =>
  run(
    () =>
      ask(
        client.POST("/api/sites/{slug}/release", {
          ...path.value,
          body: { base: plan.value!.base, live_number: seen() },
        }),
      ),
    "It is live.",
  );
const takeBack = (number: number) =>
  run(
    () =>
      ask(
        client.POST("/api/sites/{slug}/releases/{number}/live", {
          params: { path: { slug: site.slug, number } },
          body: { live_number: seen() },
        }),
      ),
    number ? "The earlier release is live again." : "The original site is live.",
  );

onMounted(refresh);
watch(
  () => study.revision?.base,
  () => !isOfNow() && !isBusy.value && !isWaiting.value && refresh(),
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
        :worn="before"
        :before-label="beforeLabel"
        after-label="this study"
      />
      <div v-else class="pair" />
      <div class="under">
        <span class="soft">Move the edge, or hold B, to see the page before.</span>
        <el-radio-group v-model="view.width" size="small" aria-label="How wide the page is">
          <el-radio-button v-for="(one, name) in WIDTHS" :key="name" :value="name">{{ one.label }}</el-radio-button>
        </el-radio-group>
      </div>
    </section>

    <section v-if="plan" class="acts" aria-label="What would change">
      <h2>
        {{
          changeCount
            ? `${count(changeCount, "change")}, ${count(site.pages.length, "page")}`
            : plan.live
              ? "Nothing differs from what is live"
              : "No colour is changed yet"
        }}
      </h2>
      <ul class="changes">
        <li v-for="change in plan.changes" :key="change.role">
          <span class="swatches" aria-hidden="true"
            ><i :style="{ background: change.before }" /><i :style="{ background: change.after }"
          /></span>
          <span>
            <b>{{ change.label }}</b><br />
            <span class="soft">
              {{
                change.before === change.after
                  ? "nearly alike colours merged"
                  : `${change.before.toUpperCase()} to ${change.after.toUpperCase()}`
              }},
              {{ count(change.places, "place") }}
            </span>
          </span>
        </li>
        <li v-for="(one, place) in plan.places" :key="place">
          <span class="swatches" aria-hidden="true" />
          <span>
            <b>{{ one.place }}</b><br />
            <span class="soft"
              >{{ one.wears || "as the site has it"
              }}{{ one.page && one.page !== one.place ? `, on ${one.page} only` : "" }}</span
            >
          </span>
        </li>
        <li v-if="plan.own_css">
          <span class="swatches" aria-hidden="true" />
          <b>Your own CSS</b>
        </li>
        <li v-for="fade in plan.fades" :key="fade.selector">
          <span class="swatches" aria-hidden="true" />
          <span>
            <b>Faded text</b><br />
            <span class="soft">
              <code>{{ fade.selector }}</code>
              {{ fade.opacity === null ? "as the page has it" : `at ${Math.round(fade.opacity * 100)} %` }}
            </span>
          </span>
        </li>
      </ul>
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
      <details v-if="plan.hard.length">
        <summary>Still hard to read ({{ plan.hard.length }})</summary>
        <ul>
          <finding-card v-for="(finding, place) in plan.hard" :key="place" :finding="finding" />
        </ul>
      </details>
      <p class="soft" role="status">{{ said }}</p>
      <p v-if="trouble" role="alert">
        <b>{{ trouble }}</b>
      </p>
      <div class="go">
        <p v-if="isWaiting" role="status">
          {{ measuring || "Looking at the pages" }}, then it is released.
          <button type="button" class="act" @click="waiting.abort()">Release now</button>
        </p>
        <el-button
          type="primary"
          size="large"
          :loading="isBusy || isWaiting"
          :disabled="!changeCount && plan.live"
          @click="release"
        >
          Release to the live site
        </el-button>
      </div>
      <p v-if="plan.live" class="live">
        Live at <a :href="plan.address" target="_blank" rel="noopener">{{ address }}</a>
      </p>
      <p>
        <button type="button" class="act" @click="isTaking = true">Download for my own host…</button>
      </p>
      <ways-out v-model="isTaking" />
      <release-history :releases="plan.releases" :busy="isBusy" @take-back="takeBack" />
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
.changes li {
  display: flex;
  gap: 12px;
  padding: 8px 0;
  border-top: 1px solid var(--rule);
  line-height: 1.3;
}
.swatches {
  display: flex;
  flex: none;
  box-shadow: inset 0 0 0 1px #0003;
}
.swatches i {
  width: 30px;
  height: 34px;
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
