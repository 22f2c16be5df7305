<script setup lang="ts">
import { ElButton, ElMessageBox, ElOption, ElRadioButton, ElRadioGroup, ElSelect } from "element-plus";
import { computed, onBeforeUnmount, ref, shallowRef, watch } from "vue";
import { onBeforeRouteLeave, RouterLink, useRoute, useRouter } from "vue-router";
import client, { ask, type Schemas } from "@/api/client";
import { useBackdrop } from "@/composables/useBackdrop";
import { freshLayer, kindOf, type Layer, type LayerKind, type Paint } from "@/logic/backdrop";
import { count, pageNames } from "@/logic/words";
import FocusPoint from "@/parts/backdrop/FocusPoint.vue";
import LayerEditor from "@/parts/backdrop/LayerEditor.vue";
import LayerList from "@/parts/backdrop/LayerList.vue";
import ShareSlider from "@/parts/backdrop/ShareSlider.vue";
import PlateEditor from "@/parts/backdrop/PlateEditor.vue";
import PictureShelf from "@/parts/backdrop/PictureShelf.vue";
import CloseUpPage from "@/parts/closeup/CloseUpPage.vue";
import { useSite } from "@/stores/site";
import { useStudy } from "@/stores/study";
import { useView, WIDTHS } from "@/stores/view";

/** What lies behind the site, a page or a section: its layers, the page on them, where text is hard to read. */
const site = useSite();
const study = useStudy();
const view = useView();
const route = useRoute();
const router = useRouter();
const one = (name: string) => (route.query[name] ? String(route.query[name]) : null);

const place = computed<Schemas["WhereIn"] | null>(() => {
  const [page, section, part] = [one("page"), one("section"), one("part")];
  return page || section || part ? { page, section, part, at: one("at") } : null;
});
const label = ref("");
const name = computed(
  () => one("name") ?? (label.value || (place.value?.page ? names.value.get(place.value.page) : "the whole site")),
);
const path = ref(one("on") ?? one("page") ?? "");
watch(
  () => site.pages,
  (pages) => {
    if (!pages.some((page) => page.path === path.value)) path.value = pages[0]?.path ?? "";
  },
  { immediate: true },
);
const page = computed(() => site.pages.find((found) => found.path === path.value));
const names = computed(() => pageNames(site.pages));
const screen = computed(() => WIDTHS[view.width]);
const width = computed(() => screen.value.width);
const back = useBackdrop(place, path, width);
const { all, layers, phone, panels, plate, tried, hardOnBase, trouble, busy, isChanged } = back;
const chosen = ref(0);
const showsWorst = ref(true);
const least = ref<number | null>(null);
const leftOver = shallowRef<Schemas["HardOut"][] | null>(null);
/** What finds the place on the page. */
const start = ref("");
const sections = shallowRef<Schemas["RegionOut"][]>([]);
/** The coat that the place is given by a choice. */
const worn = ref<string | null>(null);
const liesOn = shallowRef<Set<string> | null>(null);
const map = shallowRef<Schemas["MapOut"] | null>(null);
/** The section that its picture was let go on behind, and the way to it. */
const goesOn = shallowRef<{ label: string; query: Record<string, string> } | null>(null);
/** The pages that it lies on. */
const pages = computed(() =>
  site.pages.filter((found) =>
    place.value?.page ? found.path === place.value.page : (liesOn.value?.has(found.path) ?? true),
  ),
);
watch(
  [() => site.slug, () => JSON.stringify(place.value)],
  async ([slug]) => {
    goesOn.value = null;
    const key = place.value?.section ?? place.value?.part;
    if (!slug) return;
    map.value = await ask(client.GET("/api/sites/{slug}/sections", { params: { path: { slug } } })).catch(() => null);
    sections.value = (map.value?.regions ?? []).filter((found) => found.is_section && found.key !== key);
    const region = map.value?.regions.find((found) => found.key === key);
    start.value = region?.selector ?? "";
    label.value = region?.label ?? "";
    liesOn.value = region ? new Set(region.pages) : null;
    const block = map.value?.pages.flatMap((found) => found.blocks).find((found) => found.key === key && found.scope);
    worn.value = block?.coat ?? null;
  },
  { immediate: true },
);
/** Gives the base the colour of the picture's own edge, so that what the picture leaves bare goes on from it. */
function baseFromEdge(): void {
  const colour = colours.value?.edge;
  if (!colour) return;
  const others = layers.value.filter((layer) => layer.colour === undefined);
  put([{ colour }, ...others]);
  chosen.value = layers.value.findIndex((layer) => layer.picture);
}
const colours = shallowRef<Schemas["PictureColoursOut"] | null>(null);

