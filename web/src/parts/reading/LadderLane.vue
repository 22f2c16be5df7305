<script setup lang="ts">
import { computed } from "vue";
import { useRouter } from "vue-router";
import WorstSpot from "@/parts/common/WorstSpot.vue";
import type { Lane, Standing } from "@/composables/useLadder";
import { MOST, packed, ratioAt, shareOf, widthOf, withContrast } from "@/logic/ladder";
import { count, ratioText, screensText, sentenceCase, statesText } from "@/logic/words";
import { useStudy } from "@/stores/study";

/**
 * One background in its own colour with what is read on it. What is hard to read has fallen off its edge: the lane is
 * firm from the contrast that normal text needs, and half as high from what large text needs.
 *
 * A text is pulled along the lane to give it more contrast or less; all of its colour move with it.
 */
const props = defineProps<{
  lane: Lane;
  colour: string;
  standing: Standing[];
  track: number;
  needs: { normal: number; large: number };
}>();
const router = useRouter();
const study = useStudy();
const ROW = 27;
const MOST_LETTERS = 17;
const MOST_ROWS = 7;
const LOST = 1.8; // below it words cannot be made out
const KEY_STEP = 1.04; // a press of an arrow key changes the contrast by so much

const name = computed(() => {
  const { ground, label, where, colour, section } = props.lane;
  if (ground === "solid") return [label || colour.toUpperCase(), where].filter(Boolean).join(", ");
  const what = { gradient: "Gradient", picture: "Picture", unknown: "Not judged yet" }[ground];
  return [what, section].filter(Boolean).join(", ");
});
const fill = computed(() =>
  props.lane.spread ? `linear-gradient(90deg, ${props.lane.spread.join(", ")})` : props.colour,
);
const short = (text: string) => (text.length > MOST_LETTERS ? `${text.slice(0, MOST_LETTERS - 1).trimEnd()}…` : text);

const pieces = computed(() =>
  props.standing.map((one) => {
    const words = short(one.of.sample);
    const width = widthOf(words) + 18;
    // nobody can read it as it is: said again beside
    const isLost = (one.ratio ?? MOST) < LOST;
    return { one, words, isLost, width, room: isLost ? 2 * width : width, at: shareOf(one.ratio ?? 1) * props.track };
  }),
);
const places = computed(() =>
  packed(
    pieces.value.map(({ at, room, width, isLost }) => ({ at: isLost ? at + (room - width) / 2 : at, width: room })),
    props.track,
  ),
);
const rows = computed(() => Math.min(MOST_ROWS, Math.max(1, ...places.value.map(({ row }) => row + 1))));
const high = computed(() => rows.value * ROW + 8);
const edge = computed(() => `${shareOf(props.needs.normal) * 100}%`);
const step = computed(() => `${shareOf(props.needs.large) * 100}%`);
/** What of a picture or gradient is hard to read is shown where it is so. */
const worst = computed(() =>
  props.lane.ground === "picture" || props.lane.ground === "gradient"
    ? props.standing.find(({ of }) => of.verdict === "fail" || of.verdict === "unsure")?.of.key
    : undefined,
);

function told({ of, ratio, verdict }: Standing): string {
  const needs = verdict === "fail" ? `, needs ${of.required}` : "";
  const known = ratio === null ? sentenceCase(of.why) : `contrast ${ratioText(ratio)}${needs}`;
  const when = [screensText(of.widths), statesText(of.states)].filter(Boolean).join(", ");
  return [short(of.sample), of.text.label, known, count(of.places, "text"), when].filter(Boolean).join(", ");
}

/** What the page fades or lets through does not show its role's colour: pulling it would promise too much. */
const isMovable = ({ of, isOwn }: Standing) =>
  props.lane.ground === "solid" && isOwn && !study.roleById.get(of.text.role!)?.locked;

function show(one: Standing, ratio: number): string {
  const { role } = one.of.text;
  const colour = withContrast(study.colourOf(role!), one.ground, ratio);
  study.show(role!, colour);
  return colour;
}

