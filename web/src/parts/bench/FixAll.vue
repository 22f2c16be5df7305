<script setup lang="ts">
import { ElButton, ElCheckbox, ElOption, ElSelect } from "element-plus";
import { useEventListener } from "@vueuse/core";
import { computed, inject, onScopeDispose, ref, shallowRef, watch } from "vue";
import FixAllChange from "@/parts/bench/FixAllChange.vue";
import FixAllOffers from "@/parts/bench/FixAllOffers.vue";
import TwoWays from "@/parts/bench/TwoWays.vue";
import { sentence, type ActOf, type Answer, type Schemas, type Search } from "@/api/client";
import { LOOKED_AT } from "@/logic/keys";
import { placesOf } from "@/logic/placesOf";
import { count } from "@/logic/words";
import { useSite } from "@/stores/site";
import { useStudy } from "@/stores/study";

/** Fixes everything at once: shown on all pages first, beside how they were; then applied whole, in part, or not. */
type Change = Schemas["ChangeTold"];
const ROOMS = [
  { value: "must", label: "Only what must change" },
  { value: "more", label: "A little more room" },
  { value: "strict", label: "Strict (AAA)" },
] as const;
const site = useSite();
const study = useStudy();
const found = shallowRef<Answer<"fix-all"> | null>(null);
/** Changes that are not taken, by key; and what is taken beside changes of colour, by its rules. */
const left = ref(new Set<string>());
const offered = ref(new Set<string>());
const room = ref<Search<"fix-all">["room"]>("must");
const isWide = ref(false);
const isBusy = ref(false);
const isBefore = ref(false);
const trouble = ref("");
const ahead = ref(0);
const lookedAt = inject(LOOKED_AT, () => Promise.resolve());
const isWaiting = ref(false);
let patience = new AbortController();
let ending = new AbortController();
const keyOf = (change: Change) => [change.role, change.where, change.after].join(" ");
const taken = computed(() => found.value?.changes.filter((change) => !left.value.has(keyOf(change))) ?? []);
const wholes = (changes: Change[]) => changes.filter((change) => !change.tokens.length && !change.there);
const values = (changes: Change[]) =>
  Object.fromEntries(wholes(changes).map((change) => [change.role, change.after] as const));
const locked = computed(() => study.roles.filter((role) => role.locked).length);
watch(
  () => site.visit,
  () => (found.value = null),
);
onScopeDispose(() => found.value && cancel());

async function look(keeps: Search<"fix-all">["keeps"] = null): Promise<void> {
  isBusy.value = true;
  trouble.value = "";
  ahead.value = 0;
  ending.abort();
  const mine = (ending = new AbortController());
  const visit = site.visit;
  try {
    patience = new AbortController();
    mine.signal.addEventListener("abort", () => patience.abort());
    isWaiting.value = true;
    await lookedAt(patience.signal);
    isWaiting.value = false;
    if (mine.signal.aborted) return;
    const answer = await study.find(
      { search: "fix-all", locks: [], room: room.value, backgrounds: isWide.value, keeps },
      mine.signal,
      (first) => (ahead.value = first),
    );
    if (visit !== site.visit || mine.signal.aborted) return;
    cancel();
    found.value = answer;
    left.value = new Set();
    offered.value = new Set();
    show();
  } catch (refusal) {
    if (!mine.signal.aborted) trouble.value = sentence(refusal);
  } finally {
    if (mine === ending) isBusy.value = false;
  }
}

/** Shows on the pages what is taken, or how they were. */
function show(): void {
  const shown = isBefore.value ? [] : taken.value;
  const wanted = values(shown);
  for (const change of wholes(found.value?.changes ?? [])) if (!(change.role in wanted)) study.drop(change.role);
  study.showAll(wanted);
  study.tried = Object.assign({}, ...shown.map((change) => change.wear)) as Record<string, string>;
  const veils = isBefore.value ? [] : (found.value?.veils ?? []).filter((veil) => offered.value.has(veil.section));
  const rules = isBefore.value ? [] : (found.value?.rules ?? []).filter((rule) => offered.value.has(rule.css));
  const fades = isBefore.value ? {} : lessFaded();
  study.triedCss = [
    ...shown.map((change) => change.there?.css ?? ""),
    ...[...veils, ...rules].map((one) => one.css),
    ...Object.entries(fades).map(([selector, opacity]) => `${selector} { opacity: ${opacity} !important }`),
  ].join("\n");
  // what veils and rules do is read once they are taken: it needs another survey
  if (isBefore.value) study.tryActs();
  else study.tryActs({ ...fix(), veils: [], rules: [] });
}

/** The act that makes all that is taken so. */
function fix(): ActOf<"fix"> {
  const rules = found.value!.rules.filter((rule) => offered.value.has(rule.css)).map((rule) => rule.css);
  const veils = found
    .value!.veils.filter((veil) => offered.value.has(veil.section))
    .map(({ section, role, colour, opacity, behind }) => ({ section, role, colour, opacity, behind }));
  return {
    act: "fix",
    values: values(taken.value),
    parts: parts(),
    places: placesOf(taken.value),
    fades: lessFaded(),
    veils,
    rules,
  };
}

const parts = () =>
  taken.value
    .filter((change) => change.tokens.length)
    .map(({ role, where, after, tokens }) => ({ role, where, colour: after, tokens }));
