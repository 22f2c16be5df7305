<script setup lang="ts">
import { sentence } from "@/api/client";
import { ElButton } from "element-plus";
import { useEventListener, useOnline } from "@vueuse/core";
import { computed, nextTick, provide, ref, toRef, useTemplateRef, watch } from "vue";
import { RouterLink, RouterView, useRoute } from "vue-router";
import ShortcutsDialog from "@/parts/common/ShortcutsDialog.vue";
import FirstSteps from "@/parts/common/FirstSteps.vue";
import StaleDialog from "@/parts/common/StaleDialog.vue";
import TopBar from "@/parts/common/TopBar.vue";
import WordsDialog from "@/parts/common/WordsDialog.vue";
import { useMeasuring } from "@/composables/useMeasuring";
import { usePainter } from "@/composables/usePainter";
import { LOOKED_AT, MEASURING, PAINTER } from "@/logic/keys";
import { count } from "@/logic/words";
import { useHelp } from "@/stores/help";
import { useSession } from "@/stores/session";
import { useSite } from "@/stores/site";
import { useStudy } from "@/stores/study";
import { useView } from "@/stores/view";

/** What all screens of one site share: its name, the ways between them, undo, and the sign that all is saved. */
const site = useSite();
const study = useStudy();
const view = useView();
const route = useRoute();
const failure = ref("");
const help = useHelp();
const session = useSession();
const isOpen = (what: "words" | "keys") =>
  computed({ get: () => help.open === what, set: (open) => (help.open = open ? what : "") });
const [areKeysOpen, areWordsOpen] = [isOpen("keys"), isOpen("words")];
// in the demo the job is shown once
watch(
  () => session.isDemo && study.revision !== null && site.slug === DEMO_SITE,
  (isFirst) => isFirst && help.startOnce(),
);
const DEMO_SITE = "otterlock-boats";
const SAVED = { saved: "saved", saving: "saving…", unsaved: "not saved" };
const SCREENS = [
  { name: "came-in", label: "Site", also: ["found", "palette"] },
  { name: "bench", label: "Bench" },
  { name: "sections", label: "Sections", also: ["close-up", "backdrop"] },
  { name: "studies", label: "Studies", also: ["compare", "sheet"] },
  { name: "reading", label: "Reading" },
  { name: "release", label: "Release" },
];

provide(
  PAINTER,
  usePainter(toRef(study, "wear"), toRef(view, "state"), {
    lit: toRef(study, "litProperties"),
    eyes: toRef(view, "eyes"),
    opened: toRef(view, "opened"),
  }),
);

const { words: measuring, lookedAt } = useMeasuring();
provide(MEASURING, measuring);
provide(LOOKED_AT, lookedAt);

async function load(): Promise<void> {
  if (!route.params.slug) return;
  failure.value = "";
  try {
    await study.load(String(route.params.slug));
  } catch (refusal) {
    failure.value = sentence(refusal);
  }
}
watch(() => route.params.slug, load, { immediate: true });
const isOnline = useOnline();
useEventListener(window, "online", () => failure.value && load());

const ways = useTemplateRef<HTMLElement>("ways");
// on a phone the ways are swiped: the one that was gone is in sight
watch(
  () => [route.name, !!site.site] as const,
  async () => {
    await nextTick();
    ways.value?.querySelector(".here, [aria-current='page']")?.scrollIntoView({ inline: "center", block: "nearest" });
  },
  { immediate: true },
);
/** The bench frames the pages while their study is still on its way. */
const isFraming = computed(() => route.name === "bench" && site.site !== null);
const hard = computed(() => study.reading?.hard_texts ?? 0);
const waiting = computed(() => study.revision?.waiting ?? 0);

useEventListener(window, "keydown", (event: KeyboardEvent) => {
  const isText = event.target instanceof HTMLElement && event.target.matches("input, textarea, select");
  if (event.key === "?" && !isText) help.open = "keys";
  if (isText || !(event.ctrlKey || event.metaKey)) return;
  const key = event.key.toLowerCase();
  if (key === "z") void (event.shiftKey ? study.redo() : study.undo());
  else if (key === "y") void study.redo();
  else return;
  event.preventDefault();
});
useEventListener(window, "online", () => study.saving === "unsaved" && !study.stale && study.retry());
useEventListener(window, "beforeunload", (event: BeforeUnloadEvent) => {
  if (study.saving !== "saved") event.preventDefault();
});
</script>

