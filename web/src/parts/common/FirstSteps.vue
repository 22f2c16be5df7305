<script setup lang="ts">
import { ElButton } from "element-plus";
import { useEventListener, useIntervalFn } from "@vueuse/core";
import { computed, ref, watch } from "vue";
import { useRoute, useRouter } from "vue-router";
import { useHelp } from "@/stores/help";

/** The job in five steps, each a sentence at the thing itself. Esc closes them for good. */
const STEPS = [
  {
    screen: "came-in",
    at: [".LookFrame .pages", ".LookFrame .body"],
    title: "Your site, unchanged",
    says: "Glaucon works on a copy. A click on any page shows it close up.",
  },
  {
    screen: "bench",
    at: [".HardToRead"],
    title: "What is hard to read",
    says: "The worst comes first, with what would fix it. “Show it” goes there.",
  },
  {
    screen: "bench",
    at: ['.PaletteRail [data-tile="link"]', ".PaletteRail .group"],
    title: "Change one colour",
    says: "Click a colour and mix it: all pages follow at once.",
  },
  {
    screen: "bench",
    at: [".FixAll", ".HardToRead header"],
    title: "Fix all",
    says: "Glaucon looks for changes that keep your site’s look. You choose which.",
  },
  {
    screen: "release",
    at: [".ReleaseScreen .go", ".ReleaseScreen .acts"],
    title: "Release",
    says: "See before and after, then put it live. You can go back at any time.",
  },
];
const WIDE = 300;
const help = useHelp();
const route = useRoute();
const router = useRouter();
const step = computed(() => (help.step === null ? null : STEPS[help.step]!));
const box = ref<DOMRect | null>(null);

function look(): void {
  const found = step.value?.at.map((one) => document.querySelector(one)).find(Boolean);
  box.value = found?.getBoundingClientRect() ?? null;
}
const { pause, resume } = useIntervalFn(look, 250, { immediate: false });
watch(
  step,
  async (now) => {
    box.value = null;
    if (!now) return pause();
    if (route.name !== now.screen) await router.push({ name: now.screen });
    resume();
    look();
  },
  { immediate: true },
);
useEventListener(window, "keydown", (event: KeyboardEvent) => {
  if (event.key !== "Escape" || help.step === null) return;
  event.preventDefault();
  event.stopImmediatePropagation();
  help.close();
});

/** Beside the thing where there is room, else under or in it. */
const place = computed(() => {
  const one = box.value;
  if (!one) return { left: "24px", bottom: "24px" };
  const left = one.left > WIDE + 30 ? one.left - WIDE - 16 : Math.min(Math.max(12, one.left), innerWidth - WIDE - 12);
  const isBeside = one.left > WIDE + 30;
  const top = isBeside ? one.top + 8 : one.bottom + 200 < innerHeight ? one.bottom + 12 : Math.max(60, one.top + 60);
  return { left: `${left}px`, top: `${Math.min(top, innerHeight - 190)}px` };
});
const ring = computed(() => {
  const one = box.value;
  if (!one) return null;
  const [left, top] = [Math.max(0, one.left - 6), Math.max(0, one.top - 6)];
  return { left: `${left}px`, top: `${top}px`, width: `${one.width + 12}px`, height: `${one.height + 12}px` };
});
function go(way: 1 | -1): void {
  const next = help.step! + way;
  if (next >= STEPS.length) help.close();
  else help.step = Math.max(0, next);
}
</script>

<template>
  <div v-if="step" class="FirstSteps">
    <i v-if="ring" class="ring" :style="ring" aria-hidden="true" />
    <section class="card" :style="place" role="dialog" aria-labelledby="first-step" aria-describedby="first-step-says">
      <p class="soft">Step {{ help.step! + 1 }} of {{ STEPS.length }}</p>
      <h2 id="first-step">{{ step.title }}</h2>
      <p id="first-step-says">{{ step.says }}</p>
      <p class="acts">
        <el-button size="small" type="primary" @click="go(1)">{{
          help.step === STEPS.length - 1 ? "Done" : "Next"
        }}</el-button>
        <el-button v-if="help.step" size="small" @click="go(-1)">Back</el-button>
        <button type="button" class="act" title="Esc" @click="help.close()">Close for good</button>
      </p>
    </section>
  </div>
</template>

<style scoped>
.ring,
.card {
  position: fixed;
  z-index: 1500;
}
.ring {
  box-sizing: border-box;
  max-width: 100vw;
  border: 3px solid var(--ink);
  outline: 2px solid var(--paper);
  pointer-events: none;
}
.card {
  display: grid;
  gap: 6px;
  width: 300px;
  max-width: calc(100vw - 24px);
  padding: 12px 14px;
  border: 2px solid var(--ink);
  background: var(--raised);
}
.acts {
  display: flex;
  gap: 10px;
  align-items: center;
  margin-top: 4px;
}
.acts > * {
  margin: 0;
}
</style>
