<script setup lang="ts">
import { ElButton, ElProgress } from "element-plus";
import { useIntervalFn } from "@vueuse/core";
import { computed, ref, shallowRef } from "vue";
import { RouterLink, useRoute, useRouter } from "vue-router";
import client, { ask, type Job, sentence } from "@/api/client";
import TopBar from "@/parts/common/TopBar.vue";

/** A site being read: what is being done, how far it is, and the way to stop it. */
const route = useRoute();
const router = useRouter();
const number = computed(() => Number(route.params.job));
const job = shallowRef<Job | null>(null);
const trouble = ref("");
const path = computed(() => ({ params: { path: { number: number.value } } }));
const heading = computed(() => {
  const name = job.value?.name ?? "your site";
  if (job.value && !isOpen.value) return `${name} could not be read`;
  return `${job.value?.again ? "Updating" : "Reading"} ${name}`;
});
const isOpen = computed(() => job.value?.state === "waiting" || job.value?.state === "running");
const share = computed(() => (job.value?.total ? Math.round((100 * job.value.done) / job.value.total) : 0));

async function look(): Promise<void> {
  try {
    job.value = await ask(client.GET("/api/jobs/{number}", path.value));
    trouble.value = "";
    if (isOpen.value) return;
    pause();
    if (job.value.state === "done" && job.value.site)
      await router.replace({ name: "came-in", params: { slug: job.value.site } });
  } catch (refusal) {
    trouble.value = sentence(refusal);
  }
}
const { pause } = useIntervalFn(look, 300, { immediateCallback: true });

async function cancel(): Promise<void> {
  try {
    job.value = await ask(client.DELETE("/api/jobs/{number}", path.value));
  } catch (refusal) {
    trouble.value = sentence(refusal);
  }
}
</script>

<template>
  <div class="ComingInScreen">
    <top-bar />
    <main>
      <h1>
        {{ heading }}
      </h1>
      <template v-if="isOpen && job">
        <el-progress :percentage="share" :stroke-width="12" :show-text="false" :aria-label="heading" />
        <p role="status">
          {{ job.doing[0]?.toUpperCase() + job.doing.slice(1)
          }}<template v-if="job.total > 1">: {{ job.done }} of {{ job.total }}</template>
        </p>
        <el-button @click="cancel">Cancel</el-button>
      </template>
      <template v-else-if="job && job.state !== 'done'">
        <p role="alert">
          <b>{{ job.message }}</b>
        </p>
        <router-link v-if="job.again" :to="{ name: 'came-in', params: { slug: job.again } }"
          >Back to the site</router-link
        >
        <router-link v-else :to="{ name: 'shelf' }">Back to your sites</router-link>
      </template>
      <p v-if="trouble" role="alert">
        {{ trouble }} <router-link :to="{ name: 'shelf' }">Back to your sites</router-link>
      </p>
    </main>
  </div>
</template>

<style scoped>
main {
  display: grid;
  gap: 14px;
  justify-items: start;
  max-width: 560px;
  margin: 14vh auto 0;
  padding: 28px 30px;
  border: 1px solid var(--rule);
  background: var(--paper);
}
main > :deep(.el-progress) {
  width: 100%;
}
</style>