const colourOf = (paint: Paint) => (typeof paint === "string" ? paint : study.colourOf(paint.role));
const nameOf = (paint: Paint) =>
  typeof paint === "string" ? paint : (study.roleById.get(paint.role)?.label ?? paint.role);
const paintOf = (kind: string): Paint => {
  const role = study.roles.find((r) => r.kind === kind && !r.coat && r.state === "rest" && r.tier !== "unseen");
  return role ? { role: role.id } : ({ background: "#ffffff", text: "#222222" }[kind] ?? "#6a7a80");
};
function lookOf(layer: Layer): string {
  if (layer.colour !== undefined) return colourOf(layer.colour);
  if (layer.gradient) {
    const stops = layer.gradient.stops.map((stop) => `${colourOf(stop.colour)} ${stop.at * 100}%`).join(", ");
    return layer.gradient.kind === "radial"
      ? `radial-gradient(${stops})`
      : `linear-gradient(${layer.gradient.angle}deg, ${stops})`;
  }
  if (layer.picture) {
    const address = all.value?.pictures.find((found) => found.path === layer.picture!.file)?.address;
    return address ? `center / cover url("${address}")` : "#999";
  }
  if (layer.pattern) return `center / 24px url("/api/patterns/${layer.pattern.name}") #fff`;
  if (layer.glow) return `radial-gradient(circle at 50% 0, ${colourOf(layer.glow.colour)}, #8a8a8a)`;
  return layer.veil ? colourOf(layer.veil.colour) : "#fff";
}

const hasBase = computed(() => layers.value.some((layer) => layer.colour !== undefined));

function add(kind: LayerKind, file = ""): void {
  // behind a page there is nothing else that it could lie on
  if (kind !== "colour" && !hasBase.value && !place.value?.section && !place.value?.part)
    layers.value = [freshLayer("colour", paintOf), ...layers.value];
  const fresh = freshLayer(kind, paintOf, file);
  // a picture lies on a base colour, below what is laid over it
  if (kind === "colour") back.change([fresh, ...layers.value]);
  else if (kind === "veil" || kind === "glow") back.change([...layers.value, fresh]);
  else {
    const top = layers.value.findIndex((layer) => layer.veil ?? layer.glow);
    const next = [...layers.value];
    next.splice(top < 0 ? next.length : top, 0, fresh);
    back.change(next);
  }
  chosen.value = layers.value.findIndex(
    (layer) => kindOf(layer) === kind && JSON.stringify(layer) === JSON.stringify(fresh),
  );
  least.value = null;
}
const at = computed(() => layers.value[chosen.value]);

function change(layer: Layer, isDone: boolean): void {
  back.change(
    layers.value.map((found, n) => (n === chosen.value ? layer : found)),
    isDone,
  );
  if (!layer.veil) least.value = null;
}
function put(next: Layer[]): void {
  back.change(next);
  least.value = null;
}
async function choosePicture(file: string): Promise<void> {
  const picture = at.value?.picture;
  if (picture) change({ picture: { ...picture, file } }, true);
  else {
    add("picture", file);
    if (hasBase.value) return;
    const edge = (await coloursOf(file))?.edge;
    put([{ colour: edge ?? "#888888" }, ...layers.value]);
    chosen.value += 1;
  }
}
const coloursOf = (file: string) =>
  ask(
    client.GET("/api/sites/{slug}/backdrops/colours", { params: { path: { slug: site.slug }, query: { path: file } } }),
  ).catch(() => null);
