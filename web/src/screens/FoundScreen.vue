<script setup lang="ts">
import { ElButton } from "element-plus";
import { computed, onMounted, ref, shallowRef } from "vue";
import { RouterLink, useRouter } from "vue-router";
import client, { ask, type Found } from "@/api/client";
import FoundBar from "@/parts/FoundBar.vue";
import { count } from "@/logic/words";
import { useBench } from "@/stores/bench";

/** The colours a site came with, in proportion, and what would become one. */
const bench = useBench();
const router = useRouter();
const found = shallowRef<Found | null>(null);
const trouble = ref("");
const labels = computed(() => new Map(bench.roles.map((role) => [role.name, role.label])));

onMounted(async () => {
  try {
    found.value = await ask(client.GET("/api/sites/{slug}/found", { params: { path: { slug: bench.slug } } }));
  } catch (refusal) {
    trouble.value = refusal instanceof Error ? refusal.message : String(refusal);
  }
});

async function open(role: string): Promise<void> {
  bench.open = role;
  await router.push({ name: "bench" });
}
</script>

<template>
  <main class="FoundScreen" tabindex="-1">
    <p v-if="trouble" role="alert">{{ trouble }}</p>
    <p v-else-if="!found" class="soft">Laying out the colours…</p>
    <template v-else>
      <h1>
        {{ count(found.colours, "colour") }} found on {{ count(found.pages, "page") }},
        {{ count(found.texts, "text") }}.
      </h1>
      <p class="soft">
        Each bar is what the site shows, in proportion. Brackets: what lies under one role of the palette. Nothing has
        been changed.
      </p>
      <found-bar v-for="group in found.groups" :key="group.kind" :group="group" :labels="labels" @open="open" />
      <details v-if="found.notes.length" open>
        <summary>{{ count(found.notes.length, "thing") }} could not be read</summary>
        <ul>
          <li v-for="note in found.notes" :key="note">{{ note }}</li>
        </ul>
      </details>
    </template>
    <footer>
      <span
        >{{ count(bench.roles.length, "role") }} in the palette. Each colour stays as it is until you change its
        role.</span
      >
      <router-link v-slot="{ navigate }" custom :to="{ name: 'bench' }">
        <el-button type="primary" @click="navigate()">To the bench</el-button>
      </router-link>
    </footer>
  </main>
</template>

<style scoped>
.FoundScreen {
  flex: 1;
  overflow-y: auto;
  padding: 16px 20px 0;
  background: var(--paper);
}
h1 + p {
  margin: 4px 0 14px;
}
details {
  margin: 18px 0;
}
summary {
  cursor: pointer;
  font-weight: 700;
}
footer {
  position: sticky;
  bottom: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 10px 24px;
  align-items: center;
  justify-content: space-between;
  margin: 20px -20px 0;
  padding: 12px 20px;
  border-top: 2px solid var(--ink);
  background: var(--panel);
}
</style>
