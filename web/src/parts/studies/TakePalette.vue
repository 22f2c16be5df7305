<script setup lang="ts">
import { ElButton } from "element-plus";
import { onBeforeUnmount, ref, shallowRef, watch } from "vue";
import client, { type Answer, ask, sentence } from "@/api/client";
import { count } from "@/logic/words";
import { useSite } from "@/stores/site";
import { useStudy } from "@/stores/study";

/** A palette made for another site: what fits of it here, what does not; taken, it is a study of this site. */
const props = defineProps<{ text: string }>();
const emit = defineEmits<{ kept: []; look: [values: Record<string, string> | null] }>();
const site = useSite();
const study = useStudy();
const MOST = 8;
const fit = shallowRef<Answer<"fit-palette"> | null>(null);
const trouble = ref("");
const isBusy = ref(false);

watch(
  () => props.text,
  async (palette) => {
    fit.value = null;
    // one whose names say nothing is a list of colours, which are there to be picked
    const found = await study.find({ search: "fit-palette", palette }).catch(() => null);
    if (palette !== props.text) return;
    fit.value = found;
    emit("look", found?.worn.length ? found.values : null);
  },
  { immediate: true },
);

onBeforeUnmount(() => emit("look", null));

async function take(): Promise<void> {
  isBusy.value = true;
  trouble.value = "";
  try {
    await study.written();
    const name = fit.value?.name || "Palette taken";
    const acts = [{ act: "take-palette" as const, palette: props.text }];
    const body = { base: study.revision!.base, name, acts, is_opened: true };
    await ask(client.POST("/api/sites/{slug}/studies", { params: { path: { slug: site.slug } }, body }));
    emit("kept");
  } catch (refusal) {
    trouble.value = sentence(refusal);
  } finally {
    isBusy.value = false;
  }
}
</script>

<template>
  <section v-if="fit?.worn.length" class="TakePalette" aria-labelledby="take-palette">
    <h3 id="take-palette">{{ count(fit.worn.length, "of its colours fits", "of its colours fit") }} here</h3>
    <ul>
      <li v-for="one in fit.worn.slice(0, MOST)" :key="one.ours">
        <i :style="{ background: one.colour }" data-specimen />
        {{ one.theirs === one.ours ? one.ours : `${one.theirs} → ${one.ours}` }}
      </li>
    </ul>
    <p v-if="fit.worn.length > MOST" class="soft">and {{ fit.worn.length - MOST }} more</p>
    <p v-if="fit.coats.length">Its coats come along: {{ fit.coats.join(", ") }}.</p>
    <p v-if="fit.backdrops">{{ count(fit.backdrops, "backdrop") }} too.</p>
    <details v-if="fit.left.length">
      <summary>{{ count(fit.left.length, "thing does", "things do") }} not fit</summary>
      <ul>
        <li v-for="one in fit.left" :key="one">{{ one }}</li>
      </ul>
    </details>
    <p v-if="trouble" role="alert">{{ trouble }}</p>
    <el-button type="primary" :loading="isBusy" @click="take">Take this palette</el-button>
  </section>
</template>

<style scoped>
.TakePalette {
  display: grid;
  gap: 6px;
  justify-items: start;
  padding: 8px 10px 10px;
  border: 1px solid var(--ink);
  font-size: 13px;
}
ul {
  display: grid;
  gap: 2px;
  margin: 0;
  padding: 0;
  list-style: none;
}
li {
  display: flex;
  gap: 7px;
  align-items: center;
}
i {
  flex: none;
  width: 17px;
  height: 17px;
  border: 1px solid #0004;
}
</style>
