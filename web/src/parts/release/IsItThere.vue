<script setup lang="ts">
import { ElButton, ElDialog, ElInput, ElRadio, ElRadioGroup } from "element-plus";
import { computed } from "vue";
import type { Schemas } from "@/api/client";
import { useArrived } from "@/composables/useArrived";
import { agoText, count, dateText } from "@/logic/words";
import { useSite } from "@/stores/site";

/** Whether what was downloaded has arrived on the owner's own host, page by page, and what to do where it has not. */
const isOpen = defineModel<boolean>({ required: true });
defineProps<{ downloaded: Schemas["DownloadOut"] | null }>();
const site = useSite();
const { address: where, against, found, all, isLooking, trouble, look, stop } = useArrived();
const nameOf = (path: string) => site.names.get(path) ?? path;
type Page = Schemas["PageFoundOut"];

const arrived = computed(() => found.value.filter((one) => one.state === "arrived"));

/** The stylesheets and pictures that are not as they should be, each with the pages that need it. */
const sheets = computed(() => {
  const needed = new Map<string, { path: string; state: string; pages: string[] }>();
  for (const page of found.value)
    for (const one of page.sheets) {
      const known = needed.get(one.path) ?? { path: one.path, state: one.state, pages: [] };
      known.pages.push(nameOf(page.path));
      needed.set(one.path, known);
    }
  return [...needed.values()];
});
/** The pages that are themselves not as they should be; others wait for what lies in `sheets` only. */
const pages = computed(() =>
  found.value.filter((one) => one.state !== "arrived" && (one.file !== "new" || !one.sheets.length)),
);

const OF_FILE: Record<string, string> = {
  missing: "Not there. Upload it.",
  old: "Still the old one. Upload the new one.",
  held: "The new one is there, but a cache still gives out the old one. Empty the cache at your host, or wait.",
  other: "Not the one you downloaded. Upload it again.",
};
function words(one: Page): string {
  if (one.file === "missing") return `Not there. ${one.why}`;
  const held = one.file === "held" && one.held_seconds ? ` It has had it for ${agoText(one.held_seconds)}.` : "";
  const shows =
    one.file === "other" && one.right < one.texts ? ` ${one.right} of ${count(one.texts, "text")} look right.` : "";
  return (OF_FILE[one.file] ?? "The page is there, but not all of its texts look right.") + held + shows;
}
const ofSheet = (state: string) => OF_FILE[state] ?? "";
const someText = (names: string[]) =>
  names.length > 4 ? `${names.slice(0, 3).join(", ")} and ${count(names.length - 3, "more page")}` : names.join(", ");
</script>

<template>
  <el-dialog v-model="isOpen" title="Is it there?" width="680" top="8vh" append-to="#dialogs">
    <form class="ask" @submit.prevent="look">
      <label>
        <span>Where your site is on the web</span>
        <el-input v-model="where" placeholder="https://your-site.example" :disabled="isLooking" />
      </label>
      <el-button v-if="isLooking" @click="stop">Stop</el-button>
      <el-button v-else type="primary" native-type="submit" :disabled="!where.trim()">Look</el-button>
    </form>
    <el-radio-group
      v-if="downloaded && !downloaded.is_open"
      v-model="against"
      :disabled="isLooking"
      aria-label="What the pages are held against"
    >
      <el-radio value="downloaded">What I downloaded ({{ dateText(downloaded.made) }})</el-radio>
      <el-radio value="open">This study as it is now</el-radio>
    </el-radio-group>
    <p v-if="trouble" role="alert">
      <b>{{ trouble }}</b>
    </p>
    <p class="tally" role="status">
      <template v-if="isLooking">Looked at {{ found.length }} of {{ count(all, "page") }}…</template>
      <template v-else-if="found.length">
        <b>{{ arrived.length }} of {{ count(found.length, "page") }}</b>
        {{ arrived.length === 1 ? "has" : "have" }} arrived in the colours of
        {{ downloaded && !downloaded.is_open && against === "downloaded" ? "what you downloaded" : "this study" }}.
      </template>
      <span v-else class="soft">Glaucon asks your host for each page, one after the other, as a visitor would.</span>
    </p>
    <ul v-if="sheets.length + pages.length">
      <li v-for="one in sheets" :key="one.path">
        <b>{{ one.path }}</b> <span class="soft">needed by {{ someText(one.pages) }}</span>
        <p>{{ ofSheet(one.state) }}</p>
      </li>
      <li v-for="one in pages" :key="one.path">
        <b>{{ nameOf(one.path) }}</b> <span class="soft">{{ one.path }}</span>
        <p>{{ words(one) }}</p>
      </li>
    </ul>
    <details v-if="arrived.length">
      <summary>{{ count(arrived.length, "page") }} arrived</summary>
      <p v-for="one in arrived" :key="one.path">
        {{ nameOf(one.path) }}
        <span class="soft">{{ one.right }} of {{ count(one.texts, "text") }} right</span>
      </p>
    </details>
  </el-dialog>
</template>

<style scoped>
.ask {
  display: flex;
  gap: 10px;
  align-items: end;
}
.ask label {
  flex: 1;
}
.ask span {
  display: block;
  margin-bottom: 3px;
}
.tally {
  margin: 14px 0 8px;
}
ul {
  max-height: 44vh;
  overflow-y: auto;
  margin: 0;
  padding: 0;
  list-style: none;
}
li {
  padding: 8px 0;
  border-top: 1px solid var(--rule);
}
li p,
details p {
  margin: 2px 0 0;
}
summary {
  cursor: pointer;
}
</style>