let isPulled = false;
function pull(event: PointerEvent, one: Standing): void {
  isPulled = false;
  if (!isMovable(one) || event.button) return;
  const chip = event.currentTarget as HTMLElement;
  const left = chip.parentElement!.getBoundingClientRect().left;
  const begun = event.clientX;
  const off = shareOf(one.ratio ?? 1) * props.track - (begun - left);
  chip.setPointerCapture(event.pointerId);
  let latest = "";
  const move = (moved: PointerEvent) => {
    if (!isPulled && Math.abs(moved.clientX - begun) < 4) return;
    isPulled = true;
    latest = show(one, ratioAt((moved.clientX - left + off) / props.track));
  };
  const end = (ended: Event) => {
    chip.removeEventListener("pointermove", move);
    if (ended.type === "pointerup" && latest) void study.save({ [one.of.text.role!]: latest });
    else if (latest) study.drop(one.of.text.role!);
  };
  chip.addEventListener("pointermove", move);
  for (const way of ["pointerup", "pointercancel"]) chip.addEventListener(way, end, { once: true });
}
function press(event: KeyboardEvent, one: Standing): void {
  const way = { ArrowRight: KEY_STEP, ArrowLeft: 1 / KEY_STEP }[event.key];
  if (!way || !isMovable(one)) return;
  event.preventDefault();
  show(one, (one.ratio ?? 1) * way);
}
/** What was moved by keys is kept once the keys rest. */
function settle(one: Standing): void {
  const { role } = one.of.text;
  const drawn = role ? study.draft[role] : undefined;
  if (role && drawn) void study.save({ [role]: drawn });
}
const goTo = ({ page, path, width, state, opened }: Standing["of"]["seen"]) => ({
  name: "close-up",
  query: { page, at: path, width: String(width), state, opened },
});
function enter(one: Standing): void {
  if (!isPulled) void router.push(goTo(one.of.seen));
  isPulled = false;
}
</script>

<template>
  <li class="LadderLane">
    <div class="name">
      <b>{{ name }}</b>
      <span class="soft">{{ count(lane.texts, "text") }}</span>
      <worst-spot v-if="worst" :of="worst" class="spot"><span /></worst-spot>
    </div>
    <div class="track" :style="{ height: `${high}px`, '--edge-at': edge, '--step-at': step }">
      <span class="step" :style="{ background: fill }" aria-hidden="true" />
      <span class="firm" :style="{ background: fill }" aria-hidden="true" />
      <a
        v-for="({ one, words, width, isLost }, place) in pieces"
        v-show="places[place]!.row < MOST_ROWS"
        :key="`${one.of.key} ${one.of.sample}`"
        class="text"
        :class="{ fallen: one.verdict === 'fail', unsure: one.verdict === 'unsure', movable: isMovable(one) }"
        :href="router.resolve(goTo(one.of.seen)).href"
        :aria-label="told(one)"
        :title="told(one)"
        draggable="false"
        data-specimen
        :style="{
          color: one.colour,
          background: one.ground,
          left: `${places[place]!.left}px`,
          bottom: `${places[place]!.row * ROW + 4}px`,
          width: `${width}px`,
        }"
        :data-words="isLost ? words : undefined"
        @pointerdown="pull($event, one)"
        @keydown="press($event, one)"
        @keyup="settle(one)"
        @click.exact.prevent="enter(one)"
        ><span>{{ words }}</span></a
      >
    </div>
  </li>
</template>

<style scoped>
.LadderLane {
  display: grid;
  grid-template-columns: var(--names) 1fr;
  gap: 12px;
  padding: 5px 0;
}
.name {
  display: flex;
  flex-direction: column;
  min-width: 0;
  line-height: 1.25;
  overflow-wrap: anywhere;
}
.spot {
  max-width: 100%;
  transform: scale(0.62);
  transform-origin: 0 0;
  margin-bottom: -30px;
}
.track {
  position: relative;
}
/* the lane: firm from what normal text needs, a step down from what large text needs */
.firm,
.step {
  position: absolute;
  right: 0;
  bottom: 0;
  box-shadow: inset 0 0 0 1px #0002;
}
.firm {
  top: 0;
  left: var(--edge-at);
  border-radius: 0 2px 2px 0;
}
.step {
  left: var(--step-at);
  height: 14px;
}
.text span {
  display: block;
  overflow: hidden;
  text-overflow: ellipsis;
}
.text[data-words]::after {
  position: absolute;
  top: 2px;
  left: calc(100% + 6px);
  color: var(--ink);
  font-weight: 400;
  content: attr(data-words);
}
.text {
  position: absolute;
  height: 23px;
  padding: 1px 8px;
  font-weight: 600;
  text-align: center;
  text-decoration: none;
  white-space: nowrap;
  touch-action: pan-y;
}
.text:hover {
  text-decoration: underline;
  text-underline-offset: 3px;
}
.movable {
  cursor: ew-resize;
}
.fallen {
  border-bottom: 2px solid var(--ink);
  box-shadow: 0 0 0 1px #0003;
  transform: rotate(-3deg) translateY(3px);
}
.unsure {
  outline: 1px dashed var(--ink-soft);
}
.text:focus-visible {
  z-index: 1;
  box-shadow: var(--focus);
}
@media (max-width: 700px) {
  .LadderLane {
    grid-template-columns: 1fr;
    gap: 2px;
  }
}
</style>
