<script setup lang="ts">
import { ElButton } from "element-plus";
import { computed, ref, shallowRef, watch } from "vue";
import { RouterLink, useRouter } from "vue-router";
import client, { ask, type Schemas, sentence } from "@/api/client";
import MakeStudies from "@/parts/studies/MakeStudies.vue";
import StudyCard from "@/parts/studies/StudyCard.vue";
import { useSite } from "@/stores/site";
import { useStudy } from "@/stores/study";

/** The studies of a site: name, copy, put away, compare two, make new ones. */
const site = useSite();
const study = useStudy();
const router = useRouter();
const studies = shallowRef<Schemas["StudyOut"][]>([]);
const compared = ref<number[]>([]);
const trouble = ref("");
const path = computed(() => ({ slug: site.slug }));

async function guard(work: () => Promise<unknown>): Promise<void> {
  trouble.value = "";
  try {
    await work();
  } catch (refusal) {
    trouble.value = sentence(refusal);
  }
}

const fetchAll = () =>
  guard(async () => {
    await study.written();
    studies.value = await ask(client.GET("/api/sites/{slug}/studies", { params: { path: path.value } }));
  });
watch(() => study.revision?.base, fetchAll, { immediate: true });

const step = (number: number, what: Schemas["StudyStepIn"]["what"], name: string) =>
  guard(async () => {
    studies.value = await ask(
      client.POST("/api/sites/{slug}/studies/{number}", {
        params: { path: { ...path.value, number } },
        body: { what, name },
      }),
    );
    compared.value = compared.value.filter((one) => !(what === "delete" && one === number));
    await study.load(site.slug);
    if (what === "open") await router.push({ name: "bench" });
  });

const copy = (one: Schemas["StudyOut"]) =>
  guard(async () => {
    await study.written();
    const base = one.is_open && study.revision ? study.revision.base : one.base;
    await ask(
      client.POST("/api/sites/{slug}/studies", {
        params: { path: path.value },
        body: { base, name: "", acts: [], is_opened: false },
      }),
    );
    await fetchAll();
  });

function choose(number: number): void {
  const without = compared.value.filter((one) => one !== number);
  compared.value = without.length < compared.value.length ? without : [...compared.value, number].slice(-2);
}

async function kept(): Promise<void> {
  await study.load(site.slug);
  await router.push({ name: "bench" });
}
</script>

<template>
  <main class="StudiesScreen" tabindex="-1">
    <header>
      <h1>Studies of {{ site.site?.name }}</h1>
      <router-link :to="{ name: 'sheet' }">Palette sheet</router-link>
      <el-button
        size="small"
        :disabled="compared.length !== 2"
        @click="router.push({ name: 'compare', params: { one: compared[0], other: compared[1] } })"
        >{{ compared.length === 2 ? "Compare these two" : `Choose ${2 - compared.length} to compare` }}</el-button
      >
    </header>
    <p v-if="trouble" role="alert">{{ trouble }}</p>
    <ul class="studies">
      <study-card
        v-for="one in studies"
        :key="one.base.study"
        :study="one"
        :compared="compared.includes(one.base.study)"
        @step="(what, name) => step(one.base.study, what, name)"
        @copy="copy(one)"
        @compare="choose(one.base.study)"
      />
    </ul>
    <make-studies @kept="kept" />
  </main>
</template>

<style scoped>
.StudiesScreen {
  flex: 1;
  overflow-y: auto;
  padding: 16px 20px 30px;
  background: var(--paper);
}
header {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 20px;
  align-items: center;
  margin-bottom: 12px;
}
.studies {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(290px, 1fr));
  gap: 12px;
  margin: 0 0 24px;
  padding: 0;
  list-style: none;
}
</style>
