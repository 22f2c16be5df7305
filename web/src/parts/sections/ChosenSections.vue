<script setup lang="ts">
import { ElButton, ElRadioButton, ElRadioGroup } from "element-plus";
import type { useSectionChoice } from "@/composables/useSectionChoice";
import { wear, wearLike } from "@/logic/acts";
import AsAnother from "@/parts/sections/AsAnother.vue";
import OwnColours from "@/parts/sections/OwnColours.vue";
import { useStudy } from "@/stores/study";

/** What is chosen on the map, how far a choice reaches, and what can be done with it beside giving it a coat. */
const props = defineProps<{ choice: ReturnType<typeof useSectionChoice>; isJoining: boolean }>();
/** The coats that the chosen places wear by turns, while they are put together. */
const turns = defineModel<string[] | null>("turns", { required: true });
const emit = defineEmits<{ backdrop: []; join: []; finish: [] }>();
const study = useStudy();
const { chosen, reach, shared, title, places, chooseAlike, alike, own, others, like, given, together } = props.choice;
</script>

<template>
  <div class="says">
    <h2>{{ title ? `${title} chosen` : "Choose a section" }}</h2>
    <p v-if="!chosen.size" class="soft">
      Click a section, or drag over several. A coat is a set of colours for a section: its background and its text.
      <button type="button" class="act" @click="emit('backdrop')">Backdrop of the whole site…</button>
    </p>
    <template v-else>
      <el-radio-group v-if="shared.length" v-model="reach" size="small" aria-label="On which pages">
        <el-radio-button value="everywhere">{{
          shared.length === 1 ? `On all ${shared[0]!.pages.length} pages` : "On every page"
        }}</el-radio-button>
        <el-radio-button value="here">On this page only</el-radio-button>
      </el-radio-group>
      <p v-if="turns" class="soft">Click the coats in the order they take turns.</p>
      <p v-else-if="like" class="soft">It takes its colours from “{{ like }}”, until it is given others.</p>
      <p v-else class="soft">Click a coat to put it on.</p>
      <p class="acts">
        <template v-if="turns">
          <el-button size="small" type="primary" :disabled="turns.length < 2" @click="emit('finish')">Apply</el-button>
          <el-button size="small" @click="turns = null">Cancel</el-button>
        </template>
        <el-button v-else-if="places.length > 1" size="small" @click="turns = []">Take turns…</el-button>
        <el-button
          v-if="together && !turns"
          size="small"
          :loading="isJoining"
          title="So that nothing of the page shows between them"
          @click="emit('join')"
          >{{ together.isJoined ? "Open the gaps" : "Close the gaps" }}</el-button
        >
        <el-button v-if="alike && !turns" size="small" @click="chooseAlike">{{ alike }}</el-button>
        <as-another v-if="!turns" :sections="others" @choose="study.act(wearLike(places, $event))" />
        <el-button v-if="places.length === 1 && !turns" size="small" @click="emit('backdrop')">Backdrop…</el-button>
      </p>
      <own-colours
        v-if="!turns"
        :key="[...chosen].join()"
        :own="own"
        @change="study.act(wear(places, given, $event))"
      />
    </template>
  </div>
</template>

<style scoped>
.says {
  display: flex;
  flex: 0 0 336px;
  flex-direction: column;
  gap: 7px;
  /* what opens in it scrolls: the map above does not jump */
  height: 152px;
  overflow-y: auto;
  padding: 2px;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
.acts > * {
  margin: 0;
}
@media (max-width: 700px) {
  .says {
    flex: none;
    height: auto;
  }
}
</style>
