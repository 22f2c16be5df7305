<script setup lang="ts">
import { ElButton, ElDialog } from "element-plus";
import { watchDebounced } from "@vueuse/core";
import { computed, ref, shallowRef } from "vue";
import { useRouter } from "vue-router";
import client, { ask, type FoundColour, type Proposal } from "@/api/client";
import FoundBar from "@/parts/FoundBar.vue";
import LookFrame from "@/parts/LookFrame.vue";
import PalettePreview from "@/parts/PalettePreview.vue";
import PlacesPanel from "@/parts/PlacesPanel.vue";
import { APART, apartWord } from "@/logic/apart";
import { count } from "@/logic/words";
import { useBench } from "@/stores/bench";

/** The colours a site came with, in proportion, what would become one, and what taking that does. */
const bench = useBench();
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
const say = (refusal: unknown) => (trouble.value = refusal instanceof Error ? refusal.message : String(refusal));

watchDebounced(
  () => [bench.revision?.number, within.value] as const,
  async ([number]) => {
    if (number === undefined) return;
    isBusy.value = true;
    try {
      const path = { slug: bench.slug };
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
  if (!joining) return { joins: "No colour joins another", reads: "nothing would shift" };
  const worse = harder
    ? `${count(harder, "text")} ${harder === 1 ? "gets" : "get"} hard to read`
    : "no text gets harder to read";
  return {
    joins: `${count(joining, "colour")} ${joining === 1 ? "joins" : "join"} others`,
    reads: worse + (easier ? ` · ${easier} get easier` : ""),
  };
});
const heading = computed(() => {
  if (!proposal.value) return "Laying out the colours…";
  return `${count(proposal.value.colours, "colour")} found on ${count(bench.pages.length, "page")}. ${proposal.value.roles} would do.`;
});

async function take(): Promise<void> {
  if (await bench.takeProposal(within.value, true)) await router.push({ name: "palette" });
}
</script>

<template>
  <look-frame
    :heading="heading"
    about="Each bar is what the site shows, in proportion. Brackets: what would become one colour. Choose a colour to see its places."
  >
    <p v-if="trouble" class="trouble" role="alert">{{ trouble }}</p>
    <div class="sides" :class="{ open: chosen }">
      <div v-if="proposal" :aria-busy="isBusy">
        <found-bar
          v-for="group in proposal.groups"
          :key="group.kind"
          :group="group"
          :labels="labels"
          :chosen="chosen"
          @choose="chosen = $event"
        />
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
          >Treat as one: <b>{{ apartWord(step) }}</b></span
        >
        <input
          type="range"
          min="0"
          :max="APART.length - 1"
          step="1"
          :value="step"
          :aria-valuetext="apartWord(step)"
          aria-label="How different colours may be that are treated as one"
          @input="slide"
        />
      </label>
      <span class="effect" role="status">
        {{ effect.joins }} · <b>{{ effect.reads }}</b>
      </span>
      <span class="acts">
        <el-button @click="isSeen = true">See it on the pages</el-button>
        <el-button type="primary" @click="take">Take this palette</el-button>
        <el-button @click="router.push({ name: 'palette' })">Keep each colour</el-button>
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