const lessFaded = (): Record<string, number> =>
  Object.fromEntries(
    (found.value?.fades ?? [])
      .filter((fade) => offered.value.has(fade.selector))
      .map((fade) => [fade.selector, fade.opacity] as const),
  );

function toggle(set: Set<string>, key: string): Set<string> {
  const next = new Set(set);
  if (!next.delete(key)) next.add(key);
  return next;
}

function toggleChange(change: Change): void {
  left.value = toggle(left.value, keyOf(change));
  show();
}

function toggleOffer(key: string): void {
  offered.value = toggle(offered.value, key);
  show();
}

function lookBefore(before: boolean): void {
  if (!found.value || isBefore.value === before) return;
  isBefore.value = before;
  show();
}

// held like a thumb between two pages
const isText = (event: KeyboardEvent) => event.target instanceof HTMLElement && event.target.matches("input, textarea");
useEventListener(window, "keydown", (event: KeyboardEvent) => {
  if (event.key === "b" && !event.ctrlKey && !event.metaKey && !isText(event)) lookBefore(true);
});
useEventListener(window, "keyup", (event: KeyboardEvent) => event.key === "b" && lookBefore(false));

async function apply(): Promise<void> {
  if (await study.act(fix())) {
    for (const change of wholes(found.value?.changes ?? [])) study.drop(change.role);
    found.value = null;
    isBefore.value = false;
  }
}

function cancel(): void {
  for (const change of wholes(found.value?.changes ?? [])) study.drop(change.role);
  study.tried = {};
  study.triedCss = "";
  study.tryActs();
  found.value = null;
  isBefore.value = false;
}
</script>

<template>
  <section class="FixAll" aria-label="Fix all">
    <p v-if="!found" class="acts">
      <el-button size="small" :loading="isBusy" @click="look()">Fix all…</el-button>
      <el-button v-if="isBusy" size="small" @click="ending.abort()">Stop</el-button>
      <button v-if="isWaiting" type="button" class="act" @click="patience.abort()">Do not wait</button>
      <span v-if="ahead" class="soft">{{ count(ahead, "thing") }} first</span>
      <span v-if="locked" class="soft">{{ count(locked, "locked colour") }} kept</span>
    </p>
    <template v-else>
      <p role="status">
        <template v-if="found.changes.length">
          <b>{{ found.before - found.after }} of {{ found.before }} fixed</b> by
          {{ count(found.changes.length, "change") }}. See them on the pages.
        </template>
        <template v-else-if="found.before">No change of colour helps here.</template>
        <template v-else>Everything is readable already.</template>
      </p>
      <p class="acts">
        <el-select
          v-model="room"
          size="small"
          aria-label="How much to change"
          append-to="#dialogs"
          :disabled="isBusy"
          @change="look()"
        >
          <el-option v-for="one in ROOMS" :key="one.value" :value="one.value" :label="one.label" />
        </el-select>
        <button
          v-if="found.changes.length"
          type="button"
          class="act"
          title="Or hold B"
          :aria-pressed="isBefore"
          @click="lookBefore(!isBefore)"
        >
          Show before
        </button>
      </p>
      <two-ways v-if="found.ways.length" :ways="found.ways" :is-busy="isBusy" @choose="look" />
      <ul v-if="found.changes.length" class="changes">
        <fix-all-change
          v-for="change in found.changes"
          :key="keyOf(change)"
          :change="change"
          :is-taken="!left.has(keyOf(change))"
          @toggle="toggleChange(change)"
        />
      </ul>
      <fix-all-offers :found="found" :taken="offered" @toggle="toggleOffer" />
      <div v-for="(one, place) in found.left" :key="place" class="left">
        <p>
          <b>{{ count(one.texts, "text") }}</b> {{ one.texts === 1 ? "stays" : "stay" }} hard to read<template
            v-if="one.locks.length"
          >
            while {{ one.locks.join(", ") }} {{ one.locks.length === 1 ? "is" : "are" }} locked</template
          >: <q v-for="sample in one.samples.slice(0, 2)" :key="sample">{{ sample }}</q>
        </p>
        <p class="soft">{{ one.why }}</p>
      </div>
      <el-checkbox
        v-if="found.changes.length || found.after || isWide"
        v-model="isWide"
        label="Let backgrounds of pages and sections change"
        size="small"
        :disabled="isBusy"
        @change="look()"
      />
      <p class="acts end">
        <el-button
          v-if="found.changes.length || offered.size"
          size="small"
          type="primary"
          :disabled="(!taken.length && !offered.size) || isBusy"
          @click="apply"
        >
          {{ left.size ? `Apply ${taken.length} of them` : "Apply" }}
        </el-button>
        <el-button size="small" @click="cancel">Cancel</el-button>
      </p>
    </template>
    <p v-if="trouble" role="alert">{{ trouble }}</p>
  </section>
</template>

<style scoped>
.FixAll {
  display: grid;
  gap: 7px;
  margin-bottom: 10px;
  font-size: 13px;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
}
.acts > * {
  margin: 0;
}
.acts .el-select {
  width: 160px;
}
/* in sight however long the list is */
.end {
  position: sticky;
  bottom: -12px;
  z-index: 1;
  padding: 8px 0 12px;
  border-top: 1px solid var(--rule);
  background: var(--panel);
}
.changes {
  margin: 0;
  padding: 0;
  list-style: none;
}
.left {
  padding-left: 8px;
  border-left: 3px solid var(--ink);
}
q + q {
  margin-left: 6px;
}
</style>
