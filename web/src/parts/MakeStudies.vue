<script setup lang="ts">
import { ElButton } from "element-plus";
import { computed, onMounted, provide, ref, shallowRef, watch } from "vue";
import client, { ask, type Schemas, type Site } from "@/api/client";
import GivenColours from "@/parts/GivenColours.vue";
import PageMiniature from "@/parts/PageMiniature.vue";
import PictureColours from "@/parts/PictureColours.vue";
import ValueEntry from "@/parts/ValueEntry.vue";
import { useMaking, type Given, type Made } from "@/composables/useMaking";
import { usePainter } from "@/composables/usePainter";
import { atOpacity } from "@/logic/colour";
import { PAINTER } from "@/logic/keys";
import { count } from "@/logic/words";
import { useBench, WIDTHS } from "@/stores/bench";

/** Whole palettes for this site: from given colours, a picture, a file, another site, or one of ours to start from. */
const emit = defineEmits<{ kept: [] }>();
const bench = useBench();
const MOST = 5;
const given = ref<Given[]>([]);
const directions = ref<string[]>([]);
const starting = shallowRef<Schemas["StartingOut"][]>([]);
const others = shallowRef<Site[]>([]);
const offered = shallowRef<{ name: string; colour: string }[]>([]);
const source = ref<"codes" | "picture" | "file" | "site">("codes");
const pasted = ref("");
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

async function readFile(text: string): Promise<void> {
  trouble.value = "";
  try {
    offered.value = await ask(client.POST("/api/palette/read", { body: { text } }));
  } catch (refusal) {
    offered.value = [];
    trouble.value = refusal instanceof Error ? refusal.message : String(refusal);
  }
}

async function chooseFile(event: Event): Promise<void> {
  const file = (event.target as HTMLInputElement).files?.[0];
  if (file) await readFile((await file.text()).slice(0, 1_050_000));
}

async function chooseSite(event: Event): Promise<void> {
  const slug = (event.target as HTMLSelectElement).value;
  if (!slug) return;
  const study = await ask(client.GET("/api/sites/{slug}/study", { params: { path: { slug } } }));
  offered.value = study.roles.map((role) => ({ name: role.label, colour: role.value }));
}

const make = () => {
  const colours = given.value.map((one) => one.hex);
  const places = Object.fromEntries(given.value.filter((one) => one.role).map((one) => [one.role, one.hex]));
  return making.run(directions.value.map((_, direction) => ({ colours, places, direction })));
};
const start = (name: string) => making.run([{ starting: name, colours: [], places: {}, direction: 0 }]);

watch(
  () => making.made.value,
  (made) => {
    tried.value = made.includes(tried.value!) ? tried.value : (made.at(0) ?? null);
  },
);

const worn = computed(() => {
  const wear: Record<string, string | null> = {};
  for (const role of bench.roles)
    for (const [property, opacity] of Object.entries(role.properties)) {
      const value = tried.value?.values[role.name];
      wear[property] = value ? atOpacity(value, opacity) : null;
    }
  return wear;
});
provide(PAINTER, usePainter(worn, ref("rest")));
const shown = computed(() => (isShort.value ? bench.pages.slice(0, 4) : bench.pages));

async function keep(): Promise<void> {
  const made = tried.value!;
  const body = { name: made.name, values: made.values, given: made.given, is_opened: true };
  try {
    await ask(client.POST("/api/sites/{slug}/studies", { params: { path: { slug: bench.slug } }, body }));
    tried.value = null;
    making.stop();
    emit("kept");
  } catch (refusal) {
    trouble.value = refusal instanceof Error ? refusal.message : String(refusal);
  }
}

const SOURCES = {
  codes: "A code",
  picture: "A picture",
  file: "A palette file",
  site: "Another site of yours",
} as const;
</script>

<template>
  <section class="MakeStudies" aria-labelledby="make-studies">
    <div class="ask">
      <h2 id="make-studies">A whole palette from one to five colours</h2>
      <given-colours v-model="given" />
      <fieldset class="sources">
        <legend class="unseen">Where the colours come from</legend>
        <label v-for="(label, key) in SOURCES" :key="key">
          <input v-model="source" type="radio" name="source" :value="key" /> {{ label }}
        </label>
      </fieldset>
      <value-entry v-if="source === 'codes'" value="" label="A colour to make it from" @change="add" />
      <picture-colours
        v-else-if="source === 'picture'"
        :slug="bench.slug"
        @take="add"
        @seeds="given = $event.map((hex) => ({ hex, role: '' }))"
      />
      <template v-else-if="source === 'file'">
        <label class="soft"
          >Design Tokens or .gpl
          <input type="file" accept=".json,.gpl,.txt,.tokens" aria-label="A palette file" @change="chooseFile" />
        </label>
        <textarea v-model="pasted" rows="2" aria-label="Codes as pasted" placeholder="or codes, as pasted" />
        <el-button size="small" :disabled="!pasted.trim()" @click="readFile(pasted)">Read them</el-button>
      </template>
      <select v-else aria-label="Another site of yours" @change="chooseSite">
        <option value="">Choose a site</option>
        <option v-for="one in others" :key="one.slug" :value="one.slug">{{ one.name }}</option>
      </select>
      <p v-if="(source === 'file' || source === 'site') && offered.length" class="offered">
        <button
          v-for="(one, place) in offered.slice(0, 96)"
          :key="place"
          type="button"
          :style="{ background: one.colour }"
          :title="`${one.name} ${one.colour}`"
          @click="add(one.colour)"
        >
          <span class="unseen">Take {{ one.name }} {{ one.colour }}</span>
        </button>
      </p>
      <p v-if="trouble" role="alert">{{ trouble }}</p>
      <p class="acts">
        <el-button type="primary" :disabled="!given.length || making.isBusy.value" @click="make"
          >Make palettes</el-button
        >
        <el-button :disabled="making.isBusy.value" @click="start('counterpart')">The other side of this one</el-button>
      </p>
      <h2>Or start from one of these</h2>
      <ul class="starting">
        <li v-for="one in starting" :key="one.name">
          <button type="button" :disabled="making.isBusy.value" @click="start(one.name)">
            <i :class="{ dark: one.is_dark }" aria-hidden="true"
              ><i v-for="hex in one.colours" :key="hex" :style="{ background: hex }"
            /></i>
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
        What is made is shown here on your own pages first; nothing changes until it is kept.
      </p>
      <ul class="choices">
        <li v-for="one in making.made.value" :key="one.name">
          <button type="button" :aria-pressed="tried === one" @click="tried = one">
            <span class="strip" aria-hidden="true"
              ><i v-for="(part, n) in one.colours" :key="n" :style="{ background: part.colour, flexGrow: part.share }"
            /></span>
            <b>{{ one.name }}</b>
            <span>{{ one.about }}</span>
            <span class="soft">{{
              one.hard_texts
                ? `${count(one.hard_texts, "text")} ${one.hard_texts === 1 ? "stays" : "stay"} hard to read`
                : "everything reads"
            }}</span>
          </button>
        </li>
      </ul>
      <template v-if="tried">
        <p class="acts">
          <el-button type="primary" @click="keep">Keep “{{ tried.name }}” as a study</el-button>
          <button type="button" class="act" @click="isShort = !isShort">
            {{ isShort ? "on all pages" : "on fewer pages" }}
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
.starting button > i {
  display: flex;
  gap: 2px;
  padding: 4px;
  background: #fff;
  box-shadow: inset 0 0 0 1px var(--rule);
}
.starting button > i.dark {
  background: #222;
}
.starting i i {
  width: 15px;
  height: 15px;
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
