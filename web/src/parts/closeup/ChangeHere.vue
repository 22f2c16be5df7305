<script setup lang="ts">
import { ElButton } from "element-plus";
import { computed, onBeforeUnmount, ref, toRef, watch } from "vue";
import type { Schemas } from "@/api/client";
import ShadeField from "@/parts/bench/ShadeField.vue";
import TrackSlider from "@/parts/bench/TrackSlider.vue";
import ValueEntry from "@/parts/common/ValueEntry.vue";
import { TRACKS, useMixing } from "@/composables/useMixing";
import { addCoat, wear } from "@/logic/acts";
import { freeName } from "@/logic/words";
import { useStudy } from "@/stores/study";

/** Where a colour is mixed for one place and as far as the choice reaches. It is saved when the hand lets go. */
const props = defineProps<{
  reach: Schemas["ReachOut"];
  /** What the colour is for, as a scope names it: "link", "link.hover". */
  name: string;
  label: string;
  /** What is seen there now. */
  seen: string;
}>();
const emit = defineEmits<{ close: [] }>();
const study = useStudy();
const drawn = ref<string | null>(null);
const value = computed(() => drawn.value ?? props.reach.own[props.name] ?? props.seen);
const places = computed(() => (props.reach.where ? [props.reach.where, ...props.reach.also] : []));
const own = (hex: string) => ({ ...props.reach.own, [props.name]: hex });

const { lch, mix, tracks } = useMixing(value, (hex) => {
  drawn.value = hex;
  void study.showAct(wear(places.value, props.reach.coat ?? null, own(hex)));
});
async function save(hex: string): Promise<void> {
  await study.act(wear(places.value, props.reach.coat ?? null, own(hex)));
  drawn.value = null;
}
function done(): void {
  if (drawn.value !== null) void save(drawn.value);
}
const rest = computed(() => Object.fromEntries(Object.entries(props.reach.own).filter(([one]) => one !== props.name)));
const isGround = computed(() => props.name === "background");
/** Gives the place a new coat of this background in place of the bare colour: its text is readable then. */
async function makeCoat(): Promise<void> {
  const known = new Set(study.coats.map((coat) => coat.id));
  const label = freeName(props.reach.label, new Set(study.coats.map((coat) => coat.label)));
  if (!(await study.act(addCoat(label, value.value)))) return;
  const made = study.coats.find((coat) => !known.has(coat.id));
  if (made) await study.act(wear(places.value, made.id, rest.value));
}
const takeOff = () => study.act(wear(places.value, props.reach.coat ?? null, rest.value));
watch([toRef(props, "name"), () => props.reach.selector], () => (drawn.value = null));
onBeforeUnmount(() => void study.showAct(null));
</script>

<template>
  <section class="ChangeHere" :aria-label="`${label}: ${reach.what}`" @keydown.esc.stop="emit('close')">
    <div class="column">
      <h2>{{ label }}</h2>
      <p class="soft">For {{ reach.what }}: {{ reach.count }}.</p>
      <value-entry :key="name" :value="value" :label="`${label} here`" @change="save" />
      <p class="acts">
        <el-button v-if="reach.own[name]" size="small" @click="takeOff">Take off</el-button>
        <el-button v-if="isGround" size="small" @click="save('#00000000')">See-through</el-button>
        <el-button v-if="isGround && !reach.coat" size="small" @click="makeCoat">Make it a coat</el-button>
      </p>
      <p v-if="isGround && !reach.coat" class="soft">A coat keeps all text on it readable.</p>
    </div>
    <div class="column tracks">
      <track-slider
        v-for="one in TRACKS"
        :key="one.axis"
        :label="one.label"
        :model-value="lch[one.axis]"
        :max="one.max"
        :step="one.step"
        :text="one.text(lch[one.axis])"
        :colours="tracks[one.axis].value"
        @update:model-value="mix({ [one.axis]: $event })"
        @done="done"
      />
    </div>
    <div class="column field"><shade-field :lch="lch" :hard="[]" :ring="null" @mix="mix" @done="done" /></div>
    <button type="button" class="close" @click="emit('close')">
      <span aria-hidden="true">×</span><span class="unseen">Close the tray</span>
    </button>
  </section>
</template>

<style scoped>
.ChangeHere {
  position: relative;
  display: grid;
  flex: none;
  grid-template-columns: minmax(200px, 1fr) minmax(260px, 1.6fr) 256px;
  gap: 18px;
  height: 220px;
  padding: 12px 40px 12px 18px;
  border-top: 2px solid var(--ink);
  background: var(--panel);
}
.column {
  display: grid;
  gap: 8px;
  align-content: start;
  min-width: 0;
}
.acts {
  display: flex;
  gap: 6px;
}
.acts > * {
  margin: 0;
}
.field {
  align-content: start;
}
.close {
  position: absolute;
  top: 4px;
  right: 6px;
  width: 28px;
  height: 28px;
  border: 0;
  background: none;
  font-size: 20px;
  line-height: 1;
  cursor: pointer;
}
@media (max-width: 900px) {
  .ChangeHere {
    grid-template-columns: 1fr;
    height: 40vh;
    overflow-y: auto;
  }
}
</style>
