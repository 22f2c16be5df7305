<script setup lang="ts">
import { ElButton } from "element-plus";
import { computed, shallowRef, toRef, watch } from "vue";
import client, { ask, type Finding, type Nearest } from "@/api/client";
import MixTrayActs from "@/parts/bench/MixTrayActs.vue";
import MixTrayStates from "@/parts/bench/MixTrayStates.vue";
import MixTrayReadOn from "@/parts/bench/MixTrayReadOn.vue";
import ShadeField from "@/parts/bench/ShadeField.vue";
import TrackSlider from "@/parts/bench/TrackSlider.vue";
import ValueEntry from "@/parts/common/ValueEntry.vue";
import { useHatching } from "@/composables/useHatching";
import { TRACKS, useMixing } from "@/composables/useMixing";
import { isInSrgb, lchOf } from "@/logic/colour";
import { count } from "@/logic/words";
import { useSite } from "@/stores/site";
import { useStudy } from "@/stores/study";

/** Where one colour is mixed, in each of its states. What the hand does shows at once; it is saved when it lets go. */
const props = defineProps<{ name: string }>();
const emit = defineEmits<{ close: [] }>();
const site = useSite();
const study = useStudy();

const role = computed(() => study.roleById.get(props.name)!);
/** The role at rest that the tray is about. */
const rest = computed(() => study.roleById.get(role.value.rest ?? "") ?? role.value);
const value = computed(() => study.colourOf(props.name));
const detail = shallowRef<{ pairs: Finding[]; nearest: Nearest } | null>(null);
const pairs = computed(
  () => (Object.keys(study.draft).length ? study.reading?.pairs : undefined) ?? detail.value?.pairs ?? [],
);
const use = computed(() => study.reading?.roles[props.name]);
const nearest = computed(() => (Object.keys(study.draft).length ? null : (detail.value?.nearest ?? null)));

watch(
  () => [props.name, study.revision?.base] as const,
  async ([name], before) => {
    if (name !== before?.[0]) detail.value = null;
    try {
      const path = { slug: site.slug, role: name };
      const [{ pairs }, nearest] = await Promise.all([
        ask(client.GET("/api/sites/{slug}/roles/{role}", { params: { path } })),
        study.find({ search: "nearest", role: name }),
      ]);
      if (name === props.name) detail.value = { pairs, nearest };
    } catch {
      detail.value = null;
    }
  },
  { immediate: true },
);

const { lch, mix, tracks } = useMixing(value, (hex) => study.show(props.name, hex));

function done(): void {
  const drawn = study.draft[props.name];
  if (drawn !== undefined && drawn !== role.value.value) void study.save({ [props.name]: drawn });
  else if (drawn !== undefined) study.drop(props.name);
}

const hatchedOn = (axis: string) => (axis === "alpha" ? [] : hatching.tracks.value[axis as "hue"]);
const hatching = useHatching(toRef(props, "name"), lch);
const isInside = computed(() => isInSrgb(lch.value));

function ringOn(axis: "lightness" | "chroma" | "hue" | "alpha", max: number): number | null {
  if (!ring.value || axis === "alpha" || (axis === "hue" && ring.value.chroma <= 0.01)) return null;
  return ring.value[axis] / max;
}

const ring = computed(() => {
  const near = nearest.value?.stays ? null : nearest.value?.colour;
  return near ? lchOf(near) : null;
});
/** What came in this colour for the same use and wears another one now that this has changed. */
const behind = computed(() =>
  role.value.twins
    .map((id) => study.roleById.get(id)!)
    .filter((one) => role.value.changed && !one.locked && study.colourOf(one.id) !== role.value.value),
);
const inBehind = computed(() =>
  behind.value.reduce((sum, one) => sum + (study.reading?.roles[one.id]?.places ?? 0), 0),
);
const changeBehind = () => study.save(Object.fromEntries(behind.value.map((one) => [one.id, role.value.value])));
const canMerge = computed(() => role.value.found_colours.length > 1 && !role.value.changed);
</script>

