<script setup lang="ts">
import { ElInput } from "element-plus";
import type { Plan } from "@/api/client";
import FindingCard from "@/parts/common/FindingCard.vue";
import { count } from "@/logic/words";
import type { Going } from "@/composables/useRelease";

/** What would go live hard to read: each with room for the word why, or one for all of it. */
defineProps<{ hard: Plan["hard"] }>();
const going = defineModel<Going>({ required: true });
</script>

<template>
  <div class="LetThrough">
    <details>
      <summary>Still hard to read ({{ hard.length }})</summary>
      <ul>
        <template v-for="finding in hard" :key="finding.key">
          <finding-card :finding="finding" />
          <li class="why">
            <el-input
              v-model="going.reasons[finding.key]"
              size="small"
              maxlength="200"
              placeholder="Why it goes live like this"
              :aria-label="`Why “${finding.sample.slice(0, 40)}” goes live hard to read`"
            />
          </li>
        </template>
      </ul>
    </details>
    <label class="all">
      <span
        >{{ count(hard.length, "pair") }} of colours {{ hard.length === 1 ? "goes" : "go" }} live hard to read.</span
      >
      <el-input
        v-model="going.reason"
        size="small"
        maxlength="200"
        placeholder="Why, for all of them (kept with the release)"
      />
    </label>
  </div>
</template>

<style scoped>
ul {
  margin: 0;
  padding: 0;
  list-style: none;
}
summary {
  cursor: pointer;
}
.why {
  padding: 0 0 10px;
}
.all {
  display: block;
  margin-top: 8px;
}
.all span {
  display: block;
  margin-bottom: 3px;
}
</style>
