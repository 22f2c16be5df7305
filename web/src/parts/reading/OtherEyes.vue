<script setup lang="ts">
import { ElButton, ElRadioButton, ElRadioGroup } from "element-plus";
import { computed } from "vue";
import PageMiniature from "@/parts/common/PageMiniature.vue";
import { type EyeName, useEyes } from "@/composables/useEyes";
import { useSite } from "@/stores/site";
import { useStudy } from "@/stores/study";
import { useView, WIDTHS } from "@/stores/view";

/** All pages as other eyes see them, and the colours that mean different things and become alike. */
const site = useSite();
const study = useStudy();
const view = useView();
const { by, found, trouble, look } = useEyes();
const EYES: Record<EyeName, { label: string; says: string }> = {
  protan: { label: "Red-weak", says: "Red looks darker and close to green: about 1 man in 50." },
  deutan: { label: "Green-weak", says: "Green and red look close: about 1 man in 16." },
  tritan: { label: "Blue-weak", says: "Blue looks close to green: rare, and more with age." },
  grey: { label: "No colour", says: "Only light and dark: printed in grey, or no colour vision." },
  blurred: { label: "Low vision", says: "Small things run into each other." },
  sun: { label: "In the sun", says: "A phone outdoors: the dark ends lose their depth." },
  night: { label: "At night", says: "A screen that is dimmed nearly all the way." },
};
const screen = computed(() => WIDTHS[view.width]);
const percent = computed({
  get: () => Math.round(by.strength * 100),
  set: (value: number) => (by.strength = value / 100),
});
</script>

<template>
  <section class="OtherEyes" aria-label="Other eyes">
    <div class="bar">
      <el-radio-group v-model="by.eye" size="small" aria-label="Whose eyes">
        <el-radio-button v-for="(one, name) in EYES" :key="name" :value="name">{{ one.label }}</el-radio-button>
      </el-radio-group>
      <label class="soft strength"
        >How strongly
        <input v-model.number="percent" type="range" min="0" max="100" step="5" aria-label="How strongly" />
        <span>{{ percent }} %</span></label
      >
    </div>
    <p class="soft">{{ EYES[by.eye].says }}</p>
    <p v-if="trouble" role="alert">{{ trouble }} <button type="button" class="act" @click="look">Try again</button></p>
    <div class="both">
      <ul class="pages" :style="{ '--cell': `${screen.cell}px` }">
        <li v-for="page in site.pages" :key="page.path">
          <page-miniature :page="page" :width="screen.width" :height="screen.height" />
          <p class="caption">
            <b>{{ site.names.get(page.path) }}</b>
          </p>
        </li>
      </ul>
      <aside aria-label="Colours that become alike" :aria-busy="!found">
        <h2>Hard to tell apart</h2>
        <p v-if="by.eye === 'blurred'" class="soft">Blur hides small text and thin lines. Look at the pages.</p>
        <p v-else-if="found && !found.alike.length">Colours with different meanings can still be told apart.</p>
        <ul v-else>
          <li v-for="(pair, place) in found?.alike" :key="place" class="pair">
            <div class="sides" aria-hidden="true">
              <span class="side" :style="{ background: pair.one.colour }" />
              <span class="side" :style="{ background: pair.other.colour }" />
              <span class="to soft">→</span>
              <span class="side" :style="{ background: pair.one.seen }" />
              <span class="side" :style="{ background: pair.other.seen }" />
            </div>
            <p>
              <b>{{ pair.one.label }}</b> and <b>{{ pair.other.label }}</b><span v-if="pair.where" class="soft"
                >, on {{ pair.where }}</span
              >
            </p>
            <p v-if="pair.change">
              <el-button size="small" @click="study.save({ [pair.change.role]: pair.change.value })">
                <span class="chip" :style="{ background: pair.change.value }" />Change {{ pair.change.label }}
              </el-button>
            </p>
            <p v-else class="soft">
              No shade of either tells them apart and stays readable. Add a line, a mark or a word.
            </p>
          </li>
        </ul>
      </aside>
    </div>
  </section>
</template>

<style scoped>
.bar {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 26px;
  align-items: center;
  padding: 2px 0 6px;
}
.strength {
  display: flex;
  gap: 12px;
  align-items: center;
}
.strength input {
  width: 150px;
}
.both {
  display: grid;
  grid-template-columns: 1fr 300px;
  gap: 22px;
  align-items: start;
  padding-top: 10px;
}
ul {
  margin: 0;
  padding: 0;
  list-style: none;
}
.pages {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(var(--cell), 1fr));
  gap: 12px 14px;
}
.caption {
  overflow: hidden;
  padding: 3px 1px 0;
  font-size: 13px;
  text-overflow: ellipsis;
  white-space: nowrap;
}
aside {
  position: sticky;
  top: 0;
}
.pair {
  padding: 10px 0;
  border-top: 1px solid var(--rule);
}
.pair p {
  margin-top: 4px;
}
h2 + * {
  margin-top: 6px;
}
.sides {
  display: flex;
  align-items: center;
}
.side {
  width: 42px;
  height: 26px;
  box-shadow: inset 0 0 0 1px #0002;
}
.to {
  padding: 0 10px;
}
.chip {
  width: 14px;
  height: 14px;
  margin-right: 6px;
  box-shadow: inset 0 0 0 1px #0003;
}
@media (max-width: 900px) {
  .both {
    grid-template-columns: 1fr;
  }
  aside {
    position: static;
    grid-row: 1;
  }
}
</style>
