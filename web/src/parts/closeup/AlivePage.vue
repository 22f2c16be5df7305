<script setup lang="ts">
import { useElementSize } from "@vueuse/core";
import { computed, onScopeDispose, ref, useTemplateRef, watch } from "vue";
import client, { ask, sentence } from "@/api/client";
import { useSite } from "@/stores/site";
import { useStudy } from "@/stores/study";

/** One page with its own scripts at work, as a release of the study would have it: a look at it alive. */
const props = defineProps<{ page: string; name: string; width: number }>();
const site = useSite();
const study = useStudy();
const box = useTemplateRef<HTMLElement>("box");
const { width: wide, height: high } = useElementSize(box);
const scale = computed(() => Math.min(1, (wide.value || 1) / props.width));
const address = ref("");
const trouble = ref("");
let ending = new AbortController();

watch(
  () => [props.page, study.revision?.base.revision] as const,
  async () => {
    ending.abort();
    const mine = (ending = new AbortController());
    trouble.value = "";
    try {
      const asked = { params: { path: { slug: site.slug } }, body: { page: props.page } };
      const made = await ask(client.POST("/api/sites/{slug}/alive", asked), mine.signal);
      if (!mine.signal.aborted) address.value = made.address;
    } catch (refusal) {
      if (!mine.signal.aborted) trouble.value = sentence(refusal);
    }
  },
  { immediate: true },
);
onScopeDispose(() => ending.abort());
</script>

<template>
  <div ref="box" class="AlivePage">
    <p v-if="trouble" role="alert">{{ trouble }}</p>
    <p v-else-if="!address" role="status">Making the page…</p>
    <iframe
      v-else
      :key="address"
      :src="address"
      :title="`The page ${name}, alive`"
      sandbox="allow-scripts"
      :style="{ width: `${width}px`, height: `${high / scale}px`, transform: `scale(${scale})` }"
    />
  </div>
</template>

<style scoped>
.AlivePage {
  position: relative;
  flex: 1;
  min-height: 0;
  overflow: hidden;
  border: 1px solid var(--rule);
  background: var(--raised);
}
.AlivePage > p {
  margin: 16px;
}
iframe {
  position: absolute;
  inset: 0 auto auto 0;
  border: 0;
  transform-origin: 0 0;
}
</style>
