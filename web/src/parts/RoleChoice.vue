<script setup lang="ts">
import { ref } from "vue";
import { useBench } from "@/stores/bench";

/** Chooses a role, none, or a new one with a name. */
defineProps<{ label: string; without?: string | null }>();
const emit = defineEmits<{ choose: [role: string | null, newLabel: string] }>();
const bench = useBench();
const isNew = ref(false);
const name = ref("");

function choose(event: Event): void {
  const select = event.target as HTMLSelectElement;
  const value = select.value;
  select.value = "";
  if (value === "new") isNew.value = true;
  else if (value) emit("choose", value === "none" ? null : value.slice(5), "");
}

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
      <label>Name of the new role <input v-model="name" maxlength="80" /></label>
      <button type="submit" class="act">make it</button>
      <button type="button" class="act" @click="isNew = false">leave it</button>
    </template>
    <label v-else
      >{{ label }}
      <select @change="choose">
        <option value="">choose a role…</option>
        <template v-for="role in bench.roles" :key="role.name">
          <option v-if="role.name !== without" :value="`role:${role.name}`">{{ role.label }}</option>
        </template>
        <option value="new">a new role…</option>
        <option v-if="without !== null" value="none">no role: leave it as it is</option>
      </select>
    </label>
  </form>
</template>

<style scoped>
.RoleChoice {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 10px;
  align-items: center;
}
select,
input {
  max-width: 190px;
  padding: 3px 6px;
  border: 1px solid var(--edge);
  border-radius: var(--corner);
  background: var(--raised);
}
</style>
