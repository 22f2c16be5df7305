<script setup lang="ts">
import { computed } from "vue";
import type { Finding, Offer } from "@/api/client";
import ReadMark from "@/parts/ReadMark.vue";
import { count, statesText } from "@/logic/words";

/** One pairing that is hard to read, in the site's own words, with the colour that would mend it. */
const props = defineProps<{ finding: Finding; offers?: Offer[] }>();
const emit = defineEmits<{ use: [role: string, colour: string]; open: [role: string] }>();

const name = (side: Finding["words"]) => side.label || side.colour || "something not read";
const title = computed(() => `${name(props.finding.words)} on ${name(props.finding.ground)}`);
const where = computed(() => {
  const parts = [count(props.finding.places, "place"), count(props.finding.pages.length, "page")];
  const states = statesText(props.finding.states);
  return states ? [...parts, states].join(", ") : parts.join(", ");
});
const ways = computed(() =>
  (props.offers ?? []).map((offer) => {
    const forWords = offer.role === props.finding.words.role;
    return {
      ...offer,
      what: forWords ? "Nearest words" : "Nearest ground",
      chip: {
        color: forWords ? offer.colour : props.finding.words.colour,
        background: forWords ? props.finding.ground.colour : offer.colour,
      },
    };
  }),
);
/** Ratio that is enough for text of 24 px, or bold of 18.66 px (WCAG 2.2, 1.4.3). */
const isEnoughIfLarge = computed(
  () => props.finding.verdict === "fail" && (props.finding.ratio ?? 0) >= 3 && (props.finding.required ?? 0) > 3,
);
</script>

<template>
  <li class="FindingCard">
    <p
      v-if="finding.words.colour && finding.ground.colour"
      class="sample"
      :style="{ color: finding.words.colour, background: finding.ground.colour }"
      data-specimen
    >
      {{ finding.sample }}
    </p>
    <p v-else class="sample plain">{{ finding.sample }}</p>
    <p>
      <read-mark :verdict="finding.verdict" :ratio="finding.ratio" tagged />
      <button
        v-if="finding.words.role || finding.ground.role"
        type="button"
        class="title"
        @click="emit('open', (finding.words.role ?? finding.ground.role)!)"
      >
        {{ title }}
      </button>
      <b v-else class="title">{{ title }}</b>
    </p>
    <p class="soft">{{ where }}</p>
    <p v-if="finding.verdict === 'unsure'" class="soft">{{ finding.why[0]?.toUpperCase() + finding.why.slice(1) }}.</p>
    <template v-else>
      <template v-for="way in ways" :key="way.role">
        <p>
          {{ way.what }}
          <span class="chip" :style="way.chip" data-specimen>Aa</span>
          <button
            type="button"
            class="act"
            :aria-label="`use it: ${way.colour} for ${title}`"
            @click="emit('use', way.role, way.colour)"
          >
            use it
          </button>
          <span class="soft"> mends {{ count(way.mended, "text") }}</span>
        </p>
        <p v-if="way.left" class="soft">it leaves {{ count(way.left, "place") }} of these as they are</p>
        <p v-if="way.harmed" class="soft">{{ count(way.harmed, "other place") }} would become hard to read</p>
      </template>
      <p v-if="isEnoughIfLarge" class="soft">Enough as it is at 24 px, or bold at 18.66 px.</p>
    </template>
  </li>
</template>

<style scoped>
.FindingCard {
  padding: 9px 0 10px;
  border-top: 1px solid var(--rule);
  font-size: 13px;
}
.FindingCard > p + p {
  margin-top: 3px;
}
.sample {
  overflow: hidden;
  padding: 5px 9px;
  font-size: 14px;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.plain {
  border: 1px dashed var(--edge);
}
.title {
  padding: 0;
  border: 0;
  margin-left: 6px;
  background: none;
  display: inline;
  font-weight: 700;
  text-align: left;
}
button.title {
  cursor: pointer;
}
button.title:hover {
  text-decoration: underline;
}
.chip {
  margin: 0 4px;
  padding: 0 6px;
  border: 1px solid var(--rule);
  font-weight: 600;
}
</style>
