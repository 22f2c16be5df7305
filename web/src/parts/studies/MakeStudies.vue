<script setup lang="ts">
import { ElButton } from "element-plus";
import { computed, provide, ref, shallowRef, useTemplateRef, watch } from "vue";
import client, { ask, type Act, type Schemas, sentence } from "@/api/client";
import GivenColours from "@/parts/studies/GivenColours.vue";
import PageMiniature from "@/parts/common/PageMiniature.vue";
import ColourSources from "@/parts/studies/ColourSources.vue";
import MadeChoices from "@/parts/studies/MadeChoices.vue";
import TakePalette from "@/parts/studies/TakePalette.vue";
import StartingList from "@/parts/studies/StartingList.vue";
import { useMaking, type Given, type Made } from "@/composables/useMaking";
import { usePainter } from "@/composables/usePainter";
import { asProperty } from "@/logic/colour";
import { PAINTER } from "@/logic/keys";
import { placesOf } from "@/logic/placesOf";
import { useSite } from "@/stores/site";
import { useStudy } from "@/stores/study";
import { WIDTHS } from "@/stores/view";

/** New palettes for this site: from given colours, a picture, a file, another site, or a ready start. */
const emit = defineEmits<{ kept: [] }>();
const site = useSite();
const study = useStudy();
const MOST = 5;
const given = ref<Given[]>([]);
const directions = ref<string[]>([]);
const starting = shallowRef<Schemas["StartingOut"][]>([]);
const sources = useTemplateRef<InstanceType<typeof ColourSources>>("sources");
const codes = ref("");
/** The text of a palette that was made for another site. */
const brought = ref("");
/** What it would give our colours, shown on the pages until another palette is looked at. */
const taken = shallowRef<Record<string, string> | null>(null);
const trouble = ref("");
const tried = shallowRef<Made | null>(null);
const making = useMaking();
const isShort = ref(true);

/** What is pressed before they are here waits for them. */
const known = Promise.all([ask(client.GET("/api/directions")), ask(client.GET("/api/starting"))]);
known.then(
  ([some, starts]) => {
    directions.value = some;
    starting.value = starts;
  },
  (refusal: unknown) => (trouble.value = sentence(refusal)),
);
const isAsked = ref(false);

function add(hex: string): void {
  const plain = hex.slice(0, 7);
  if (!given.value.some((one) => one.hex === plain))
    given.value = [...given.value, { hex: plain, role: "" }].slice(-MOST);
}

const make = async () => {
  isAsked.value = true;
  try {
    await Promise.all([sources.value?.takeCodes(), known]);
  } finally {
    isAsked.value = false;
  }
  if (!given.value.length || codes.value) return;
  const colours = given.value.map((one) => one.hex);
  const places = Object.fromEntries(given.value.filter((one) => one.role).map((one) => [one.role, one.hex]));
  return making.run(directions.value.map((_, direction) => ({ colours, places, direction })));
};
const start = (name: string) => {
  making.leave();
  return making.run([{ starting: name }]);
};
/** What the pages show: a start that is hovered, else what is tried. */
const onPages = computed(() => making.peeked.value ?? tried.value);

watch(
  () => making.made.value,
  (made) => {
    tried.value = made.includes(tried.value!) ? tried.value : (made.at(0) ?? null);
  },
);

const worn = computed(() => {
  const wear: Record<string, string | null> = {};
  for (const role of study.roles)
    for (const property of role.properties) {
      const value = (onPages.value?.values ?? taken.value)?.[role.id];
      wear[property.name] = value ? asProperty(value, property) : null;
    }
  for (const part of onPages.value?.parts ?? []) Object.assign(wear, part.wear);
  const rules = (onPages.value?.places ?? []).map((place) => place.there?.css);
  const fades = Object.entries(onPages.value?.fades ?? {});
  const lessFaded = fades.map(([selector, opacity]) => `${selector} { opacity: ${opacity} !important }`);
  const added = [study.revision?.extra_css, ...rules, ...lessFaded].filter(Boolean).join("\n");
  if (added) wear.css = added;
  return wear;
});
provide(PAINTER, usePainter(worn, ref("rest")));
const shown = computed(() =>
  making.peeked.value ? site.pages.slice(0, 1) : isShort.value ? site.pages.slice(0, 4) : site.pages,
);

