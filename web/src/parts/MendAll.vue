<script setup lang="ts">
import { ElButton } from "element-plus";
import { computed, ref, shallowRef } from "vue";
import client, { ask, type Schemas } from "@/api/client";
import { count } from "@/logic/words";
import { useBench } from "@/stores/bench";

/** Mends everything at once: shown on all pages first, then taken or left. */
const bench = useBench();
const found = shallowRef<Schemas["MendOut"] | null>(null);
const isBusy = ref(false);
const trouble = ref("");
const moves = computed(() => Object.keys(found.value?.values ?? {}).length);

async function look(): Promise<void> {
  isBusy.value = true;
  trouble.value = "";
  try {
    const path = { slug: bench.slug };
    found.value = await ask(client.POST("/api/sites/{slug}/mend", { params: { path }, body: { locks: [] } }));
    bench.showAll(found.value.values);
  } catch (refusal) {
    trouble.value = refusal instanceof Error ? refusal.message : String(refusal);
  } finally {
    isBusy.value = false;
  }
}

async function take(): Promise<void> {
  const values = found.value?.values ?? {};
  found.value = null;
  await bench.save(values);
}

function leave(): void {
  for (const name of Object.keys(found.value?.values ?? {})) bench.drop(name);
  found.value = null;
}
</script>

<template>
  <section class="MendAll" aria-label="Mend all">
    <el-button v-if="!found" size="small" :loading="isBusy" @click="look">Mend all…</el-button>
    <template v-else>
      <p role="status">
        <template v-if="moves">
          <b>{{ count(moves, "colour") }}</b> would move, as little as may be: of {{ count(found.before, "text") }} hard
          to read, <b>{{ found.before - found.after }}</b> would read<template v-if="found.after"
            >; {{ found.after }} cannot be made to</template
          >. The pages show it.
        </template>
        <template v-else>No colour could be moved that would help.</template>
      </p>
      <p class="acts">
        <el-button v-if="moves" size="small" type="primary" @click="take">Take it</el-button>
        <el-button size="small" @click="leave">Leave it</el-button>
      </p>
    </template>
    <p v-if="trouble" role="alert">{{ trouble }}</p>
  </section>
</template>

<style scoped>
.MendAll {
  display: grid;
  gap: 7px;
  margin-bottom: 10px;
}
.acts {
  display: flex;
  gap: 8px;
}
.acts > * {
  margin: 0;
}
</style>