watch(
  () => at.value?.picture?.file,
  async (file) => {
    colours.value = null;
    if (file) colours.value = await coloursOf(file);
  },
);
async function send(file: File): Promise<void> {
  const picture = await back.sendPicture(file);
  if (picture) await choosePicture(picture.path);
  said.value = picture?.note ?? "";
}
async function take(wanted: string): Promise<void> {
  const picture = await back.takeFromLibrary(wanted);
  if (picture) await choosePicture(picture.path);
}
async function findLeast(): Promise<void> {
  const found = await back.leastVeil();
  if (!found) return;
  least.value = found.opacity;
  leftOver.value = found.hard;
  chosen.value = layers.value.findLastIndex((layer) => layer.veil);
}

/** Gives as few stops of the gradient another colour as will do. */
async function changeStops(): Promise<void> {
  const found = await back.readableStops();
  if (!found) return;
  if (found.moved) chosen.value = layers.value.findLastIndex((layer) => layer.gradient && !layer.off);
  said.value = found.moved
    ? `${count(found.moved, "stop")} of the gradient took another colour.`
    : "No other colours of the gradient would make more of its text readable.";
}

// asked for where fixing everything could not help: the least veil, over what lies there
watch(all, async (known, before) => {
  if (known && !before && one("veil") === "least" && !layers.value.length) await findLeast();
});

/** Lays a plate behind the words that are hard to read, and nothing else. */
async function layPlate(): Promise<void> {
  const found = await back.layPlate();
  if (found && !found.plate) said.value = "Nothing on it is hard to read that a plate would help.";
}
const showPlate = () => back.change(layers.value, false);

/** Texts that no veil makes readable, of the last that was looked for. */
const left = computed(() => (leftOver.value ?? []).filter((text) => hard.value.some((h) => h.path === text.path)));
const hard = computed(() => tried.value?.worst.filter((text) => text.verdict === "fail") ?? []);
const ratio = (text: Schemas["OnItOut"]) => `${text.ratio?.toFixed(1) ?? "?"} needs ${text.required}`;
const selectorOf = (text: Schemas["OnItOut"]) => text.path.split("::")[0]!.replaceAll(">", " > ");
const marks = computed(() => {
  const [first, ...others] = showsWorst.value ? hard.value : [];
  return {
    chosen: first ? selectorOf(first) : null,
    reach: others.length ? others.map(selectorOf).join(", ") : null,
    label: first ? ratio(first) : "",
  };
});
const TEXT_KINDS = ["text", "heading", "quiet", "link"];
/** Keeps the backdrop, and gives all text in its place one light or dark colour. */
async function turnText(): Promise<void> {
  const turned = tried.value?.turned;
  if (!turned || !place.value || (isChanged.value && !(await back.keep()))) return;
  const values = Object.fromEntries(TEXT_KINDS.map((kind) => [kind, turned.colour]));
  const where = place.value;
  const what = `Turning its text ${turned.way}…`;
  if (await back.during(what, () => study.wearThere([where], [worn.value], values))) await back.load();
}
/** Opens the hardest text close up, where its colour can be changed there only. */
const changeText = () => router.push({ name: "close-up", query: { page: path.value, at: hard.value[0]!.path } });
const short = (text: string) => (text.length > 32 ? `${text.slice(0, 30)}…` : text);
const kB = (bytes: number) => `${Math.round(bytes / 1000)} kB`;
const said = ref("");
const phoneSource = computed(() => {
  const file = layers.value.find((layer) => layer.picture && !layer.off)?.picture?.file;
  return all.value?.pictures.find((found) => found.path === file)?.address;
});
const phoneAt = computed({
  get: () => (phone.value?.picture as { at: [number, number] } | null)?.at ?? [0.5, 0.5],
  set: (at: [number, number]) => {
    phone.value = { picture: { at } };
    back.change(layers.value, false);
  },
});
/** Lets what lies behind show through the boxes on it. */
function setPanels(share: number): void {
  panels.value = share;
  back.change(layers.value, false);
}
function setPhone(way: "same" | "none" | "other"): void {
  phone.value = way === "same" ? null : { picture: way === "none" ? null : { at: [0.5, 0.5] } };
  back.change(layers.value);
}
const phoneWay = computed(() => (!phone.value ? "same" : phone.value.picture === null ? "none" : "other"));

