<script setup lang="ts">
import { ElDropdown, ElDropdownItem, ElDropdownMenu, ElInput, ElOption, ElSelect } from "element-plus";
import { computed, ref, watch } from "vue";
import { RouterLink } from "vue-router";
import ReadMark from "@/parts/common/ReadMark.vue";
import TextPlace from "@/parts/reading/TextPlace.vue";
import { type Form, type Row, useTextList } from "@/composables/useTextList";
import { count, placeOfState, screensText, sentenceCase, statesText } from "@/logic/words";
import { useSite } from "@/stores/site";
import { STATES } from "@/stores/view";

/** Every text, told by its worst: filtered, sorted, copied; the one in hand is shown on its page beside. */
const site = useSite();
const { wanted, found, rows, isBusy, trouble, areMore, more, again, fileAt, copy } = useTextList();
const KINDS = { text: "Text", heading: "Heading", link: "Link", control: "Button or field", icon: "Icon" } as const;
const VERDICTS = { fail: "Hard to read", unsure: "Not judged yet", pass: "Readable", exempt: "Exempt" } as const;
/** Below this contrast words cannot be made out: they are said again in ours. */
const LOST = 2.2;
const chosen = ref<Row | null>(null);
watch(rows, (now, before) => {
  if (now[0] !== before[0]) chosen.value = now[0] ?? null;
});
const FILTERS = ["page", "section", "part", "state", "width", "is_large", "kind", "verdict"] as const;
const isFiltered = computed(() => !!wanted.words || FILTERS.some((name) => wanted[name] !== undefined));
function clear(): void {
  wanted.words = "";
  Object.assign(wanted, Object.fromEntries(FILTERS.map((name) => [name, undefined])));
}
const COLUMNS = [
  { by: "words", label: "Text" },
  { by: "ratio", label: "Contrast" },
  { by: "place", label: "Where" },
  { by: "size", label: "Size" },
] as const;
function sort(by: (typeof COLUMNS)[number]["by"]): void {
  const isSame = wanted.by === by;
  if (isSame && wanted.is_backwards) Object.assign(wanted, { by: "worst", is_backwards: false });
  else Object.assign(wanted, { is_backwards: isSame, by });
}
const sorted = (by: string) =>
  wanted.by === by ? (wanted.is_backwards ? "descending" : "ascending") : ("none" as const);
const background = (row: Row) => (row.spread ? `linear-gradient(90deg, ${row.spread.join(", ")})` : row.background);
const place = (row: Row) => [site.names.get(row.page) ?? row.page, row.section, row.part].filter(Boolean).join(" · ");
const when = (row: Row) => [screensText(row.widths), statesText(row.states)].filter(Boolean).join(", ");
const goTo = (row: Row) => ({
  name: "close-up",
  query: {
    page: row.page,
    at: row.path,
    width: String(Math.max(...row.widths)),
    ...placeOfState(row.states.includes("rest") ? "rest" : (row.states[0] ?? "rest"), row.opened),
  },
});
const said = ref("");
const FORMS: Record<Form, string> = { table: "a table", csv: "CSV", json: "JSON" };
async function take(what: string): Promise<void> {
  const [way, form] = what.split(" ") as ["copy" | "save", Form];
  if (way === "save") {
    const link = document.createElement("a");
    link.href = fileAt(form);
    link.download = "";
    link.click();
    return;
  }
  said.value = (await copy(form))
    ? `${count(found.value?.total ?? 0, "text")} copied as ${FORMS[form]}.`
    : "Your browser does not allow copying here. Save the file instead.";
}
</script>

