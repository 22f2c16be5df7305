<script setup lang="ts">
import { useEventListener } from "@vueuse/core";
import {
  ElButton,
  ElDropdown,
  ElDropdownItem,
  ElDropdownMenu,
  ElOption,
  ElRadioButton,
  ElRadioGroup,
  ElSelect,
} from "element-plus";
import { computed, defineAsyncComponent, onBeforeUnmount, ref, shallowRef, watch } from "vue";
import { useRoute, useRouter } from "vue-router";
import client, { ask, type Schemas, sentence } from "@/api/client";
import AlivePage from "@/parts/closeup/AlivePage.vue";
import MixTray from "@/parts/bench/MixTray.vue";
import ChangeHere from "@/parts/closeup/ChangeHere.vue";
import AsAnother from "@/parts/sections/AsAnother.vue";
import CloseUpPage from "@/parts/closeup/CloseUpPage.vue";
import ItsColours from "@/parts/closeup/ItsColours.vue";
import ReachList from "@/parts/closeup/ReachList.vue";
import WhereFrom from "@/parts/closeup/WhereFrom.vue";
import PageMiniature from "@/parts/common/PageMiniature.vue";
import StatePicker from "@/parts/common/StatePicker.vue";
import { count, stateLabel } from "@/logic/words";
import { useSite } from "@/stores/site";
import { moveColours, wear, wearLike } from "@/logic/acts";
import { useStudy } from "@/stores/study";
import { STATES, useView, WIDTHS } from "@/stores/view";

/** The editor is large: it comes when it is opened. */
const OwnCss = defineAsyncComponent(() => import("@/parts/closeup/OwnCss.vue"));
/** One page large: choose a part of it, see how far a change there reaches, its colours, where they come from. */
const MOST_ELSEWHERE = 4;
const site = useSite();
const study = useStudy();
const view = useView();
const route = useRoute();
const router = useRouter();

const path = computed(() => String(route.query.page ?? site.pages[0]?.path ?? ""));
const page = computed(() => site.pages.find((one) => one.path === path.value) ?? site.pages[0]);
const screen = computed(() => WIDTHS[view.width]);
/** What is opened on this page: what other pages alone have is not. */
const opened = computed(() => (site.opensOn(view.opened, path.value) ? view.opened : ""));
const at = ref<string | null>(route.query.at ? String(route.query.at) : null);
/** Where the page is scrolled to at first: what was clicked elsewhere, or a finding's text. */
const start = ref(at.value?.replace(/::[\w-]+$/, "") ?? "");
const before = { width: view.width, state: view.state, opened: view.opened };
const asked = {
  width: Number(route.query.width),
  state: String(route.query.state ?? ""),
  opened: String(route.query.opened ?? ""),
};
const width = Object.entries(WIDTHS).find(([, one]) => one.width === asked.width)?.[0];
if (width) view.width = width as keyof typeof WIDTHS;
if (asked.state in STATES) view.state = asked.state as keyof typeof STATES;
if (asked.state) view.opened = asked.opened;
// what a finding was shown in is no choice for the pages that are gone back to
if (width || asked.state) onBeforeUnmount(() => Object.assign(view, before));
const part = shallowRef<Schemas["PartOut"] | null>(null);
const trouble = ref("");
const reachAt = ref(0);
/** The colour that is mixed: its role, what a scope calls it, and what is seen of it. */
const open = shallowRef<{ role: string; use: string; label: string; seen: string } | null>(null);

const turnTo = (next: string) => router.replace({ query: { page: next } });
watch(path, () => {
  at.value = part.value = open.value = null;
  start.value = "";
});

watch(
  () => [at.value, view.width, view.state, view.opened, study.revision?.base] as const,
  async ([wanted]) => {
    if (!wanted || !page.value) return;
    const query = {
      page: page.value.path,
      path: wanted,
      width: screen.value.width,
      state: view.state,
      opened: opened.value,
    };
    try {
      const found = await ask(client.GET("/api/sites/{slug}/part", { params: { path: { slug: site.slug }, query } }));
      if (at.value !== wanted) return;
      const isOther = part.value?.path !== found.path;
      part.value = found;
      trouble.value = "";
      // the widest of what is alike is what people mostly mean; a new choice begins at this one alone
      if (isOther) reachAt.value = 0;
    } catch (refusal) {
      trouble.value = sentence(refusal);
    }
  },
  { immediate: true },
);

const reach = computed(() => part.value?.reaches[reachAt.value] ?? null);
const marks = computed(() => ({
  chosen: part.value ? part.value.path.replaceAll(">", " > ") : null,
  reach: reach.value?.where && reach.value.selector !== "html" ? reach.value.selector : null,
  label: part.value?.label ?? "",
}));
const elsewhere = computed(() => {
  const others = new Set(reach.value?.pages.filter((one) => one !== path.value));
  return site.pages.filter((one) => others.has(one.path));
});