<template>
  <div class="SiteFrame">
    <top-bar>
      <b v-if="site.site" class="name">{{ site.site.name }}</b>
      <span v-if="study.revision" class="study soft" :title="`The study ${study.revision.study}`">{{
        study.revision.study
      }}</span>
      <nav v-if="site.site" ref="ways" aria-label="Screens of this site">
        <router-link
          v-for="screen in SCREENS"
          :key="screen.name"
          :to="{ name: screen.name }"
          :class="{ here: screen.also?.includes(String(route.name)) }"
          >{{ screen.label }}</router-link
        >
      </nav>
      <template #end>
        <template v-if="study.revision">
          <span class="saved soft" role="status">{{ SAVED[study.saving] }}</span>
          <span class="moves">
            <button
              type="button"
              aria-label="Undo"
              :title="study.canUndo && study.revision.what ? `Undo: ${study.revision.what} (Ctrl Z)` : 'Undo (Ctrl Z)'"
              :disabled="!study.canUndo"
              @click="study.undo()"
            >
              ↶
            </button>
            <button
              type="button"
              aria-label="Redo"
              title="Redo (Ctrl Y)"
              :disabled="!study.canRedo"
              @click="study.redo()"
            >
              ↷
            </button>
          </span>
          <span class="verdict" :aria-busy="study.isReading">
            <template v-if="hard"
              ><b class="tag">{{ hard.toLocaleString("en-GB") }}</b>
              <span class="words"> {{ hard === 1 ? "text" : "texts" }} hard to read</span></template
            >
            <span v-else class="words">{{
              study.reading?.unsure || measuring ? "nothing hard to read so far" : "everything is readable"
            }}</span>
          </span>
          <router-link v-if="route.name !== 'release'" v-slot="{ navigate }" custom :to="{ name: 'release' }">
            <el-button class="release" :type="waiting ? 'primary' : 'default'" @click="navigate()">{{
              waiting ? `Release ${count(waiting, "change")}…` : "Nothing to release"
            }}</el-button>
          </router-link>
        </template>
      </template>
    </top-bar>
    <p v-if="study.trouble" class="trouble" role="alert">
      {{ study.trouble }} <button type="button" class="act" @click="study.retry()">Try again</button>
    </p>
    <p v-if="!isOnline" class="trouble" role="status">
      You are offline. What you change is kept in this window and saved once you are back.
    </p>
    <main v-if="failure" class="failure">
      <p role="alert">{{ failure }}</p>
      <el-button type="primary" @click="load">Try again</el-button>
      <router-link :to="{ name: 'shelf' }">Back to your sites</router-link>
    </main>
    <main v-else-if="!study.revision && !isFraming" class="failure" aria-busy="true">
      <p class="soft">Loading the site…</p>
    </main>
    <router-view v-else />
    <stale-dialog />
    <shortcuts-dialog v-model="areKeysOpen" />
    <words-dialog v-model="areWordsOpen" />
    <first-steps v-if="study.revision" />
  </div>
</template>

<style scoped>
.SiteFrame {
  display: flex;
  flex-direction: column;
  height: 100%;
}
.name {
  max-width: 16em;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
nav {
  display: flex;
  gap: 4px;
}
nav a {
  padding: 5px 11px;
  border-radius: var(--corner);
  text-decoration: none;
}
nav a:hover {
  background: var(--bench);
}
nav a.here,
nav a[aria-current="page"] {
  background: var(--ink);
  color: var(--paper);
}
.study {
  max-width: 11em;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.saved {
  min-width: 4.5em;
  text-align: right;
}
.moves button {
  width: 28px;
  height: 28px;
  padding: 0;
  border: 0;
  background: none;
  font-size: 17px;
  cursor: pointer;
}
.moves button:disabled {
  color: #8a8a8a;
  cursor: default;
}
@media (max-width: 1400px) {
  nav a {
    padding: 5px 8px;
  }
  .study {
    max-width: 8em;
  }
  .saved {
    min-width: 0;
  }
}
@media (max-width: 1240px) {
  .study,
  .verdict .tag ~ .words {
    display: none;
  }
}
@media (max-width: 700px) {
  .name,
  .study,
  .saved,
  .verdict .words,
  .release {
    display: none;
  }
  nav {
    flex: 1;
    min-width: 0;
    overflow-x: auto;
    scrollbar-width: none;
  }
  nav a {
    flex: none;
    padding: 8px 9px;
  }
  .moves {
    flex: none;
  }
}
.verdict .words:not(:only-child) {
  margin-left: 0.4em;
}
.tag {
  padding: 0 6px;
  border-radius: 2px;
  background: var(--ink);
  color: var(--paper);
}
.trouble {
  padding: 8px 16px;
  background: var(--ink);
  color: var(--paper);
}
.failure {
  display: grid;
  flex: 1;
  gap: 12px;
  place-content: center;
  justify-items: center;
}
</style>
