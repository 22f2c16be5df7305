<script setup lang="ts">
import { ElButton } from "element-plus";
import { computed } from "vue";
import BeyondCard from "@/parts/reading/BeyondCard.vue";
import { type Beyond, useBeyond } from "@/composables/useBeyond";
import { count } from "@/logic/words";

/** What besides text has to be seen, by what it is; never counted with the texts. */
const { found, open, trouble, isBusy, read, mend, waive } = useBeyond();
const GROUPS: { what: Beyond["what"][]; title: string; says: string }[] = [
  {
    what: ["field", "border"],
    title: "Fields and buttons",
    says: "People need to see where they begin, by a border or a fill with contrast 3 : 1.",
  },
  {
    what: ["focus"],
    title: "Keyboard focus",
    says: "People need to see what has the focus, by a ring or a change with contrast 3 : 1.",
  },
  {
    what: ["link-in-text"],
    title: "Links in text",
    says: "They need an underline, or contrast 3 : 1 to the text around them and more on hover.",
  },
  { what: ["icon"], title: "Icons and logos", says: "What means something without text needs contrast 3 : 1." },
];
const groups = computed(() =>
  GROUPS.map((group) => {
    const own = (found.value ?? []).filter((one) => group.what.includes(one.what));
    const isOpen = (one: Beyond) => one.verdict === "fail" || one.verdict === "unsure";
    return { ...group, open: own.filter(isOpen), fine: own.filter((one) => !isOpen(one)) };
  }),
);
const mendable = computed(() => open.value.filter((one) => one.rule));
const things = (some: Beyond[]) => some.reduce((sum, one) => sum + one.count, 0);
</script>

<template>
  <section class="BeyondTexts" aria-label="Beyond text">
    <header v-if="found">
      <p>
        <b>{{
          open.length ? `${count(things(open), "thing is", "things are")} hard to see` : "Nothing is hard to see"
        }}</b>
        <span class="soft"> besides text, on a wide screen</span>
        <span v-if="isBusy" class="soft" role="status"> · Looking again…</span>
      </p>
      <el-button
        v-if="mendable.length > 1"
        type="primary"
        :loading="isBusy"
        @click="mend(mendable.map((one) => one.key))"
      >
        Fix these {{ things(mendable) }}
      </el-button>
    </header>
    <p v-if="trouble" role="alert">{{ trouble }} <button type="button" class="act" @click="read">Try again</button></p>
    <p v-else-if="!found" class="soft" role="status">Checking fields, icons and links…</p>
    <div v-else class="groups">
      <section v-for="group in groups" :key="group.title" :aria-label="group.title">
        <h2>{{ group.title }}</h2>
        <p class="soft">{{ group.says }}</p>
        <ul v-if="group.open.length">
          <beyond-card
            v-for="one in group.open"
            :key="one.key"
            :one="one"
            :busy="isBusy"
            @mend="mend([one.key])"
            @waive="(said, why) => waive(one.key, said, why)"
          />
        </ul>
        <p v-else class="fine">{{ group.fine.length ? "All of them stand out." : "There are none on this site." }}</p>
        <details v-if="group.fine.length">
          <summary>{{ count(things(group.fine), "more needs", "more need") }} nothing</summary>
          <ul>
            <beyond-card
              v-for="one in group.fine"
              :key="one.key"
              :one="one"
              :busy="isBusy"
              @waive="(said, why) => waive(one.key, said, why)"
            />
          </ul>
        </details>
      </section>
    </div>
    <p class="soft foot">
      By WCAG 2.2: 1.4.11, 1.4.1, 2.4.7, and 2.4.13 where the aim is AAA. Fixes are added to your own CSS: Close-up, Own
      CSS.
    </p>
  </section>
</template>

<style scoped>
header {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 24px;
  align-items: center;
  padding: 4px 0 10px;
}
.groups {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(min(480px, 100%), 1fr));
  gap: 22px 34px;
  align-items: start;
}
ul {
  margin: 6px 0 0;
  padding: 0;
  list-style: none;
}
.fine {
  padding: 8px 0;
}
details {
  padding: 7px 0;
  border-top: 1px solid var(--rule);
}
summary {
  cursor: pointer;
}
.foot {
  padding-top: 18px;
}
</style>
