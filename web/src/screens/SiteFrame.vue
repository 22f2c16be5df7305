<script setup lang="ts">
import { ElButton } from "element-plus";
import { useEventListener } from "@vueuse/core";
import { computed, provide, ref, toRef, watch } from "vue";
import { RouterLink, RouterView, useRoute } from "vue-router";
import ShortcutsDialog from "@/parts/ShortcutsDialog.vue";
import StaleDialog from "@/parts/StaleDialog.vue";
import TopBar from "@/parts/TopBar.vue";
import { usePainter } from "@/composables/usePainter";
import { PAINTER } from "@/logic/keys";
import { count } from "@/logic/words";
import { useBench } from "@/stores/bench";

/** What all screens of one site share: its name, the ways between them, undo, and the sign that all is saved. */
const bench = useBench();
const route = useRoute();
const failure = ref("");
const isHelped = ref(false);
const SAVED = { saved: "saved", saving: "saving…", unsaved: "not saved" };
const SCREENS = [
  { name: "came-in", label: "Brought in", also: ["found", "palette"] },
  { name: "bench", label: "Bench" },
  { name: "studies", label: "Studies", also: ["compare", "sheet"] },
  { name: "release", label: "Release" },
];

provide(PAINTER, usePainter(toRef(bench, "wear"), toRef(bench, "state"), { lit: toRef(bench, "litProperties") }));

watch(
  () => route.params.slug as string,
  async (slug) => {
    failure.value = "";
    try {
      await bench.load(slug);
    } catch (refusal) {
      failure.value = refusal instanceof Error ? refusal.message : String(refusal);
    }
  },
  { immediate: true },
);

const hard = computed(() => bench.reading?.hard ?? 0);
const waiting = computed(() => bench.revision?.waiting ?? 0);

useEventListener(window, "keydown", (event: KeyboardEvent) => {
  const isText = event.target instanceof HTMLElement && event.target.matches("input, textarea, select");
  if (event.key === "?" && !isText) isHelped.value = true;
  if (isText || !(event.ctrlKey || event.metaKey)) return;
  const key = event.key.toLowerCase();
  if (key === "z") void (event.shiftKey ? bench.redo() : bench.undo());
  else if (key === "y") void bench.redo();
  else return;
  event.preventDefault();
});
useEventListener(window, "online", () => bench.saving === "unsaved" && !bench.stale && bench.retry());
useEventListener(window, "beforeunload", (event: BeforeUnloadEvent) => {
  if (bench.saving !== "saved") event.preventDefault();
});
</script>

<template>
  <div class="SiteFrame">
    <top-bar>
      <b v-if="bench.site" class="name">{{ bench.site.name }}</b>
      <span v-if="bench.revision" class="study soft" :title="`The study ${bench.revision.study}`">{{
        bench.revision.study
      }}</span>
      <nav v-if="bench.site" aria-label="Screens of this site">
        <router-link
          v-for="screen in SCREENS"
          :key="screen.name"
          :to="{ name: screen.name }"
          :class="{ here: screen.also?.includes(String(route.name)) }"
          >{{ screen.label }}</router-link
        >
      </nav>
      <template #end>
        <template v-if="bench.revision">
          <span class="saved soft" role="status">{{ SAVED[bench.saving] }}</span>
          <span class="moves">
            <button
              type="button"
              aria-label="Undo"
              title="Undo (Ctrl Z)"
              :disabled="!bench.canUndo"
              @click="bench.undo()"
            >
              ↶
            </button>
            <button
              type="button"
              aria-label="Redo"
              title="Redo (Ctrl Y)"
              :disabled="!bench.canRedo"
              @click="bench.redo()"
            >
              ↷
            </button>
          </span>
          <span>
            <template v-if="hard"
              ><b class="tag">{{ hard }}</b> hard to read</template
            >
            <template v-else>all readable</template>
          </span>
          <router-link v-if="route.name !== 'release'" v-slot="{ navigate }" custom :to="{ name: 'release' }">
            <el-button :type="waiting ? 'primary' : 'default'" @click="navigate()">{{
              waiting ? `Release ${count(waiting, "change")}…` : "Nothing to release"
            }}</el-button>
          </router-link>
        </template>
      </template>
    </top-bar>
    <p v-if="bench.trouble" class="trouble" role="alert">
      {{ bench.trouble }} <button type="button" class="act" @click="bench.retry()">Try again</button>
    </p>
    <main v-if="failure" class="failure">
      <p role="alert">{{ failure }}</p>
      <router-link :to="{ name: 'shelf' }">Back to the shelf</router-link>
    </main>
    <main v-else-if="!bench.revision" class="failure" aria-busy="true"><p class="soft">Fetching the site…</p></main>
    <router-view v-else />
    <stale-dialog />
    <shortcuts-dialog v-model="isHelped" />
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
