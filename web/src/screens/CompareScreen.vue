<script setup lang="ts">
import { ElButton } from "element-plus";
import { onMounted, ref, shallowRef } from "vue";
import { useRoute, useRouter } from "vue-router";
import client, { ask, type Schemas, sentence } from "@/api/client";
import ComparePages from "@/parts/studies/ComparePages.vue";
import ReadMark from "@/parts/common/ReadMark.vue";
import { readabilityText, sentenceCase } from "@/logic/words";
import { useSite } from "@/stores/site";
import { useStudy } from "@/stores/study";

/** Two studies across all pages at once, and as two columns of changes with what each does to reading. */
const site = useSite();
const study = useStudy();
const route = useRoute();
const router = useRouter();
const found = shallowRef<Schemas["ComparedOut"] | null>(null);
const trouble = ref("");

onMounted(async () => {
  const query = { one: Number(route.params.one), other: Number(route.params.other) };
  try {
    found.value = await ask(
      client.GET("/api/sites/{slug}/compare", { params: { path: { slug: route.params.slug as string }, query } }),
    );
  } catch (refusal) {
    trouble.value = sentence(refusal);
  }
});

async function go(number: number): Promise<void> {
  const path = { slug: site.slug, number };
  await ask(client.POST("/api/sites/{slug}/studies/{number}", { params: { path }, body: { what: "open", name: "" } }));
  await study.load(site.slug);
  await router.push({ name: "bench" });
}
</script>

<template>
  <main class="CompareScreen" tabindex="-1">
    <h1 v-if="found">{{ found.sides[0]!.name }} and {{ found.sides[1]!.name }}</h1>
    <p v-if="trouble" role="alert">{{ trouble }}</p>
    <p v-else-if="!found" class="soft" aria-busy="true">Reading both studies…</p>
    <div v-if="found" class="heads">
      <section v-for="side in found.sides" :key="side.number">
        <h2>{{ side.name }}</h2>
        <p class="soft">
          {{ sentenceCase(readabilityText(side.hard_texts, side.texts)) }}
        </p>
        <el-button size="small" @click="go(side.number)">Work on this one</el-button>
      </section>
    </div>
    <div v-if="found" class="middle">
      <compare-pages :sides="found.sides" />
      <table>
        <caption>
          {{
            found.roles.length === 1 ? "1 colour differs" : `${found.roles.length} colours differ`
          }}
        </caption>
        <thead>
          <tr>
            <th>Colour</th>
            <th v-for="side in found.sides" :key="side.number">{{ side.name }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="role in found.roles" :key="role.id">
            <th>{{ role.label }}</th>
            <td v-for="n in [0, 1]" :key="n">
              <template v-if="role.colours[n]">
                <i :style="{ background: role.colours[n]! }" data-specimen /> {{ role.colours[n]!.toUpperCase() }}
                <read-mark v-if="role.lowest[n]" :verdict="role.verdicts[n]!" :ratio="role.lowest[n]!" />
              </template>
              <span v-else class="soft">none</span>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </main>
</template>

<style scoped>
.CompareScreen {
  flex: 1;
  overflow-y: auto;
  padding: 16px 20px;
  background: var(--paper);
}
.heads {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 20px;
  margin: 10px 0;
}
.heads section {
  display: flex;
  gap: 14px;
  align-items: center;
}
.middle {
  display: grid;
  grid-template-columns: minmax(0, 1.5fr) minmax(340px, 1fr);
  gap: 20px;
  align-items: start;
}
table {
  border-collapse: collapse;
  font-size: 13px;
}
caption {
  padding-bottom: 6px;
  text-align: left;
}
th,
td {
  padding: 4px 8px 4px 0;
  border-top: 1px solid var(--rule);
  text-align: left;
}
i {
  display: inline-block;
  width: 18px;
  height: 18px;
  box-shadow: inset 0 0 0 1px #0003;
  vertical-align: -4px;
}
@media (max-width: 900px) {
  .middle {
    grid-template-columns: 1fr;
  }
}
</style>
