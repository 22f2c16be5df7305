<script setup lang="ts">
import RoleSelect from "@/parts/common/RoleSelect.vue";
import type { Given } from "@/composables/useMaking";

/** The colours a palette is made from, and for each what it is wanted for. */
const given = defineModel<Given[]>({ required: true });

const takeOut = (place: number) => (given.value = given.value.filter((_, n) => n !== place));
const want = (place: number, role: string) =>
  (given.value = given.value.map((one, n) =>
    n === place ? { ...one, role } : one.role === role ? { ...one, role: "" } : one,
  ));
</script>

<template>
  <ul class="GivenColours" aria-live="polite">
    <li v-for="(one, place) in given" :key="one.hex">
      <button type="button" :style="{ background: one.hex }" :title="`Remove ${one.hex}`" @click="takeOut(place)">
        <span class="unseen">Remove {{ one.hex }}</span>
      </button>
      <role-select
        :label="`What ${one.hex} is for`"
        :model-value="one.role"
        :extras="[{ value: '', label: 'Glaucon decides' }]"
        @update:model-value="want(place, $event)"
      />
    </li>
    <li v-if="!given.length" class="soft">Add one to five colours. They are kept exactly.</li>
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
</style>
