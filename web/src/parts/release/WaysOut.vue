<script setup lang="ts">
import { ElButton, ElCheckbox, ElDialog, ElOption, ElRadioButton, ElRadioGroup, ElSelect } from "element-plus";
import { useClipboard } from "@vueuse/core";
import { computed, ref, shallowRef, watch } from "vue";
import client, { ask, type Checked, type Schemas, type Way, sentence } from "@/api/client";
import { count, sizeText } from "@/logic/words";
import { useSite } from "@/stores/site";
import { useStudy } from "@/stores/study";

/** The four ways to take the colours to your own host, each with what to do, and a check of it. */
const isOpen = defineModel<boolean>({ required: true });
const site = useSite();
const study = useStudy();
type Name = "site" | "addon" | "variables" | "tokens";
const WAYS: Record<Name, { label: string; about: string; steps: string[] }> = {
  site: {
    label: "The whole site",
    about: "For a site whose files lie on your own host.",
    steps: [
      "Download the archive and unpack it.",
      "Put its files where your site's files lie now, in the same folders, over the old ones. Your host's file manager or upload program does that.",
      "Open the site and reload it once. Only colours differ. Keep the old files until you are happy.",
    ],
  },
  addon: {
    label: "An add-on stylesheet",
    about: "For a site whose files you cannot edit, where there is only a box for extra CSS.",
    steps: [
      "Copy all of it and paste it into that box, after anything that is in it already.",
      "Save, and reload the site once. To undo it, empty the box again.",
    ],
  },
  variables: {
    label: "CSS variables only",
    about: "For someone who writes the site's CSS by hand: CSS variables (custom properties).",
    steps: ["Link this file ahead of your own stylesheet, and write var(--gl-text) and so on where you want a colour."],
  },
  tokens: {
    label: "Design Tokens",
    about: "The open JSON format of the W3C community group, for programs that read it.",
    steps: [],
  },
};
const way = ref<Name>("site");
const changedOnly = ref(false);
/** The study for visitors who ask their browser for a dark page (or a light one, where the open study is dark). */
const NONE = 0;
const other = ref<number>(NONE);
const studies = shallowRef<Schemas["StudyOut"][]>([]);
const isDark = computed(() => studies.value.find((one) => one.is_open)?.is_dark ?? false);
const others = computed(() => studies.value.filter((one) => !one.is_deleted && one.is_dark !== isDark.value));
const told = shallowRef<Way | null>(null);
const checked = shallowRef<Checked | null>(null);
const isChecking = ref(false);
const trouble = ref("");
const { copy, copied } = useClipboard({ legacy: true });
const query = computed(() => ({
  changed_only: changedOnly.value,
  ...(other.value !== NONE && way.value !== "tokens" ? { other: other.value } : {}),
}));
const address = computed(() => {
  const asked = new URLSearchParams(Object.entries(query.value).map(([name, value]) => [name, String(value)]));
  return `/api/sites/${site.slug}/hand-back/${way.value}/file?${asked.toString()}`;
});
const say = (refusal: unknown) => (trouble.value = sentence(refusal));

watch(
  isOpen,
  async (open) => {
    if (!open) return;
    other.value = NONE;
    studies.value = await ask(client.GET("/api/sites/{slug}/studies", { params: { path: { slug: site.slug } } })).catch(
      () => [],
    );
  },
  { immediate: true },
);

watch(
  () => [isOpen.value, way.value, query.value, study.revision?.base] as const,
  async ([open]) => {
    if (!open) return;
    told.value = checked.value = null;
    trouble.value = "";
    const path = { slug: site.slug, way: way.value };
    try {
      told.value = await ask(
        client.GET("/api/sites/{slug}/hand-back/{way}", {
          params: { path, query: query.value },
        }),
      );
    } catch (refusal) {
      say(refusal);
    }
  },
  { immediate: true },
);

async function check(look: () => Promise<Checked>): Promise<void> {
  isChecking.value = true;
  trouble.value = "";
  try {
    checked.value = await look();
  } catch (refusal) {
    say(refusal);
  } finally {
    isChecking.value = false;
  }
}
const readAgain = () =>
  check(() => {
    const path = { slug: site.slug, way: way.value as "site" | "addon" };
    return ask(client.POST("/api/sites/{slug}/hand-back/{way}/check", { params: { path } }));
  });
</script>

