<script setup lang="ts">
import { computed, ref } from "vue";
import RoleSelect from "@/parts/common/RoleSelect.vue";

/** Chooses where colours go: to a colour of the palette, to none, or to a new one with a name. */
const props = defineProps<{ label: string; without?: string | null }>();
const emit = defineEmits<{ choose: [role: string | null, newLabel: string] }>();
const NEW = " new";
const NONE = " none";
const isNew = ref(false);
const name = ref("");
const extras = computed(() => [
  { value: NEW, label: "A new colour…" },
  ...(props.without === null ? [] : [{ value: NONE, label: "None: leave it as it is" }]),
]);

const chosen = computed({
  get: () => "",
  set: (value: string) => {
    if (value === NEW) isNew.value = true;
    else if (value) emit("choose", value === NONE ? null : value, "");
  },
});

function make(): void {
  if (!name.value.trim()) return;
  emit("choose", null, name.value);
  isNew.value = false;
  name.value = "";
}
</script>

<template>
  <form class="RoleChoice" @submit.prevent="make">
    <template v-if="isNew">
      <label>Name of the new colour <input v-model="name" maxlength="80" /></label>
      <button type="submit" class="act">Add</button>
      <button type="button" class="act" @click="isNew = false">Cancel</button>
    </template>
    <template v-else>
      <span>{{ label }}</span>
      <role-select v-model="chosen" :label="label" :without="without" :extras="extras" />
    </template>
  </form>
</template>

<style scoped>
.RoleChoice {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 10px;
  align-items: center;
}
input {
  max-width: 190px;
  padding: 3px 6px;
  border: 1px solid var(--edge);
  border-radius: var(--corner);
  background: var(--raised);
}
</style>
