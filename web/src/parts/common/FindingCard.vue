<script setup lang="ts">
import { computed } from "vue";
import { RouterLink } from "vue-router";
import type { Finding, Offers, Schemas } from "@/api/client";
import WorstSpot from "@/parts/common/WorstSpot.vue";
import ReadMark from "@/parts/common/ReadMark.vue";
import { count, sentenceCase, whereText } from "@/logic/words";
import { useSite } from "@/stores/site";

/** One colour pair that is hard to read, in the site's own text, with what would fix it or why nothing does. */
const props = defineProps<{ finding: Finding; found?: Offers; isAsked?: boolean }>();
const emit = defineEmits<{
  use: [role: string, colour: string];
  fade: [selector: string, opacity: number];
  here: [here: Schemas["PlaceOffer"]];
  open: [role: string];
}>();

const name = (side: Finding["text"], on = "") =>
  (on !== "picture" && side.label) || (on && `a ${on}`) || side.colour.toUpperCase() || "something not read";
const title = computed(
  () =>
    `${name(props.finding.text)} on ${name(props.finding.background, props.finding.on)}` +
    (props.finding.where ? `, in ${props.finding.where}` : ""),
);
const site = useSite();
const seen = computed(() => {
  const { page, path, section, width, state, opened } = props.finding.seen;
  return {
    place: [site.names.get(page) ?? page, section].filter(Boolean).join(" · "),
    to: { name: "close-up", query: { page, at: path, width: String(width), state, opened } },
  };
});
const where = computed(() => whereText(props.finding));
const does = (offer: { fixes: number; breaks: number; harder: number }) =>
  [
    `fixes ${offer.fixes}`,
    offer.breaks && `breaks ${count(offer.breaks, "other text")}`,
    offer.harder && `makes ${offer.harder} harder`,
  ]
    .filter(Boolean)
    .join(", ");
const ways = computed(() =>
  (props.found?.offers ?? []).map((offer) => ({
    ...offer,
    chip: {
      color: offer.is_text ? offer.colour : props.finding.text.colour,
      background: offer.is_text ? props.finding.background.colour : offer.colour,
    },
    does: does(offer),
  })),
);
/** The change in the finding's own place alone. */
const here = computed(() => {
  const one = props.found?.here;
  if (!one) return null;
  const place = one.where.page === one.place ? "this page" : one.place;
  return { ...one, place, does: does(one) };
});
/** Ratio that is enough for text of 24 px, or bold of 18.66 px (WCAG 2.2, 1.4.3). */
const isEnoughIfLarge = computed(
  () => props.finding.verdict === "fail" && (props.finding.ratio ?? 0) >= 3 && (props.finding.required ?? 0) > 3,
);
const faded = computed(() => (props.finding.faded === null ? null : Math.round(props.finding.faded * 100)));
</script>

<template>
  <li class="FindingCard">
    <component :is="finding.on ? WorstSpot : 'div'" :of="finding.on ? finding.key : undefined">
      <p
        v-if="finding.text.colour && finding.background.colour"
        class="sample"
        :style="{ color: finding.text.colour, background: finding.background.colour }"
        data-specimen
      >
        {{ finding.sample }}
      </p>
      <p v-else class="sample plain">{{ finding.sample }}</p>
    </component>
    <p class="pair">
      <read-mark :verdict="finding.verdict" :ratio="finding.ratio" tagged />
      <button
        v-if="finding.text.role || finding.background.role"
        type="button"
        class="title"
        @click="emit('open', (finding.text.role ?? finding.background.role)!)"
      >
        {{ title }}
      </button>
      <b v-else class="title">{{ title }}</b>
    </p>
    <p class="soft">
      {{ seen.place }}<template v-if="where">, {{ where }}</template>
      <router-link class="act show" :to="seen.to" :aria-label="`Show it: “${finding.sample}” on its page`"
        >Show it</router-link
      >
    </p>
    <p v-if="finding.own" class="soft">
      Your own CSS sets the {{ finding.own === "both" ? "text and the background" : finding.own }} here, not the
      palette.
      <router-link class="act" :to="{ name: 'close-up', query: { page: finding.pages[0], css: '' } }"
        >Change it there</router-link
      >
    </p>
    <p v-if="finding.verdict === 'unsure'" class="soft">{{ sentenceCase(finding.why) }}.</p>
    <template v-else>
      <p v-if="faded !== null" class="soft">The page fades this text to {{ faded }} %.</p>
      <p v-for="fading in found?.fadings" :key="fading.selector">
        Fade <code>{{ fading.selector }}</code> to {{ Math.round(fading.opacity * 100) }} % only
        <button
          type="button"
          class="act"
          :aria-label="`Fade ${fading.selector} to ${Math.round(fading.opacity * 100)} % only`"
          @click="emit('fade', fading.selector, fading.opacity)"
        >
          apply
        </button>
        <span class="soft"> · fixes {{ fading.fixes }}</span>
      </p>
      <template v-for="way in ways" :key="way.role">
        <p>
          Change the {{ way.is_text ? "text" : "background" }} to
          <span class="chip" :style="way.chip" data-specimen>Aa</span>
          <button
            type="button"
            class="act"
            :aria-label="`Apply ${way.colour} to ${way.label}`"
            @click="emit('use', way.role, way.colour)"
          >
            apply
          </button>
          <span class="soft"> · {{ way.does }}</span>
        </p>
        <p v-if="way.left" class="soft">
          {{ count(way.left, "text") }} {{ way.left === 1 ? "stays" : "stay" }} hard to read
        </p>
      </template>
      <template v-if="here">
        <p>
          Only in {{ here.place }}: change the text to
          <span class="chip" :style="{ color: here.colour, background: finding.background.colour }" data-specimen
            >Aa</span
          >
          <button
            type="button"
            class="act"
            :aria-label="`Apply ${here.colour} in ${here.place} only`"
            @click="emit('here', here)"
          >
            apply
          </button>
          <span class="soft"> · {{ here.does }}</span>
        </p>
        <p v-if="here.left" class="soft">
          {{ count(here.left, "text") }} {{ here.left === 1 ? "stays" : "stay" }} hard to read
        </p>
      </template>
      <p v-if="found?.veil">
        <router-link
          class="act"
          :to="{
            name: 'backdrop',
            query: { section: found.veil.section, on: found.veil.page, name: found.veil.label, veil: 'least' },
          }"
          >Lay a veil over “{{ found.veil.label }}”…</router-link
        >
      </p>
      <p v-if="found?.reason" class="soft">{{ found.reason }}</p>
      <p v-else-if="isAsked && !found" class="soft">Looking for a fix…</p>
      <p v-if="isEnoughIfLarge" class="soft">Or make it larger: 24 px, or bold from 19 px, is enough.</p>
    </template>
  </li>
</template>

<style scoped>
.FindingCard {
  padding: 9px 0 10px;
  border-top: 1px solid var(--rule);
  font-size: 13px;
}
.FindingCard > * + p {
  margin-top: 3px;
}
.sample {
  overflow: hidden;
  padding: 5px 9px;
  font-size: 14px;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.show {
  margin-left: 6px;
}
.plain {
  border: 1px dashed var(--edge);
}
.pair {
  display: flex;
  gap: 7px;
  align-items: baseline;
}
.title {
  padding: 0;
  border: 0;
  background: none;
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
