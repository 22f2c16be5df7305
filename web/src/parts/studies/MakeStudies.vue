<script setup lang="ts">
import { ElButton, ElInput, ElOption, ElRadioButton, ElRadioGroup, ElSelect } from "element-plus";
import { computed, onMounted, provide, ref, shallowRef, watch } from "vue";
import client, { ask, type Schemas, type Site, sentence } from "@/api/client";
import GivenColours from "@/parts/studies/GivenColours.vue";
import PageMiniature from "@/parts/common/PageMiniature.vue";
import StartingPage from "@/parts/studies/StartingPage.vue";
import PictureColours from "@/parts/studies/PictureColours.vue";
import { useMaking, type Given, type Made } from "@/composables/useMaking";
import { usePainter } from "@/composables/usePainter";
import { asProperty, lchOf } from "@/logic/colour";
import { PAINTER } from "@/logic/keys";
import { placesOf } from "@/logic/placesOf";
import { count } from "@/logic/words";
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
const others = shallowRef<Site[]>([]);
const offered = shallowRef<{ name: string; colour: string }[]>([]);
const source = ref<"codes" | "picture" | "file" | "site">("codes");
const codes = ref("");
const pasted = ref("");
const otherSite = ref("");
const isDark = computed(() => {
  const page = study.roles.find((role) => role.kind === "background" && !role.coat);
  return page ? lchOf(page.value).lightness < 0.62 : false;
});
const trouble = ref("");
const tried = shallowRef<Made | null>(null);
const making = useMaking();
const isShort = ref(true);

onMounted(async () => {
  [directions.value, starting.value, others.value] = await Promise.all([
    ask(client.GET("/api/directions")),
    ask(client.GET("/api/starting")),
    ask(client.GET("/api/sites")) as Promise<unknown> as Promise<Site[]>,
  ]);
});

function add(hex: string): void {
  const plain = hex.slice(0, 7);
  if (!given.value.some((one) => one.hex === plain))
    given.value = [...given.value, { hex: plain, role: "" }].slice(-MOST);
}

/** Adds the colours that were typed, however many; what is not understood stays, with what would be. */
let reading = Promise.resolve();
function takeCodes(): Promise<void> {
  return (reading = reading.then(async () => {
    const text = codes.value.trim();
    if (!text) return;
    try {
      const found = await ask(client.POST("/api/palette/read", { body: { text } }));
      for (const one of found) add(one.colour);
      codes.value = trouble.value = "";
    } catch (refusal) {
      trouble.value = sentence(refusal);
    }
  }));
}

async function readFile(text: string): Promise<void> {
  trouble.value = "";
  try {
    offered.value = await ask(client.POST("/api/palette/read", { body: { text } }));
  } catch (refusal) {
    offered.value = [];
    trouble.value = sentence(refusal);
  }
}

async function chooseFile(event: Event): Promise<void> {
  const file = (event.target as HTMLInputElement).files?.[0];
  if (file) await readFile((await file.text()).slice(0, 1_050_000));
}

async function chooseSite(slug: string): Promise<void> {
  const other = await ask(client.GET("/api/sites/{slug}/study", { params: { path: { slug } } }));
  const shown = other.roles.filter((role) => role.tier === "main");
  offered.value = shown.map((role) => ({ name: role.label, colour: role.value }));
}

const make = async () => {
  await takeCodes();
  if (!given.value.length || codes.value) return;
  const colours = given.value.map((one) => one.hex);
  const places = Object.fromEntries(given.value.filter((one) => one.role).map((one) => [one.role, one.hex]));
  return making.run(directions.value.map((_, direction) => ({ colours, places, direction })));
};
const start = (name: string) => {
  making.leave();
  return making.run([{ starting: name, colours: [], places: {}, direction: 0 }]);
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
      const value = onPages.value?.values[role.id];
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
  const body = {
    name: made.name,
    values: made.values,
    given: made.given,
    parts,
    places,
    fades: made.fades,
    is_opened: true,
  };
  try {
    await ask(client.POST("/api/sites/{slug}/studies", { params: { path: { slug: site.slug } }, body }));
    tried.value = null;
    making.stop();
    emit("kept");
  } catch (refusal) {
    trouble.value = sentence(refusal);
  }
}

const SOURCES = {
  codes: "Codes",
  picture: "Picture",
  file: "Palette file",
  site: "Another site",
} as const;
</script>