async function keep(): Promise<void> {
  const made = tried.value!;
  const parts = made.parts.map(({ role, where, after, tokens }) => ({ role, where, colour: after, tokens }));
  const places = placesOf(made.places);
  const { values, given, fades } = made;
  const worn: Act = { act: "wear-palette", values, given, parts, places, fades };
  await study.written();
  const body = { base: study.revision!.base, name: made.name, acts: [worn], is_opened: true };
  try {
    await ask(client.POST("/api/sites/{slug}/studies", { params: { path: { slug: site.slug } }, body }));
    tried.value = null;
    making.stop();
    emit("kept");
  } catch (refusal) {
    trouble.value = sentence(refusal);
  }
}
</script>

<template>
  <section class="MakeStudies" aria-labelledby="make-studies">
    <div class="ask">
      <h2 id="make-studies">New palette from your colours</h2>
      <given-colours v-model="given" />
      <colour-sources
        ref="sources"
        v-model="codes"
        :slug="site.slug"
        @add="add"
        @seeds="given = $event.map((hex) => ({ hex, role: '' }))"
        @palette="brought = $event"
      />
      <take-palette v-if="brought" :text="brought" @look="taken = $event" @kept="emit('kept')" />
      <p v-if="trouble" role="alert">{{ trouble }}</p>
      <p class="acts">
        <el-button
          type="primary"
          :loading="isAsked"
          :disabled="(!given.length && !codes.trim()) || making.isBusy.value"
          @click="make"
          >Make palettes</el-button
        >
        <el-button :disabled="making.isBusy.value" @click="start('counterpart')">{{
          study.revision?.is_dark ? "Make the light version" : "Make the dark version"
        }}</el-button>
      </p>
      <h2>Or start from one of these</h2>
      <starting-list
        :starting="starting"
        :is-busy="making.isBusy.value"
        @start="start"
        @peek="making.peek"
        @leave="making.leave"
      />
    </div>
    <div class="made" aria-live="polite">
      <p v-if="making.isBusy.value" role="status">
        Making {{ making.done.value + 1 }} of {{ making.total.value }}…
        <progress :max="making.total.value" :value="making.done.value" />
        <button type="button" class="act" @click="making.stop()">Stop</button>
      </p>
      <p v-if="making.trouble.value" role="alert">{{ making.trouble.value }}</p>
      <p v-if="!making.made.value.length && !making.isBusy.value && !taken" class="soft">
        New palettes are shown here on your own pages. Nothing changes until you keep one.
      </p>
      <made-choices v-model="tried" :made="making.made.value" />
      <template v-if="onPages || taken">
        <p v-if="!onPages" class="soft">Your pages in this palette. Nothing changes until you take it.</p>
        <p v-else-if="making.peeked.value" class="acts soft">
          “{{ onPages.name }}” on your first page. Click it to try it on all.
        </p>
        <p v-else-if="tried" class="acts">
          <el-button type="primary" @click="keep">Keep “{{ tried.name }}” as a study</el-button>
          <button type="button" class="act" @click="isShort = !isShort">
            {{ isShort ? "Show all pages" : "Show fewer pages" }}
          </button>
        </p>
        <ul class="pages">
          <li v-for="page in shown" :key="page.path">
            <page-miniature :page="page" :width="WIDTHS.wide.width" :height="WIDTHS.wide.height" still />
          </li>
        </ul>
      </template>
    </div>
  </section>
</template>

<style scoped>
.MakeStudies {
  display: grid;
  grid-template-columns: 360px 1fr;
  gap: 26px;
}
.ask,
.made {
  display: grid;
  gap: 10px;
  align-content: start;
  min-width: 0;
}
ul {
  margin: 0;
  padding: 0;
  list-style: none;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 14px;
  align-items: center;
}
.acts > * {
  margin: 0;
}
.pages {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(260px, 1fr));
  gap: 10px;
}
/* a page alone is drawn large */
.pages li:only-child {
  grid-column: span 2;
}
@media (max-width: 900px) {
  .MakeStudies {
    grid-template-columns: 1fr;
  }
}
</style>