<template>
  <section class="MixTray" :aria-label="`Mix ${role.label}`" @keydown.esc="emit('close')">
    <div class="column">
      <h2>{{ rest.label }}</h2>
      <mix-tray-states :rest="rest" :role="role" />
      <value-entry
        :key="name"
        :value="value"
        :label="`Colour of ${role.label}`"
        @change="study.save({ [name]: $event })"
      />
      <p v-if="use" class="soft">
        {{ count(use.places, "place") }} on {{ count(use.pages, "page") }}. {{ role.reason }}
      </p>
      <p v-else class="soft">{{ role.reason }}</p>
      <p v-if="inBehind" class="behind">
        {{ count(inBehind, "more place") }} had this colour: {{ behind.map((one) => one.label).join(", ") }}.
        <button type="button" class="act" @click="changeBehind">Change {{ inBehind === 1 ? "it" : "them" }} too</button>
      </p>
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
        :hatched="hatchedOn(one.axis)"
        :ring="ringOn(one.axis, one.max)"
        @update:model-value="mix({ [one.axis]: $event })"
        @done="done"
      />
      <p class="soft">
        Hatched: hard to read somewhere.<template v-if="ring"> Open ring: the nearest readable colour.</template>
        <template v-if="!isInside"> Screens cannot show this colour. The nearest one they can is used.</template>
      </p>
      <p class="came">
        <span class="soft">{{ role.found_colours.length > 1 ? "In the files" : "Original" }}</span>
        <span class="found" :aria-label="role.found_colours.join(', ')" role="img">
          <i v-for="hex in role.found_colours.slice(0, 14)" :key="hex" :style="{ background: hex }" :title="hex" />
        </span>
        <el-button v-if="role.changed" size="small" @click="study.save({ [name]: role.found })">Original</el-button>
        <el-button v-if="canMerge" size="small" @click="study.save({ [name]: role.found }, true)">
          Merge these {{ role.found_colours.length }} into one
        </el-button>
      </p>
    </div>

    <div class="column field">
      <shade-field :lch="lch" :hard="hatching.field.value" :ring="ring" @mix="mix" @done="done" />
    </div>

    <mix-tray-read-on class="column" :name="name" :pairs="pairs" />

    <div class="column choices">
      <h2>Nearest readable</h2>
      <p v-if="!nearest" class="soft">{{ detail ? "Release the slider to see it." : "Looking…" }}</p>
      <p v-else-if="nearest.stays">This colour is readable everywhere.</p>
      <template v-else-if="nearest.colour">
        <p class="pair" aria-hidden="true">
          <i :style="{ background: value }" /><i :style="{ background: nearest.colour }" />
        </p>
        <el-button type="primary" @click="study.save({ [name]: nearest.colour })">
          Use {{ nearest.colour.toUpperCase() }}
        </el-button>
        <p v-if="nearest.serves !== null" class="soft">
          No single colour is readable on all {{ nearest.of }} colours it is seen with. This one is on
          {{ nearest.serves }}.
        </p>
        <p v-if="nearest.other_hue" class="soft">No shade of its own hue is readable here, so the hue changes.</p>
      </template>
      <p v-else class="soft">No colour is readable on everything it is seen with. Change the background instead.</p>
      <mix-tray-acts :role="role" />
    </div>

    <button type="button" class="close" @click="emit('close')">
      <span aria-hidden="true">×</span><span class="unseen">Close the tray</span>
    </button>
  </section>
</template>

<style scoped>
.MixTray {
  position: relative;
  display: grid;
  grid-template-columns: minmax(218px, 1fr) minmax(290px, 1.6fr) 236px minmax(186px, 0.9fr) minmax(238px, 1fr);
  height: 262px;
  border-top: 2px solid var(--ink);
  background: var(--panel);
}
.column {
  contain: content;
  overflow-y: auto;
  padding: 12px 16px;
  border-right: 1px solid var(--rule);
  font-size: 13px;
  scrollbar-width: thin;
}
.column > * + * {
  margin-top: 7px;
}
.tracks {
  display: grid;
  align-content: start;
}
.tracks > * + * {
  margin-top: 9px;
}
.came {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 10px;
  align-items: center;
}
.found {
  display: flex;
  gap: 1px;
}
.found i {
  width: 18px;
  height: 18px;
  box-shadow: inset 0 0 0 1px #0003;
}
.pair {
  display: flex;
}
.pair i {
  width: 44px;
  height: 34px;
  box-shadow: inset 0 0 0 1px #0003;
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
@media (max-width: 1200px) {
  .MixTray {
    grid-template-columns: minmax(150px, 1fr) minmax(220px, 1.3fr) 200px minmax(150px, 0.9fr) minmax(190px, 1fr);
  }
  .column {
    padding: 12px 10px;
  }
}
@media (max-width: 900px) {
  .MixTray {
    grid-template-columns: 1fr;
    height: 46vh;
    overflow-y: auto;
  }
  .column {
    overflow: visible;
    border-right: 0;
    border-bottom: 1px solid var(--rule);
  }
}
</style>