<template>
  <section class="MakeStudies" aria-labelledby="make-studies">
    <div class="ask">
      <h2 id="make-studies">New palette from your colours</h2>
      <given-colours v-model="given" />
      <el-radio-group v-model="source" size="small" aria-label="Where the colours come from">
        <el-radio-button v-for="(label, key) in SOURCES" :key="key" :value="key">{{ label }}</el-radio-button>
      </el-radio-group>
      <el-input
        v-if="source === 'codes'"
        v-model="codes"
        aria-label="Colours"
        placeholder="#0b5c7a, teal, rgb(29 92 122)"
        spellcheck="false"
        autocomplete="off"
        maxlength="2000"
        :aria-invalid="!!trouble"
        @change="takeCodes"
      />
      <picture-colours
        v-else-if="source === 'picture'"
        :slug="site.slug"
        @take="add"
        @seeds="given = $event.map((hex) => ({ hex, role: '' }))"
      />
      <template v-else-if="source === 'file'">
        <label class="soft"
          >Design Tokens or .gpl
          <input type="file" accept=".json,.gpl,.txt,.tokens" aria-label="A palette file" @change="chooseFile" />
        </label>
        <textarea v-model="pasted" rows="2" aria-label="Colour codes" placeholder="or paste colour codes" />
        <el-button size="small" :disabled="!pasted.trim()" @click="readFile(pasted)">Read the codes</el-button>
      </template>
      <el-select
        v-else
        v-model="otherSite"
        aria-label="Another site of yours"
        placeholder="Choose a site"
        append-to="#dialogs"
        @change="chooseSite"
      >
        <el-option v-for="one in others" :key="one.slug" :value="one.slug" :label="one.name" />
      </el-select>
      <p v-if="(source === 'file' || source === 'site') && offered.length" class="offered">
        <button
          v-for="(one, place) in offered.slice(0, 96)"
          :key="place"
          type="button"
          :style="{ background: one.colour }"
          :title="`${one.name} ${one.colour}`"
          @click="add(one.colour)"
        >
          <span class="unseen">Use {{ one.name }} {{ one.colour }}</span>
        </button>
      </p>
      <p v-if="trouble" role="alert">{{ trouble }}</p>
      <p class="acts">
        <el-button type="primary" :disabled="(!given.length && !codes.trim()) || making.isBusy.value" @click="make"
          >Make palettes</el-button
        >
        <el-button :disabled="making.isBusy.value" @click="start('counterpart')">{{
          isDark ? "Make the light version" : "Make the dark version"
        }}</el-button>
      </p>
      <h2>Or start from one of these</h2>
      <ul class="starting">
        <li v-for="one in starting" :key="one.name">
          <button
            type="button"
            :disabled="making.isBusy.value"
            @click="start(one.name)"
            @pointerenter="making.peek(one.name)"
            @pointerleave="making.leave()"
            @focus="making.peek(one.name)"
            @blur="making.leave()"
          >
            <starting-page :start="one" />
            {{ one.name }}<span class="unseen">{{ one.is_dark ? ", dark" : ", light" }}</span>
          </button>
        </li>
      </ul>
    </div>
    <div class="made" aria-live="polite">
      <p v-if="making.isBusy.value" role="status">
        Making {{ making.done.value + 1 }} of {{ making.total.value }}…
        <progress :max="making.total.value" :value="making.done.value" />
        <button type="button" class="act" @click="making.stop()">Stop</button>
      </p>
      <p v-if="making.trouble.value" role="alert">{{ making.trouble.value }}</p>
      <p v-if="!making.made.value.length && !making.isBusy.value" class="soft">
        New palettes are shown here on your own pages. Nothing changes until you keep one.
      </p>
      <ul class="choices">
        <li v-for="one in making.made.value" :key="one.name">
          <button type="button" :aria-pressed="tried === one" @click="tried = one">
            <span class="strip" aria-hidden="true"
              ><i v-for="(part, n) in one.colours" :key="n" :style="{ background: part.colour, flexGrow: part.share }"
            /></span>
            <b>{{ one.name }}</b>
            <span>{{ one.about }}</span>
            <span class="soft"
              >{{
                one.hard_texts
                  ? `${count(one.hard_texts, "text")} ${one.hard_texts === 1 ? "stays" : "stay"} hard to read`
                  : "everything is readable"
              }}{{ Object.keys(one.fades).length ? "; what your pages fade is faded less" : "" }}</span
            >
          </button>
        </li>
      </ul>
      <template v-if="onPages">
        <p v-if="making.peeked.value" class="acts soft">
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
            <page-miniature :page="page" :width="WIDTHS.wide.width" :height="WIDTHS.wide.height" />
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
.offered {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  min-height: 34px;
  align-items: center;
}
.offered button {
  width: 24px;
  height: 24px;
  border: 1px solid var(--edge);
  cursor: pointer;
}
.sources {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  margin: 0;
  padding: 0;
  border: 0;
  font-size: 13px;
}
.sources input {
  accent-color: var(--ink);
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
.starting {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 4px;
}
.starting button {
  display: flex;
  gap: 8px;
  align-items: center;
  width: 100%;
  padding: 3px;
  border: 1px solid var(--rule);
  background: var(--raised);
  font-size: 13px;
  text-align: left;
  cursor: pointer;
}
.choices {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(220px, 1fr));
  gap: 10px;
}
.choices button {
  display: grid;
  gap: 4px;
  align-content: start;
  width: 100%;
  height: 100%;
  padding: 8px;
  border: 1px solid var(--rule);
  background: var(--raised);
  font-size: 13px;
  text-align: left;
  cursor: pointer;
}
.choices button[aria-pressed="true"] {
  border-color: var(--ink);
  box-shadow: inset 0 0 0 1px var(--ink);
}
.strip {
  display: flex;
  height: 34px;
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
textarea,
select {
  padding: 5px 8px;
  border: 1px solid var(--edge);
  border-radius: var(--corner);
  background: var(--raised);
}
@media (max-width: 900px) {
  .MakeStudies {
    grid-template-columns: 1fr;
  }
}
</style>
