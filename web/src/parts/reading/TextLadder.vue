<script setup lang="ts">
import { useElementSize } from "@vueuse/core";
import { computed, reactive, useTemplateRef } from "vue";
import LadderLane from "@/parts/reading/LadderLane.vue";
import { useLadder } from "@/composables/useLadder";
import { shareOf, TICKS } from "@/logic/ladder";
import { count } from "@/logic/words";
import { useStudy } from "@/stores/study";

/** Every background a lane, its texts standing at their contrast; many lanes are folded by section. */
const study = useStudy();
const { ladder, lanes, trouble, read } = useLadder();
const MOST_OPEN = 40;
const NEEDS = { AA: { normal: 4.5, large: 3 }, AAA: { normal: 7, large: 4.5 } };
const scale = useTemplateRef<HTMLElement>("scale");
const { width: track } = useElementSize(scale);
const needs = computed(() => NEEDS[study.revision?.aim ?? "AA"]);
const folded = computed(() => {
  if (lanes.value.length <= MOST_OPEN) return null;
  const found = new Map<string, typeof lanes.value>();
  for (const one of lanes.value) {
    const section = one.lane.section || "The rest";
    found.set(section, [...(found.get(section) ?? []), one]);
  }
  let open = 0;
  return [...found].map(([section, some]) => {
    const standing = some.flatMap((one) => one.standing);
    const hard = standing.filter(({ verdict }) => verdict === "fail").length;
    if (hard) open += some.length;
    return { section, some, standing, hard, isOpen: byHand.get(section) ?? (hard > 0 && open <= MOST_OPEN) };
  });
});
/** Sections that were opened or closed by hand. */
const byHand = reactive(new Map<string, boolean>());
const pairs = computed(() => lanes.value.reduce((sum, { standing }) => sum + standing.length, 0));
</script>

<template>
  <section class="TextLadder" aria-label="The ladder">
    <p v-if="trouble" role="alert">{{ trouble }} <button type="button" class="act" @click="read">Try again</button></p>
    <p v-else-if="!ladder" class="soft" role="status">Reading every text…</p>
    <div class="head" aria-hidden="true">
      <span class="soft">Contrast</span>
      <div ref="scale" class="scale">
        <span
          v-for="tick in TICKS"
          :key="tick"
          :class="{ needed: tick === needs.normal || tick === needs.large }"
          :style="{ left: `${shareOf(tick) * 100}%` }"
          >{{ tick }}</span
        >
      </div>
    </div>
    <template v-if="ladder && track">
      <ul v-if="!folded">
        <ladder-lane v-for="one in lanes" :key="one.lane.key" v-bind="one" :track="track" :needs="needs" />
      </ul>
      <details
        v-for="{ section, some, standing, hard, isOpen } in folded"
        :key="section"
        :open="isOpen"
        @toggle="byHand.set(section, ($event.target as HTMLDetailsElement).open)"
      >
        <summary>
          <span class="what"
            >{{ section }}
            <span class="soft">
              {{ count(some.length, "background") }}
              <b v-if="hard" class="tag">{{ hard }}<span class="unseen"> colour pairs that are hard to read</span></b>
            </span>
          </span>
          <span v-if="!isOpen" class="all" aria-hidden="true">
            <i
              v-for="(one, place) in standing"
              :key="place"
              :class="one.verdict"
              :style="{ left: `${shareOf(one.ratio ?? 1) * 100}%`, background: one.ground, color: one.colour }"
            />
          </span>
        </summary>
        <ul v-if="isOpen">
          <ladder-lane v-for="one in some" :key="one.lane.key" v-bind="one" :track="track" :needs="needs" />
        </ul>
      </details>
      <p class="foot soft">
        <span
          >Further right reads better. What has fallen off its edge is hard to read. Pull a text to give it more
          contrast; click it to see it on its page.</span
        >
        <span class="sum">
          {{ count(ladder.texts, "text") }} · {{ count(pairs, "colour pair") }} ·
          {{ ladder.hard_texts.toLocaleString("en-GB") }} hard to read<template v-if="ladder.unsure_texts">
            · {{ ladder.unsure_texts.toLocaleString("en-GB") }} not judged yet</template
          >
        </span>
      </p>
    </template>
  </section>
</template>

<style scoped>
.TextLadder {
  --names: 150px;
}
.head {
  position: sticky;
  top: 0;
  z-index: 2;
  display: grid;
  grid-template-columns: var(--names) 1fr;
  gap: 12px;
  padding: 4px 0 6px;
  background: var(--paper);
}
.scale {
  position: relative;
  height: 20px;
  margin-right: 8px;
  border-bottom: 1px solid var(--edge);
}
.scale span {
  position: absolute;
  bottom: 2px;
  color: var(--ink-soft);
  transform: translateX(-50%);
}
.scale span:first-child {
  transform: none;
}
.scale .needed {
  border-bottom: 3px solid var(--ink);
  color: var(--ink);
  font-weight: 700;
}
ul {
  margin: 0;
  padding: 0 8px 0 0;
  list-style: none;
}
details {
  border-top: 1px solid var(--rule);
}
summary {
  position: relative;
  display: grid;
  grid-template-columns: var(--names) 1fr;
  gap: 12px;
  align-items: center;
  min-height: 40px;
  padding: 3px 8px 3px 0;
  cursor: pointer;
}
summary::before {
  position: absolute;
  left: 0;
  content: "▸";
}
[open] > summary::before {
  content: "▾";
}
.what {
  padding-left: 16px;
  font-weight: 700;
  line-height: 1.25;
  overflow-wrap: anywhere;
}
.what .soft {
  display: block;
  font-weight: 400;
}
/* what is folded: each pair where it stands, in its own colours; what is hard to read lies lower */
.all {
  position: relative;
  height: 30px;
}
.all i {
  position: absolute;
  top: 3px;
  width: 12px;
  height: 14px;
  border: 1px solid #0003;
  box-shadow: inset 0 -4px currentcolor;
  transform: translateX(-50%);
}
.all .fail {
  top: 13px;
}
.tag {
  padding: 0 6px;
  border-radius: 2px;
  background: var(--ink);
  color: var(--paper);
}
.foot {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 24px;
  justify-content: space-between;
  padding-top: 12px;
}
@media (max-width: 700px) {
  .head {
    grid-template-columns: 1fr;
  }
  .head > .soft {
    display: none;
  }
}
</style>