<template>
  <section class="TextList" aria-label="The list of texts">
    <form class="filters" role="search" aria-label="Which texts" @submit.prevent>
      <el-input v-model="wanted.words" size="small" clearable placeholder="Find text" aria-label="Find text" />
      <el-select
        v-model="wanted.verdict"
        size="small"
        clearable
        placeholder="Any verdict"
        aria-label="Verdict"
        append-to="#dialogs"
      >
        <el-option
          v-for="(label, name) in VERDICTS"
          :key="name"
          :value="name"
          :label="`${label} (${found?.counts[name] ?? 0})`"
        />
      </el-select>
      <el-select
        v-model="wanted.page"
        size="small"
        clearable
        filterable
        placeholder="All pages"
        aria-label="Page"
        append-to="#dialogs"
      >
        <el-option
          v-for="one in site.pages"
          :key="one.path"
          :value="one.path"
          :label="site.names.get(one.path) ?? one.name"
        />
      </el-select>
      <el-select
        v-model="wanted.section"
        size="small"
        clearable
        filterable
        placeholder="All sections"
        aria-label="Section"
        append-to="#dialogs"
      >
        <el-option v-for="one in found?.sections" :key="one.key" :value="one.key" :label="one.label" />
      </el-select>
      <el-select
        v-model="wanted.part"
        size="small"
        clearable
        filterable
        placeholder="All parts"
        aria-label="Part"
        append-to="#dialogs"
      >
        <el-option v-for="one in found?.parts" :key="one.key" :value="one.key" :label="one.label" />
      </el-select>
      <el-select
        v-model="wanted.kind"
        size="small"
        clearable
        placeholder="All kinds"
        aria-label="Kind"
        append-to="#dialogs"
      >
        <el-option v-for="(label, name) in KINDS" :key="name" :value="name" :label="label" />
      </el-select>
      <el-select
        v-model="wanted.state"
        size="small"
        clearable
        placeholder="All states"
        aria-label="State"
        append-to="#dialogs"
      >
        <el-option v-for="(label, name) in STATES" :key="name" :value="name" :label="label" />
        <el-option
          v-for="{ label } in site.site?.opened ?? []"
          :key="label"
          :value="`opened: ${label}`"
          :label="`opened: ${label}`"
        />
      </el-select>
      <el-select
        v-model="wanted.width"
        size="small"
        clearable
        placeholder="All widths"
        aria-label="Width"
        append-to="#dialogs"
      >
        <el-option v-for="one in found?.widths" :key="one" :value="one" :label="`${one} px wide`" />
      </el-select>
      <el-select
        v-model="wanted.is_large"
        size="small"
        clearable
        placeholder="All sizes"
        aria-label="Size"
        append-to="#dialogs"
      >
        <el-option :value="true" label="Large text" />
        <el-option :value="false" label="Normal text" />
      </el-select>
    </form>
    <p class="told">
      <span v-if="found" role="status">{{ count(found.total, "text") }}</span>
      <button v-if="isFiltered" type="button" class="act" @click="clear">Show all</button>
      <span class="gap" />
      <span class="soft" role="status">{{ said }}</span>
      <el-dropdown trigger="click" @command="take">
        <button type="button" class="act">Copy or save…</button>
        <template #dropdown>
          <el-dropdown-menu>
            <el-dropdown-item v-for="(label, form) in FORMS" :key="form" :command="`copy ${form}`"
              >Copy as {{ label }}</el-dropdown-item
            >
            <el-dropdown-item command="save csv" divided>Save as CSV</el-dropdown-item>
            <el-dropdown-item command="save json">Save as JSON</el-dropdown-item>
          </el-dropdown-menu>
        </template>
      </el-dropdown>
    </p>
    <p v-if="trouble" role="alert">
      {{ trouble }} <button type="button" class="act" @click="again()">Try again</button>
    </p>
    <p v-else-if="!found" class="soft" role="status">Reading every text…</p>
    <p v-else-if="!found.total" class="soft">
      No text matches. <button type="button" class="act" @click="clear">Show all</button>
    </p>
    <div v-else class="both">
      <table :aria-busy="isBusy">
        <thead>
          <tr>
            <th v-for="one in COLUMNS" :key="one.by" scope="col" :aria-sort="sorted(one.by)">
              <button type="button" @click="sort(one.by)">
                {{ one.label }}
                <span aria-hidden="true">{{ { ascending: "↑", descending: "↓", none: "" }[sorted(one.by)] }}</span>
              </button>
            </th>
          </tr>
        </thead>
        <tbody>
          <tr
            v-for="row in rows"
            :key="`${row.page} ${row.path}`"
            :class="{ chosen: row === chosen }"
            @mouseenter="chosen = row"
            @focusin="chosen = row"
          >
            <td>
              <router-link
                :to="goTo(row)"
                class="sample"
                :style="{ color: row.colour, background: background(row) }"
                :aria-label="`“${row.text}”: close up`"
                data-specimen
                >{{ row.text }}</router-link
              >
              <span v-if="(row.ratio ?? 21) < LOST" class="words" aria-hidden="true">{{ row.text }}</span>
            </td>
            <td class="ratio">
              <read-mark :verdict="row.verdict" :ratio="row.ratio" tagged />
              <span v-if="row.verdict === 'fail'" class="soft">needs {{ row.required }}</span>
            </td>
            <td>
              {{ place(row) }}
              <span class="soft">{{
                [row.kind === "text" ? "" : KINDS[row.kind].toLowerCase(), when(row)].filter(Boolean).join(", ")
              }}</span>
              <span v-if="row.verdict === 'unsure'" class="soft">{{ sentenceCase(row.why) }}.</span>
            </td>
            <td class="size">
              {{ Math.round(row.size_px * 10) / 10 }} px<template v-if="row.weight >= 600">, bold</template>
            </td>
          </tr>
        </tbody>
      </table>
      <aside v-if="chosen" class="place" aria-label="Where it is">
        <text-place :row="chosen" />
        <p class="caption">
          <b>{{ site.names.get(chosen.page) ?? chosen.page }}</b>
          <router-link class="act" :to="goTo(chosen)">Close up</router-link>
        </p>
      </aside>
    </div>
    <button v-if="areMore" type="button" class="act more" :disabled="isBusy" @click="more">
      Show more ({{ ((found?.total ?? 0) - rows.length).toLocaleString("en-GB") }})
    </button>
  </section>
