<script setup lang="ts">
import { ElButton, ElInput, ElRadio, ElRadioGroup } from "element-plus";
import { computed, ref } from "vue";
import { RouterLink } from "vue-router";
import ReadMark from "@/parts/common/ReadMark.vue";
import type { Beyond, WaivedAs } from "@/composables/useBeyond";
import { count } from "@/logic/words";
import { useSite } from "@/stores/site";

/** Things besides text that are judged alike: how they look, how much they stand out, what would mend them. */
const props = defineProps<{ one: Beyond; busy: boolean }>();
const emit = defineEmits<{ mend: []; waive: [said: WaivedAs | null, why: string] }>();
const site = useSite();
const THINGS: Record<Beyond["what"], [string, string]> = {
  field: ["field", "fields"],
  border: ["button", "buttons"],
  focus: ["thing with the keyboard’s focus", "things with the keyboard’s focus"],
  "link-in-text": ["link in text", "links in text"],
  icon: ["icon or logo", "icons and logos"],
};
const STATES: Record<string, string> = { hover: ", when hovered", focus: ", when focused" };
const WAIVED: Record<WaivedAs, string> = {
  logotype: "It is a logo",
  decoration: "It is decoration",
  told: "Something else tells it",
};
const title = computed(() => {
  const { what, count: many, state } = props.one;
  return count(many, ...THINGS[what]) + (what === "focus" ? "" : (STATES[state] ?? ""));
});
const where = computed(() => {
  const { seen, pages } = props.one;
  const place = [site.names.get(seen.page) ?? seen.page, seen.section].filter(Boolean).join(" · ");
  return pages.length > 1 ? `${place}, and ${count(pages.length - 1, "more page")}` : place;
});
const to = computed(() => {
  const { page, path, state } = props.one.seen;
  return { name: "close-up", query: { page, at: path, state } };
});
const isAsking = ref(false);
const said = ref<WaivedAs>("decoration");
const why = ref("");
function letThrough(): void {
  isAsking.value = false;
  emit("waive", said.value, why.value);
}
</script>

<template>
  <li class="BeyondCard">
    <div class="look" :style="{ background: one.against || 'transparent' }" aria-hidden="true" data-specimen>
      <span v-if="one.what === 'link-in-text'" class="words" :style="{ background: 'var(--raised)' }"
        ><span :style="{ color: one.against }">and </span><span :style="{ color: one.colour }">link</span></span
      >
      <span v-else class="box" :class="one.what" :style="{ '--shown': one.colour || 'transparent' }" />
    </div>
    <div class="said">
      <p>
        <read-mark :verdict="one.verdict" :ratio="one.ratio" tagged />
        <b>{{ title }}</b>
        <span v-if="one.verdict === 'fail' && one.criterion !== '2.4.7'" class="soft">needs 3</span>
      </p>
      <p class="soft">
        {{ where }}<template v-if="one.seen.words">: “{{ one.seen.words }}”</template>
        <router-link class="act" :to="to" :aria-label="`Show it: ${title} on its page`">Show it</router-link>
      </p>
      <p v-if="one.why" class="soft">{{ one.why }}</p>
      <p v-if="one.waiver" class="soft">
        {{ WAIVED[one.waiver.said] }}<template v-if="one.waiver.why">: {{ one.waiver.why }}</template
        >.
        <button type="button" class="act" :disabled="busy" @click="emit('waive', null, '')">Let it count again</button>
      </p>
      <p v-if="one.verdict === 'fail' || one.verdict === 'unsure'" class="ways">
        <el-button v-if="one.rule" size="small" :disabled="busy" @click="emit('mend')">
          {{
            {
              field: "Add a border",
              border: "Add a border",
              focus: "Add a ring",
              "link-in-text": "Underline",
              icon: "",
            }[one.what]
          }}
        </el-button>
        <button type="button" class="act" :aria-expanded="isAsking" @click="isAsking = !isAsking">
          It need not stand out…
        </button>
      </p>
      <form v-if="isAsking" class="asking" @submit.prevent="letThrough">
        <el-radio-group v-model="said" aria-label="Why it need not stand out">
          <el-radio v-for="(label, name) in WAIVED" :key="name" :value="name">{{ label }}</el-radio>
        </el-radio-group>
        <el-input v-model="why" size="small" maxlength="200" placeholder="Why, in a word" aria-label="Why, in a word" />
        <el-button size="small" native-type="submit" :disabled="busy">Let it through</el-button>
      </form>
    </div>
  </li>
</template>

<style scoped>
.BeyondCard {
  display: grid;
  grid-template-columns: 120px 1fr;
  gap: 14px;
  padding: 9px 0;
  border-top: 1px solid var(--rule);
}
.look {
  display: grid;
  height: 52px;
  place-content: center;
  border: 1px solid var(--rule);
}
.box {
  width: 84px;
  height: 24px;
  border: 2px solid var(--shown);
}
.box.focus {
  height: 20px;
  border: 0;
  background: #8884;
  outline: 3px solid var(--shown);
  outline-offset: 2px;
}
.box.icon {
  width: 24px;
  border: 0;
  background: var(--shown);
}
.words {
  padding: 2px 8px;
  font-weight: 600;
}
.said p + p {
  margin-top: 2px;
}
.said p:first-child {
  display: flex;
  gap: 7px;
  align-items: baseline;
}
.ways {
  display: flex;
  gap: 12px;
  align-items: center;
  padding-top: 2px;
}
.act {
  margin-left: 4px;
}
.asking {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  align-items: center;
  padding: 6px 0 2px;
}
.asking .el-input {
  width: 220px;
}
@media (max-width: 700px) {
  .BeyondCard {
    grid-template-columns: 84px 1fr;
    gap: 10px;
  }
  .box {
    width: 60px;
  }
}
</style>
