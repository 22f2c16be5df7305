<script setup lang="ts">
import type { Schemas } from "@/api/client";
import WayPicture from "@/parts/bench/WayPicture.vue";
import { sentenceCase } from "@/logic/words";
import { useSite } from "@/stores/site";
import { useStudy } from "@/stores/study";

/** The one decision that changes the face of a site: its ways side by side on the first page, one chosen. */
defineProps<{ ways: Schemas["WayTold"][]; isBusy: boolean }>();
const emit = defineEmits<{ choose: [keeps: Schemas["WayTold"]["keeps"]] }>();
const site = useSite();
const study = useStudy();
</script>

<template>
  <fieldset class="TwoWays" :aria-busy="isBusy">
    <legend>Which looks more like you?</legend>
    <label v-for="way in ways" :key="way.keeps" :class="{ chosen: way.is_chosen }">
      <way-picture :way="way" :page="site.pages[0]!" :extra="study.revision?.extra_css ?? ''" />
      <span>
        <input
          type="radio"
          name="way"
          :value="way.keeps"
          :checked="way.is_chosen"
          @change="emit('choose', way.keeps)"
        />
        <span
          >{{ sentenceCase(way.says) }}<template v-if="way.left"> · {{ way.left }} left</template></span
        >
      </span>
    </label>
  </fieldset>
</template>

<style scoped>
.TwoWays {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 8px;
  margin: 0;
  padding: 0;
  border: 0;
}
legend {
  margin-bottom: 4px;
  padding: 0;
  font-weight: 600;
}
label {
  display: grid;
  align-content: start;
  gap: 4px;
  cursor: pointer;
}
label > span {
  display: flex;
  gap: 6px;
  align-items: baseline;
}
input {
  flex: none;
  margin: 0;
}
label.chosen .PageMiniature {
  outline: 3px solid var(--ink);
  outline-offset: 1px;
}
</style>