</template>

<style scoped>
.filters {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(118px, 1fr));
  gap: 6px 8px;
}
.told {
  display: flex;
  gap: 12px;
  align-items: baseline;
  padding: 8px 0;
}
.gap {
  flex: 1;
}
.both {
  display: grid;
  grid-template-columns: 1fr 320px;
  gap: 18px;
  align-items: start;
}
table {
  width: 100%;
  border-collapse: collapse;
  table-layout: fixed;
}
th {
  padding: 0;
  text-align: left;
}
th:nth-child(1) {
  width: 38%;
}
th:nth-child(2) {
  width: 116px;
}
th:nth-child(4) {
  width: 96px;
}
th button {
  padding: 4px 0;
  border: 0;
  background: none;
  font-weight: 700;
  cursor: pointer;
}
td {
  padding: 5px 10px 5px 0;
  border-top: 1px solid var(--rule);
  line-height: 1.3;
  overflow-wrap: anywhere;
  vertical-align: top;
}
td .soft {
  display: block;
}
tr.chosen td {
  background: var(--panel);
}
.sample {
  display: inline-block;
  max-width: 100%;
  overflow: hidden;
  padding: 3px 8px;
  box-shadow: 0 0 0 1px #0002;
  text-decoration: none;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.sample:focus-visible {
  box-shadow: var(--focus);
}
.words {
  display: block;
  overflow: hidden;
  padding: 1px 8px;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.place {
  position: sticky;
  top: 0;
}
.caption {
  display: flex;
  gap: 8px;
  justify-content: space-between;
  padding-top: 4px;
}
.more {
  margin-top: 12px;
}
@media (max-width: 900px) {
  .both {
    grid-template-columns: 1fr;
  }
  .place {
    display: none;
  }
}
@media (max-width: 700px) {
  th:nth-child(4),
  .size {
    display: none;
  }
}
</style>