const editing = shallowRef<Schemas["OwnCssOut"] | null>(null);
async function turnOwnCss(): Promise<void> {
  if (editing.value) editing.value = null;
  else {
    try {
      editing.value = await ask(client.GET("/api/sites/{slug}/own-css", { params: { path: { slug: site.slug } } }));
    } catch (refusal) {
      trouble.value = sentence(refusal);
    }
  }
}
if ("css" in route.query) void turnOwnCss();
/** The page with its scripts at work: nothing is chosen on it. */
const isAlive = ref(false);
watch(path, () => (isAlive.value = false));
function turnAlive(): void {
  isAlive.value = !isAlive.value;
  open.value = editing.value = null;
}
function pick(next: string): void {
  open.value = editing.value = null;
  at.value = next;
}
/** Esc closes what is open, then goes back to where the page was clicked. */
function leave(): void {
  if (open.value) open.value = null;
  else if (editing.value) editing.value = null;
  else if (isAlive.value) isAlive.value = false;
  else back();
}
useEventListener(window, "keydown", (event: KeyboardEvent) => {
  const isBusy = event.target instanceof HTMLElement && event.target.closest("input, textarea, .cm-editor, #dialogs");
  if (event.key === "Escape" && !event.defaultPrevented && !isBusy) leave();
});
function back(): void {
  const { back: last } = history.state as { back?: string | null };
  if (last?.startsWith(`/sites/${site.slug}/`)) router.back();
  else void router.push({ name: "bench" });
}
async function change(row: Schemas["PartColourOut"], one: Schemas["InStateOut"]): Promise<void> {
  if (!one.role || !one.use) return;
  const label = one.state === "rest" ? row.label : `${row.label} (${stateLabel(one.state).toLowerCase()})`;
  const parted = one.apart.length ? await partFrom(row, one) : null;
  open.value = { role: parted?.id ?? one.role, use: parted?.use ?? one.use, label, seen: one.colour };
}
/** Gives a state a colour of its own where it shares one with other things, which would turn with it. */
async function partFrom(row: Schemas["PartColourOut"], one: Schemas["InStateOut"]) {
  const known = new Set(study.roles.map((role) => role.id));
  const label = `${study.roleById.get(row.role ?? "")?.label ?? row.label} (${stateLabel(one.state).toLowerCase()})`;
  const state = one.state as Schemas["MoveColours"]["new_state"];
  if (!(await study.act(moveColours({ keys: one.apart, fromRole: row.role }, null, label, state)))) return null;
  const made = study.roles.find((role) => !known.has(role.id));
  return made ? { id: made.id, use: `${made.kind}.${made.state}` } : null;
}
/** Opens a role that is named as giving a colour: here, or for the whole site where that is chosen. */
function changeRole(id: string): void {
  const role = study.roleById.get(id);
  const use = role && (role.state === "rest" ? role.kind : `${role.kind}.${role.state}`);
  if (role && use) open.value = { role: id, use, label: role.label, seen: study.colourOf(id) };
}
/** The sections whose colours may be taken: not the one that the change is for. */
const others = computed(() => (part.value?.sections ?? []).filter((one) => one.key !== reach.value?.where?.section));
/** What lies behind all that the choice reaches. */
function toBackdrop(): void {
  const query = {
    ...reach.value!.where!,
    name: reach.value!.where!.section ? undefined : part.value!.label,
    on: path.value,
  };
  void router.push({
    name: "backdrop",
    query: Object.fromEntries(Object.entries(query).filter((pair): pair is [string, string] => !!pair[1])),
  });
}
async function give(coat: string): Promise<void> {
  if (reach.value?.where) await study.act(wear([reach.value.where, ...reach.value.also], coat, reach.value.own));
}
</script>

