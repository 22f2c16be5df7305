<script setup lang="ts">
import { ElButton } from "element-plus";
import { computed, ref } from "vue";
import { useRouter } from "vue-router";
import LookFrame from "@/parts/LookFrame.vue";
import PaletteRow from "@/parts/PaletteRow.vue";
import { count } from "@/logic/words";
import { useBench } from "@/stores/bench";

/** The proposed palette: each role with its reason and its colours, to be moved, named, added and left out. */
const bench = useBench();
const router = useRouter();
const newName = ref("");
const taken = computed(() => bench.roles.filter((role) => role.taken).length);
const heading = computed(() => `The palette: ${count(bench.roles.length, "role")}.`);

async function add(): Promise<void> {
  if (!newName.value.trim()) return;
  if (await bench.changeRole({ what: "add", label: newName.value })) newName.value = "";
}

async function open(role: string): Promise<void> {
  bench.open = role;
  await router.push({ name: "bench" });
}
</script>

<template>
  <look-frame
    :heading="heading"
    about="Each role with why it is one. A colour stays as it is until its role is changed or taken."
  >
    <ol>
      <palette-row v-for="role in bench.roles" :key="role.name" :role="role" @open="open(role.name)" />
    </ol>
    <form class="add" @submit.prevent="add">
      <label>One more role, called <input v-model="newName" maxlength="80" /></label>
      <el-button native-type="submit" size="small" :disabled="!newName.trim()">Add it</el-button>
    </form>
    <template #foot>
      <span>{{
        taken ? `${count(taken, "role")} taken: their near-alike colours are one now.` : "No colour is changed yet."
      }}</span>
      <el-button type="primary" @click="router.push({ name: 'bench' })">To the bench</el-button>
    </template>
  </look-frame>
</template>

<style scoped>
ol {
  margin: 0;
  padding: 0;
  list-style: none;
}
.add {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: center;
  padding: 14px 0;
  border-top: 1px solid var(--rule);
}
.add input {
  padding: 4px 8px;
  border: 1px solid var(--edge);
  border-radius: var(--corner);
}
</style>
