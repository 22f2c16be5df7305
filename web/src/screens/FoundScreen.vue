<script setup lang="ts">
import { ElButton, ElDialog } from "element-plus";
import { watchDebounced } from "@vueuse/core";
import { computed, ref, shallowRef } from "vue";
import { useRouter } from "vue-router";
import client, { ask, type FoundColour, type Proposal, sentence } from "@/api/client";
import FoundBar from "@/parts/site/FoundBar.vue";
import LookFrame from "@/parts/site/LookFrame.vue";
import PalettePreview from "@/parts/site/PalettePreview.vue";
import ShortPalette from "@/parts/site/ShortPalette.vue";
import PlacesPanel from "@/parts/site/PlacesPanel.vue";
import { APART, apartWord } from "@/logic/apart";
import { railOf } from "@/logic/roles";
import { count, sentenceCase, spelled } from "@/logic/words";
import { useSite } from "@/stores/site";
import { useStudy } from "@/stores/study";

/** The colours a site came with, in proportion: the few that would do, what would be merged, and what that does. */
const site = useSite();
const study = useStudy();
const router = useRouter();
const proposal = shallowRef<Proposal | null>(null);
const trouble = ref("");
const isBusy = ref(false);
/** How far apart colours may lie that come under one role; null: the palette as it is. */
const within = ref<number | null>(null);
const step = ref<number>(APART.findIndex((one) => one.within === 1));
const chosen = shallowRef<FoundColour | null>(null);
const isSeen = ref(false);
const labels = computed(() => new Map(Object.entries(proposal.value?.labels ?? {})));
const say = (refusal: unknown) => (trouble.value = sentence(refusal));

watchDebounced(
  () => [study.revision?.base, within.value] as const,
  async ([base]) => {
    if (!base) return;
    isBusy.value = true;
    try {
      const path = { slug: site.slug };
      proposal.value = await ask(
        client.POST("/api/sites/{slug}/proposal/look", { params: { path }, body: { within: within.value } }),
      );
      trouble.value = "";
    } catch (refusal) {
      say(refusal);
    } finally {
      isBusy.value = false;
    }
  },
  { debounce: 120, immediate: true },
);

function slide(event: Event): void {
  step.value = Number((event.target as HTMLInputElement).value);
  within.value = APART[step.value]!.within;
}

const effect = computed(() => {
  const { joining = 0, harder = 0, easier = 0 } = proposal.value ?? {};
  if (!joining) return { joins: "Nothing to merge", reads: "no text changes" };
  const worse = harder
    ? `${count(harder, "text")} ${harder === 1 ? "becomes" : "become"} hard to read`
    : "no text becomes hard to read";
  return {
    joins: `${count(joining, "colour")} ${joining === 1 ? "is" : "are"} merged with others`,
    reads: worse + (easier ? `, ${easier} ${easier === 1 ? "becomes" : "become"} readable` : ""),
  };
});
const heading = computed(() => {
  if (!proposal.value) return "Reading the colours…";
  const { colours, short_roles, short_coats } = proposal.value;
  const sections = short_coats ? `, and ${spelled(short_coats)} for sections` : "";
  return `${count(colours, "colour")} on ${count(site.pages.length, "page")}. ${sentenceCase(spelled(short_roles))} would do${sections}.`;
});
const about = computed(() => {
  if (!proposal.value) return "";
  const share = Math.round(100 * proposal.value.covers);
  return `They cover ${share} % of your text as painted; ${count(proposal.value.details, "detail")} more ${proposal.value.details === 1 ? "is" : "are"} folded away. Choose a colour to see its places.`;
});
const seen = computed(() => proposal.value?.groups.filter((group) => group.is_seen) ?? []);
const unseen = computed(() => proposal.value?.groups.filter((group) => !group.is_seen) ?? []);
const unseenCount = computed(
  () => new Set(unseen.value.flatMap((group) => group.colours.map((one) => one.colour))).size,
);
/** What the short palette is, in the proposal that is looked at. */
const short = computed(() => (within.value === null ? railOf(study.roles, study.coats) : null));

async function take(): Promise<void> {
  if (await study.act({ act: "use-palette", within: within.value, merge: true }))
    await router.push({ name: "palette" });
}
</script>

<template>
  <look-frame :heading="heading" :about="about">
    <p v-if="trouble" class="trouble" role="alert">{{ trouble }}</p>
    <div class="sides" :class="{ open: chosen }">
      <div v-if="proposal" :aria-busy="isBusy">
        <short-palette v-if="short" :rail="short" />
        <found-bar
          v-for="group in seen"
          :key="group.kind"
          :group="group"
          :labels="labels"
          :chosen="chosen"
          @choose="chosen = $event"
        />
        <details v-if="unseen.length" class="files">
          <summary>In the files, on no page ({{ count(unseenCount, "colour") }})</summary>
          <found-bar
            v-for="group in unseen"
            :key="group.kind"
            :group="group"
            :labels="labels"
            :chosen="chosen"
            @choose="chosen = $event"
          />
        </details>
      </div>
      <places-panel v-if="chosen" :colour="chosen" :can-move="within === null" @close="chosen = null" />
    </div>
    <el-dialog
      v-model="isSeen"
      title="This palette on the pages"
      width="92%"
      top="4vh"
      append-to="#dialogs"
      destroy-on-close
    >
      <palette-preview v-if="proposal" :root="proposal.preview" :wear="proposal.wear" />
    </el-dialog>
    <template #foot>
      <label class="slide">
        <span
          >Merge colours that look <b>{{ apartWord(step) }}</b></span
        >
        <input
          type="range"
          min="0"
          :max="APART.length - 1"
          step="1"
          :value="step"
          :aria-valuetext="apartWord(step)"
          aria-label="How similar colours must be to merge"
          @input="slide"
        />
      </label>
      <span class="effect" role="status">
        {{ effect.joins }}, <b>{{ effect.reads }}</b>
      </span>
      <span class="acts">
        <el-button @click="isSeen = true">See it on the pages</el-button>
        <el-button type="primary" @click="take">Use this palette</el-button>
        <el-button @click="router.push({ name: 'palette' })">Keep all {{ proposal?.colours ?? "" }}</el-button>
      </span>
    </template>
  </look-frame>
</template>

<style scoped>
.sides {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 20px;
  align-items: start;
}
.sides.open {
  grid-template-columns: minmax(0, 1fr) 350px;
}
.slide {
  display: grid;
  gap: 2px;
}
.slide input {
  width: 240px;
  accent-color: var(--ink);
}
.trouble {
  margin-bottom: 12px;
  font-weight: 700;
}
.files {
  margin-top: 14px;
  padding-top: 8px;
  border-top: 1px solid var(--rule);
}
.files summary {
  margin-bottom: 8px;
  cursor: pointer;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
.acts > * {
  margin: 0;
}
@media (max-width: 900px) {
  .sides.open {
    grid-template-columns: 1fr;
  }
}
</style>