/** Lays the same behind another section, everywhere it is. */
async function copyTo(key: string): Promise<void> {
  const copied = await back.copyTo({ page: null, section: key, part: null, at: null });
  if (copied) said.value = `“${sections.value.find((one) => one.key === key)?.label}” lies on the same now.`;
}
/** The section right above it on the page in view, where a picture that stays can go on. */
const above = computed(() => {
  if (!place.value?.section || !layers.value.some((layer) => layer.picture)) return undefined;
  const blocks = map.value?.pages.find((found) => found.path === path.value)?.blocks ?? [];
  const key = blocks[blocks.findIndex((found) => found.key === place.value!.section) - 1]?.key;
  return sections.value.find((found) => found.key === key);
});
/** Lets the picture stay while the page scrolls, and lie behind the section above as well: the two show one picture. */
async function goOnAbove(): Promise<void> {
  const { key, label } = above.value!;
  const layersNow = layers.value.map((layer) =>
    layer.picture ? { ...layer, picture: { ...layer.picture, fixed: true } } : layer,
  );
  back.change(layersNow, false);
  if (isChanged.value && !(await back.keep())) return;
  // a header is on more pages than what stands below it on one of them
  const isEverywhere = above.value!.pages.every((found) => liesOn.value?.has(found));
  const on = isEverywhere ? [null] : pages.value.map((found) => found.path);
  for (const page of on) if (!(await back.copyTo({ page, section: key, part: null, at: null }))) return;
  goesOn.value = { label, query: { section: key, on: path.value, ...(isEverywhere ? {} : { page: path.value }) } };
  void back.read();
}
/** What the coat is called that the place is given, and whether what lies behind it comes with that. */
const wornLabel = computed(() => study.coats.find((coat) => coat.id === worn.value)?.label ?? "");
const isWithCoat = computed(
  () => !!back.all.value?.backdrops.find((one) => one.place?.section && one.place.section === place.value?.section)?.of,
);
async function keepWithCoat(): Promise<void> {
  if (await back.keep(worn.value!)) said.value = `Whatever is given “${wornLabel.value}” lies on it now.`;
}
async function clear(): Promise<void> {
  plate.value = null;
  put([]);
  await back.keep();
}
onBeforeRouteLeave(async () => {
  if (!isChanged.value) return true;
  try {
    await ElMessageBox.confirm("This backdrop is not kept yet.", "Keep it?", {
      confirmButtonText: "Keep it",
      cancelButtonText: "Let it go",
      distinguishCancelAndClose: true,
      appendTo: "#dialogs",
    });
    return await back.keep();
  } catch (way) {
    return way === "cancel";
  }
});
onBeforeUnmount(back.leave);
</script>

