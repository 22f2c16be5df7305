<script setup lang="ts">
import type { Given } from "@/composables/useMaking";
import { useBench } from "@/stores/bench";

/** The colours a palette is made from, and for each what it is wanted for. */
const given = defineModel<Given[]>({ required: true });
const bench = useBench();

const takeOut = (place: number) => (given.value = given.value.filter((_, n) => n !== place));
const want = (place: number, role: string) =>
  (given.value = given.value.map((one, n) =>
    n === place ? { ...one, role } : one.role === role ? { ...one, role: "" } : one,
  ));
</script>

<template>
  <ul class="GivenColours" aria-live="polite">
    <li v-for="(one, place) in given" :key="one.hex">
      <button type="button" :style="{ background: one.hex }" :title="`Take ${one.hex} out`" @click="takeOut(place)">
        <span class="unseen">Take {{ one.hex }} out</span>
      </button>
      <select
        :aria-label="`What ${one.hex} is for`"
        :value="one.role"
        @change="want(place, ($event.target as HTMLSelectElement).value)"
      >
        <option value="">wherever it lets everything read</option>
        <option v-for="role in bench.roles" :key="role.name" :value="role.name">{{ role.label }}</option>
      </select>
    </li>
    <li v-if="!given.length" class="soft">None yet. They stay exactly as given.</li>
  </ul>
</template>

<style scoped>
.GivenColours {
  display: grid;
  gap: 4px;
  min-height: 34px;
  align-items: center;
  margin: 0;
  padding: 0;
  list-style: none;
}
li {
  display: flex;
  gap: 8px;
  align-items: center;
}
button {
  flex: none;
  width: 46px;
  height: 30px;
  border: 1px solid var(--edge);
  cursor: pointer;
}
select {
  min-width: 0;
  font-size: 13px;
}
</style>