<template>
  <div class="CloseUpScreen">
    <div class="middle">
      <main class="stage" tabindex="-1">
        <h1 class="unseen">Close-up of {{ site.names.get(path) }}</h1>
        <div class="tools">
          <button type="button" class="act" title="Esc" @click="back">‹ Back</button>
          <el-select :model-value="path" size="small" aria-label="Page" append-to="#dialogs" @change="turnTo">
            <el-option v-for="one in site.pages" :key="one.path" :value="one.path" :label="site.names.get(one.path)" />
          </el-select>
          <el-radio-group v-model="view.width" size="small" aria-label="Screen width">
            <el-radio-button v-for="(one, name) in WIDTHS" :key="name" :value="name">{{ one.label }}</el-radio-button>
          </el-radio-group>
          <state-picker v-if="!isAlive" :page="path" />
          <button v-if="page?.is_scripted" type="button" class="act" :aria-pressed="isAlive" @click="turnAlive">
            {{ isAlive ? "Hold it still" : "Let it run" }}
          </button>
          <button v-if="!isAlive" type="button" class="act" :aria-pressed="!!editing" @click="turnOwnCss">
            {{ editing ? "Close own CSS" : "Own CSS…" }}
          </button>
        </div>
        <alive-page v-if="page && isAlive" :page="page.path" :name="page.name" :width="screen.width" />
        <close-up-page
          v-else-if="page"
          :page="page"
          :width="screen.width"
          :marks="marks"
          :start="start"
          @pick="pick"
          @leave="leave"
        />
      </main>
      <aside class="side" aria-label="What is chosen">
        <p v-if="trouble" role="alert">{{ trouble }}</p>
        <template v-if="isAlive">
          <p>The page with its own scripts, in the colours of this study. Click in it as a visitor does.</p>
          <p class="soft">It asks nothing of the network. Hold it still to choose colours.</p>
        </template>
        <own-css v-else-if="editing" :start="editing" />
        <p v-else-if="!part" class="soft">Click anything on the page. Arrow keys go to its neighbours, Esc back.</p>
        <template v-else>
          <h2>{{ part.label }}</h2>
          <nav class="steps" aria-label="What it lies in">
            <template v-for="(one, place) in part.steps" :key="one.path">
              <span v-if="place" aria-hidden="true"> › </span>
              <button
                type="button"
                class="act"
                :aria-current="one.path === part.path ? 'true' : undefined"
                @click="pick(place ? one.path : 'html')"
              >
                {{ place ? one.label : site.names.get(path) }}
              </button>
            </template>
          </nav>
          <h3>A change here reaches</h3>
          <reach-list v-model="reachAt" :reaches="part.reaches" :names="site.names" />
          <div v-if="elsewhere.length" class="elsewhere">
            <page-miniature
              v-for="one in elsewhere.slice(0, MOST_ELSEWHERE)"
              :key="one.path"
              :page="one"
              :width="screen.width"
              :height="screen.height"
              :title="site.names.get(one.path)"
            />
            <span v-if="elsewhere.length > MOST_ELSEWHERE" class="soft">
              and {{ count(elsewhere.length - MOST_ELSEWHERE, "more page") }}
            </span>
          </div>
          <h3>Its colours</h3>
          <its-colours :colours="part.colours" :open="open?.role ?? null" @change="change" />
          <p class="acts">
            <el-dropdown v-if="reach?.where" trigger="click" @command="give">
              <el-button size="small">Give it a coat…</el-button>
              <template #dropdown>
                <el-dropdown-menu>
                  <el-dropdown-item command="">Plain</el-dropdown-item>
                  <el-dropdown-item v-for="coat in study.coats" :key="coat.id" :command="coat.id">
                    {{ coat.label }}
                  </el-dropdown-item>
                </el-dropdown-menu>
              </template>
            </el-dropdown>
            <as-another
              v-if="reach?.where"
              :sections="others"
              @choose="study.act(wearLike([reach.where, ...reach.also], $event))"
            />
            <el-button v-if="reach?.where && !reach.also.length" size="small" @click="toBackdrop">Backdrop…</el-button>
          </p>
          <p v-if="reach?.like" class="soft">It takes its colours from “{{ reach.like }}”.</p>
          <where-from
            :because="part.because"
            :labels="new Map(study.roles.map((role) => [role.id, role.label]))"
            @change="changeRole"
          />
        </template>
      </aside>
    </div>
    <mix-tray v-if="open && reach && !reach.where" :name="open.role" @close="open = null" />
    <change-here
      v-else-if="open && reach?.where"
      :reach="reach"
      :name="open.use"
      :label="open.label"
      :seen="open.seen"
      @close="open = null"
    />
  </div>
</template>

<style scoped>
.CloseUpScreen {
  display: flex;
  flex: 1;
  flex-direction: column;
  min-height: 0;
}
.middle {
  display: grid;
  flex: 1;
  grid-template-columns: 1fr 372px;
  min-height: 0;
}
.stage {
  display: flex;
  flex-direction: column;
  gap: 10px;
  min-width: 0;
  padding: 10px 16px 14px;
  background: var(--paper);
}
.tools {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 14px;
  align-items: center;
}
.tools .el-select {
  width: 132px;
}
.side {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 8px;
  align-content: start;
  overflow-y: auto;
  padding: 12px 16px 16px;
  border-left: 1px solid var(--rule);
  background: var(--panel);
}
.side .acts {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
.side .acts > * {
  margin: 0;
}
.side h3 {
  margin-top: 6px;
}
.steps {
  font-size: 13px;
}
.steps [aria-current] {
  font-weight: 700;
}
.elsewhere {
  display: grid;
  grid-template-columns: repeat(4, 1fr);
  gap: 6px;
  font-size: 12px;
}
.elsewhere > span {
  grid-column: 1 / -1;
}
@media (max-width: 900px) {
  .CloseUpScreen {
    overflow-y: auto;
  }
  .middle {
    grid-template-columns: 1fr;
    grid-template-rows: 60vh auto;
  }
}
</style>