<template>
  <div class="BackdropScreen">
    <main class="stage" tabindex="-1">
      <h1 class="unseen">Backdrop of {{ name }}</h1>
      <div class="tools">
        <router-link :to="{ name: 'sections' }">All sections</router-link>
        <el-select v-model="path" size="small" aria-label="Page" append-to="#dialogs">
          <el-option v-for="found in pages" :key="found.path" :value="found.path" :label="names.get(found.path)" />
        </el-select>
        <el-radio-group v-model="view.width" size="small" aria-label="Screen width">
          <el-radio-button v-for="(found, key) in WIDTHS" :key="key" :value="key">{{ found.label }}</el-radio-button>
        </el-radio-group>
        <el-radio-group v-model="showsWorst" size="small" aria-label="Marks">
          <el-radio-button :value="true">Show the worst spots</el-radio-button>
          <el-radio-button :value="false">Plain</el-radio-button>
        </el-radio-group>
      </div>
      <close-up-page v-if="page" :page="page" :width="width" :marks="marks" :start="start" />
      <div class="told" aria-live="polite">
        <p v-if="trouble" role="alert">{{ trouble }}</p>
        <p v-else-if="busy">{{ busy }}</p>
        <template v-else-if="tried">
          <p v-if="hard.length">
            <b>“{{ short(hard[0]!.text) }}” is hard to read ({{ ratio(hard[0]!) }}).</b>{{ " " }}
            <span class="soft">
              {{
                hard.length > 1
                  ? `${count(tried.hard, "text")} of ${tried.texts} on it are.`
                  : "All others on it can be read."
              }}
            </span>
          </p>
          <p v-else-if="tried.unsure">
            <b>Not known yet for {{ count(tried.unsure, "text") }}.</b>
          </p>
          <p v-else-if="!tried.texts" class="soft">No text of this page lies on it.</p>
          <p v-else>
            <b>All {{ count(tried.texts, "text") }} on it can be read.</b>{{ " " }}
            <span v-if="tried.lowest" class="soft">The lowest contrast is {{ tried.lowest }}.</span>
          </p>
          <p v-if="tried.is_small" class="soft">
            Its place is so small that hardly anything of a backdrop shows there.
          </p>
          <p v-if="hardOnBase" class="soft">
            Should its pictures fail to load, {{ count(hardOnBase, "text") }} would be hard to read on the base colour.
            <button type="button" class="act" @click="back.readableBase">Change the base colour</button>
          </p>
          <p v-if="tried.bytes > (all?.budget ?? 300000)" class="soft">
            Its pictures weigh {{ kB(tried.bytes) }}, more than the {{ kB(all!.budget) }} that a page should.
          </p>
        </template>
        <p v-if="left.length && !busy" class="soft">
          No veil alone makes {{ left.length === 1 ? "it" : "all of them" }} readable: the texts on it are of colours
          that need different backgrounds.
        </p>
        <p v-if="hard.length && !busy" class="acts">
          <el-button size="small" :type="left.length ? 'default' : 'primary'" @click="findLeast">
            Lay the least veil over it
          </el-button>
          <el-button v-if="layers.some((layer) => layer.picture && !layer.off)" size="small" @click="back.bestFocus">
            Move the picture
          </el-button>
          <el-button v-if="layers.some((layer) => layer.gradient && !layer.off)" size="small" @click="changeStops">
            Change the gradient’s colours
          </el-button>
          <el-button v-if="panels < 1" size="small" @click="back.firmPanels">Make the boxes more solid</el-button>
          <el-button size="small" :type="left.length ? 'primary' : 'default'" @click="layPlate"
            >Put a plate behind these words</el-button
          >
          <el-button v-if="tried?.turned && place" size="small" @click="turnText">
            Turn its text {{ tried.turned.way }}
          </el-button>
          <el-button v-if="left.length" size="small" @click="changeText">Change this text’s colour…</el-button>
        </p>
      </div>
      <picture-shelf
        v-if="all"
        :all="all"
        :shown="at?.picture?.file ?? ''"
        @choose="choosePicture"
        @take="take"
        @send="send"
      />
    </main>
    <aside class="side" :aria-label="`Backdrop of ${name}`">
      <h2>Backdrop of {{ name }}</h2>
      <p class="soft">
        {{
          layers.length
            ? `${count(layers.length, "layer")}${tried && tried.bytes >= 1000 ? `, ${kB(tried.bytes)}` : ""}`
            : "You have laid nothing behind it yet."
        }}
      </p>
      <template v-if="layers.length">
        <h3>From the front to the back</h3>
        <layer-list
          v-model:chosen="chosen"
          :model-value="layers"
          :look-of="lookOf"
          :name-of="nameOf"
          @update:model-value="put"
        />
      </template>
      <p v-if="all" class="adds">
        <span>Add</span>
        <button v-if="!hasBase" type="button" class="act" @click="add('colour')">base colour</button>
        <button type="button" class="act" @click="add('gradient')">gradient</button>
        <button type="button" class="act" @click="add('pattern')">pattern</button>
        <button type="button" class="act" @click="add('glow')">glow</button>
        <button type="button" class="act" @click="add('veil')">veil</button>
        <button v-if="!plate" type="button" class="act" @click="layPlate">plate behind what is hard to read</button>
        <button v-if="!layers.length && place" type="button" class="act" @click="put([{ colour: 'transparent' }])">
          let what lies behind show
        </button>
      </p>
      <layer-editor
        v-if="at && all"
        :key="`${chosen} ${kindOf(at)}`"
        :layer="at"
        :all="all"
        :colour-of="colourOf"
        :least="least"
        :inks="tried?.inks ?? []"
        :bare="tried?.bare ?? []"
        @edge="baseFromEdge"
        @change="change"
        @focus="back.bestFocus"
      />
      <plate-editor v-model="plate" :colour-of="colourOf" @update:model-value="showPlate" @done="back.read" />
      <template v-if="layers.length && (tried?.panels || panels < 1)">
        <h3>Boxes on it</h3>
        <share-slider
          label="How solid"
          :model-value="panels"
          @update:model-value="setPanels"
          @done="back.change(layers)"
        />
      </template>
      <template v-if="colours && at?.picture">
        <h3>Its colours</h3>
        <p class="colours">
          <span
            v-for="colour in colours.colours"
            :key="colour"
            :style="{ background: colour }"
            :title="colour"
            data-specimen
          />
          <button
            type="button"
            class="act"
            @click="
              study.changeCoat({
                what: 'new',
                label: `From ${at.picture.file.split('/').pop()!.split('.')[0]}`,
                background: colours.colours[0]!,
                like: null,
              })
            "
          >
            Make a coat of them
          </button>
        </p>
      </template>
      <template v-if="layers.some((layer) => layer.picture)">
        <h3>On a phone</h3>
        <el-radio-group
          :model-value="phoneWay"
          size="small"
          aria-label="On a phone"
          @update:model-value="setPhone($event as 'same')"
        >
          <el-radio-button value="same">The same</el-radio-button>
          <el-radio-button value="other">Another part</el-radio-button>
          <el-radio-button value="none">No picture</el-radio-button>
        </el-radio-group>
        <focus-point
          v-if="phoneWay === 'other' && phoneSource"
          v-model="phoneAt"
          label="What a phone keeps in view"
          :src="phoneSource"
          @done="back.read"
        />
      </template>
      <p class="end">
        <el-button type="primary" :disabled="!isChanged || !!busy" @click="back.keep()">Keep</el-button>
        <el-button
          v-if="worn && layers.length"
          :disabled="!!busy || (isWithCoat && !isChanged)"
          :title="`Whatever is given “${wornLabel}” lies on it`"
          @click="keepWithCoat"
          >Keep with “{{ wornLabel }}”</el-button
        >
        <el-button :disabled="!isChanged || !!busy" @click="back.load">Put back</el-button>
        <el-button v-if="layers.length || plate" :disabled="!!busy" @click="clear">Take it away</el-button>
        <el-select
          v-if="layers.length && sections.length"
          size="small"
          :model-value="''"
          placeholder="Copy to…"
          aria-label="Copy to another section"
          append-to="#dialogs"
          @update:model-value="copyTo"
        >
          <el-option v-for="other in sections" :key="other.key" :value="other.key" :label="other.label" />
        </el-select>
        <el-button v-if="above && !goesOn" size="small" :disabled="!!busy" @click="goOnAbove"
          >Go on behind {{ above.label }}</el-button
        >
        <span v-if="said" class="soft" role="status">{{ said }}</span>
        <span v-if="goesOn" class="soft" role="status"
          >The picture goes on behind {{ goesOn.label }} and stays while the page scrolls.
          <router-link :to="{ name: 'backdrop', query: goesOn.query }">How {{ goesOn.label }} reads on it</router-link>
        </span>
      </p>
    </aside>
  </div>