<template>
  <el-dialog v-model="isOpen" title="Download for your own host" width="760" top="6vh" append-to="#dialogs">
    <el-radio-group v-model="way" aria-label="What to download">
      <el-radio-button v-for="(one, name) in WAYS" :key="name" :value="name">{{ one.label }}</el-radio-button>
    </el-radio-group>
    <p class="about">{{ WAYS[way].about }}</p>
    <ol v-if="WAYS[way].steps.length > 1">
      <li v-for="step in WAYS[way].steps" :key="step">{{ step }}</li>
    </ol>
    <p v-else-if="WAYS[way].steps.length">{{ WAYS[way].steps[0] }}</p>
    <p v-if="way !== 'tokens'" class="scheme">
      <label>
        Visitors who prefer a {{ isDark ? "light" : "dark" }} page get
        <el-select v-model="other" size="small" aria-label="Study for those visitors" append-to="#dialogs">
          <el-option :value="NONE" label="the same colours" />
          <el-option v-for="one in others" :key="one.base.study" :value="one.base.study" :label="one.name" />
        </el-select>
      </label>
      <span v-if="studies.length && !others.length" class="soft">
        Make a {{ isDark ? "light" : "dark" }} version under Studies first.
      </span>
    </p>
    <p v-if="trouble" role="alert">
      <b>{{ trouble }}</b>
    </p>
    <p v-else-if="!told" class="soft">Making the download…</p>
    <template v-if="told">
      <el-checkbox
        v-if="way === 'site'"
        v-model="changedOnly"
        :label="`Only the files that differ (${count(told.changed.length, 'file')})`"
      />
      <p class="acts">
        <a :href="address" download class="go">Download {{ told.filename }}</a>
        <el-button v-if="told.text" @click="copy(told.text)">{{ copied ? "Copied" : "Copy all" }}</el-button>
        <span class="soft">{{ sizeText(told.bytes) }}</span>
        <el-button v-if="(way === 'site' || way === 'addon') && other === NONE" :loading="isChecking" @click="readAgain"
          >Check this download</el-button
        >
      </p>
      <div v-if="checked" role="status">
        <p v-if="checked.right === checked.texts">
          <b>All {{ count(checked.texts, "text") }}</b> on {{ count(checked.pages, "page") }} have the colours you
          chose.
        </p>
        <template v-else>
          <p>
            <b>{{ checked.right }} of {{ count(checked.texts, "text") }}</b> on {{ count(checked.pages, "page") }} have
            the colours you chose.
          </p>
          <ul>
            <li v-for="example in checked.examples" :key="example">{{ example }}</li>
          </ul>
        </template>
      </div>
      <details v-if="told.unreached.length + told.missed.length">
        <summary>{{ count(told.unreached.length + told.missed.length, "place") }} a stylesheet cannot reach</summary>
        <ul>
          <li v-for="one in told.missed" :key="one">{{ one }}</li>
          <li v-for="(one, number) in told.unreached" :key="number">
            {{ one.file }}, line {{ one.line }}: {{ one.colour }}, as {{ one.why }}
          </li>
        </ul>
      </details>
      <pre v-if="told.text" tabindex="0" aria-label="Contents of the file">{{ told.text.slice(0, 6000) }}</pre>
      <ul v-else-if="told.changed.length" class="files">
        <li v-for="file in told.changed" :key="file">{{ file }}</li>
      </ul>
      <p v-else class="soft">No colour is changed yet, so every file is as it was.</p>
    </template>
  </el-dialog>
</template>

<style scoped>
ol {
  margin: 0 0 10px;
  padding-left: 20px;
}
.about {
  margin: 12px 0 8px;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 14px;
  align-items: center;
  margin: 10px 0;
}
.acts > * {
  margin: 0;
}
.go {
  padding: 6px 14px;
  border-radius: var(--corner);
  background: var(--ink);
  color: var(--paper);
  font-weight: 700;
  text-decoration: none;
}
.only {
  display: block;
}
.scheme {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  align-items: center;
}
.scheme select {
  max-width: 260px;
  padding: 3px 6px;
  border: 1px solid var(--edge);
  border-radius: var(--corner);
  background: var(--raised);
  font: inherit;
}
pre,
.files {
  max-height: 260px;
  overflow: auto;
  margin: 10px 0 0;
  padding: 10px;
  border: 1px solid var(--rule);
  background: var(--sunk);
  font-size: 12px;
}
.files {
  columns: 2;
  list-style: none;
}
</style>
