<script setup lang="ts">
import { watchDebounced } from "@vueuse/core";
import { computed, ref, shallowRef } from "vue";
import client, { ask, type Finding, type Offer } from "@/api/client";
import FindingCard from "@/parts/FindingCard.vue";
import MendAll from "@/parts/MendAll.vue";
import { count } from "@/logic/words";
import { useBench } from "@/stores/bench";

/** What is hard to read under the colours shown, the worst first. */
const emit = defineEmits<{ open: [role: string] }>();
const bench = useBench();
const FIRST = 24;
const isLong = ref(false);
const hard = computed(() => bench.reading?.findings.filter((finding) => finding.verdict === "fail") ?? []);
const unsure = computed(() => bench.reading?.findings.filter((finding) => finding.verdict === "unsure") ?? []);
const shown = computed(() => (isLong.value ? hard.value : hard.value.slice(0, FIRST)));

const offers = shallowRef(new Map<string, Offer[]>());
const key = (words: string | null, ground: string | null) => `${words}|${ground}`;
// offers belong to a saved revision; while the hand moves the old ones would mislead
const isMoving = computed(() => Object.keys(bench.draft).length > 0);

watchDebounced(
  () => [bench.revision?.number, bench.slug, isLong.value] as const,
  async ([, slug]) => {
    if (!slug || !hard.value.length) return void (offers.value = new Map());
    try {
      const query = { most: isLong.value ? 100 : FIRST };
      const found = await ask(client.GET("/api/sites/{slug}/offers", { params: { path: { slug }, query } }));
      const gathered = new Map<string, Offer[]>();
      for (const one of found) {
        const place = key(one.words, one.ground);
        gathered.set(place, [...(gathered.get(place) ?? []), one]);
      }
      offers.value = gathered;
    } catch {
      offers.value = new Map();
    }
  },
  { debounce: 80, immediate: true },
);

const aim = (event: Event) =>
  bench.changeRole({ what: "aim", aim: (event.target as HTMLSelectElement).value as "AA" | "AAA" });

const offersOf = ({ words, ground }: Finding) =>
  isMoving.value ? undefined : offers.value.get(key(words.role, ground.role));
</script>

<template>
  <aside class="HardToRead" aria-labelledby="hard-to-read">
    <header>
      <h2 id="hard-to-read">Hard to read</h2>
      <label class="soft" title="4.5 to 1, and 3 for large text; AAA asks for 7, and 4.5">
        by
        <select :value="bench.revision?.level" aria-label="How well all is to read" @change="aim">
          <option>AA</option>
          <option>AAA</option>
        </select>
      </label>
    </header>
    <mend-all v-if="hard.length || Object.keys(bench.draft).length" />
    <p v-if="bench.reading && !hard.length" class="calm">
      <b>Everything reads.</b> {{ count(bench.reading.texts, "text") }} on {{ count(bench.pages.length, "page") }}, in
      every state.
    </p>
    <ul>
      <finding-card
        v-for="finding in shown"
        :key="`${finding.words.role}${finding.words.colour}|${finding.ground.role}${finding.ground.colour}|${finding.sample}`"
        :finding="finding"
        :offers="offersOf(finding)"
        @use="(role, colour) => bench.save({ [role]: colour })"
        @open="emit('open', $event)"
      />
    </ul>
    <button v-if="hard.length > FIRST && !isLong" type="button" class="act" @click="isLong = true">
      Show all {{ hard.length }}
    </button>
    <details v-if="unsure.length">
      <summary>Cannot be told ({{ unsure.length }})</summary>
      <ul>
        <finding-card v-for="(finding, place) in unsure" :key="place" :finding="finding" @open="emit('open', $event)" />
      </ul>
    </details>
  </aside>
</template>

<style scoped>
.HardToRead {
  contain: content; /* what is read anew while a hand drags lays out nothing else */
  overflow-y: auto;
  padding: 12px 14px;
  border-left: 1px solid var(--rule);
  background: var(--panel);
  scrollbar-width: thin;
}
header {
  display: flex;
  align-items: baseline;
  justify-content: space-between;
}
h2 {
  margin-bottom: 8px;
}
ul {
  margin: 0;
  padding: 0;
  list-style: none;
}
.calm {
  padding: 9px 0;
  border-top: 1px solid var(--rule);
}
details {
  padding: 9px 0;
  border-top: 1px solid var(--rule);
}
summary {
  cursor: pointer;
  font-weight: 700;
}
</style>