</template>

<style scoped>
.BackdropScreen {
  display: grid;
  flex: 1;
  grid-template-columns: 1fr 372px;
  min-height: 0;
}
.stage {
  display: flex;
  flex-direction: column;
  gap: 8px;
  min-width: 0;
  padding: 10px 16px 6px;
  background: var(--paper);
}
.tools {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 14px;
  align-items: center;
}
.tools .el-select {
  width: 168px;
}
.told {
  min-height: 46px;
}
.acts,
.adds,
.colours,
.end {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 12px;
  align-items: center;
  margin-top: 4px;
}
.acts > *,
.end > * {
  margin: 0;
}
.colours span {
  width: 26px;
  height: 26px;
  border: 1px solid var(--rule);
}
.side {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 8px;
  align-content: start;
  overflow-y: auto;
  padding: 12px 16px 0;
  border-left: 1px solid var(--rule);
  background: var(--panel);
}
.end .el-select {
  width: 108px;
}
.end {
  position: sticky;
  bottom: 0;
  z-index: 3;
  padding: 10px 0;
  border-top: 1px solid var(--rule);
  background: var(--panel);
}
@media (max-width: 900px) {
  .BackdropScreen {
    grid-template-columns: 1fr;
    grid-template-rows: minmax(560px, 80vh) auto;
    overflow-y: auto;
  }
}
</style>
