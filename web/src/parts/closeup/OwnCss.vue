<script setup lang="ts">
import { useDebounceFn } from "@vueuse/core";
import { computed, onBeforeUnmount, ref, shallowRef, useTemplateRef, watch } from "vue";
import client, { ask, type Schemas, sentence } from "@/api/client";
import { useCssEditor } from "@/composables/useCssEditor";
import { count } from "@/logic/words";
import { useSite } from "@/stores/site";
import { useStudy } from "@/stores/study";

/** The owner's own CSS: shown on the pages as it is typed, checked, and saved after a pause. */
const props = defineProps<{ start: Schemas["OwnCssOut"] }>();
const site = useSite();
const study = useStudy();
const host = useTemplateRef<HTMLElement>("host");
const now = shallowRef(props.start);
const problems = shallowRef(props.start.problems);
const trouble = ref("");
const on = computed(() => ({ params: { path: { slug: site.slug } } }));
const roles = computed(() =>
  now.value.properties.map((one) => ({ label: one.name, detail: `${one.label} ${one.colour}`, type: "variable" })),
);
let last = props.start.css;

const editor = useCssEditor(host, props.start.css, roles, (css) => {
  last = css;
  study.saving = "saving"; // leaving now would lose it
  void check();
  void save();
});

const check = useDebounceFn(async () => {
  const css = last;
  try {
    const found = (await study.find({ search: "check-css", css })).problems;
    if (css !== last) return;
    trouble.value = "";
    problems.value = found;
    editor.mark(found);
    study.showOwnCss(found.some((one) => one.stops) ? null : css);
  } catch (refusal) {
    trouble.value = sentence(refusal);
  }
}, 150);
const save = useDebounceFn(async () => {
  if (last !== now.value.css) await study.act({ act: "write-css", css: last });
  else study.saving = "saved";
}, 900);

/** After a save, an undo, or a change elsewhere. */
watch(
  () => study.revision?.base,
  async () => {
    const before = last;
    const found = await ask(client.GET("/api/sites/{slug}/own-css", on.value)).catch(() => null);
    if (!found) return;
    const isUndone = found.css !== now.value.css && found.css !== before && before === now.value.css;
    now.value = found;
    if (isUndone) editor.replace((last = found.css));
    if (last === found.css) editor.mark((problems.value = found.problems));
  },
);
onBeforeUnmount(() => {
  if (last !== now.value.css) void study.act({ act: "write-css", css: last });
});
const stops = computed(() => problems.value.some((one) => one.stops));
</script>

<template>
  <section class="OwnCss">
    <h2>Your own CSS</h2>
    <p class="soft">
      It goes out with the palette and wins over it. Type <code>var(--</code> for the palette's colours.
    </p>
    <div ref="host" class="host" />
    <p v-if="trouble" role="alert">{{ trouble }}</p>
    <ul v-if="problems.length" class="problems" aria-label="What is wrong">
      <li v-for="one in problems" :key="`${one.line} ${one.message}`">
        <b>Line {{ one.line }}</b> {{ one.message }}
      </li>
    </ul>
    <p v-if="stops" role="status"><b>Not applied.</b> It is kept as typed. Correct the line to see it on the pages.</p>
    <p v-else-if="now.css.trim()" role="status">
      <template v-if="now.texts">
        It colours {{ count(now.texts, "text") }} on {{ count(now.pages, "page") }}.
        <template v-if="now.over.length">
          There it wins over
          {{ now.over.map((one) => `${one.label} (${one.texts})`).join(", ") }}: changing those colours does nothing in
          these places.
        </template>
      </template>
      <template v-else>It changes no text's colour.</template>
    </p>
  </section>
</template>

<style scoped>
.OwnCss {
  display: grid;
  grid-template-rows: auto auto minmax(220px, 46vh);
  grid-template-columns: minmax(0, 1fr);
  gap: 8px;
  align-content: start;
  font-size: 13px;
}
.host {
  min-height: 0;
  overflow: hidden;
  border: 1px solid var(--edge);
}
.problems {
  display: grid;
  gap: 4px;
  margin: 0;
  padding: 0;
  list-style: none;
}
</style>
