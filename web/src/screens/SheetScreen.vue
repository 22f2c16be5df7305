<script setup lang="ts">
import { ElButton } from "element-plus";
import { onMounted, ref, shallowRef } from "vue";
import { useRoute } from "vue-router";
import client, { ask, type Schemas, sentence } from "@/api/client";
import SheetRole from "@/parts/studies/SheetRole.vue";
import { ratioText } from "@/logic/words";

/** The palette on one page to be printed: the short palette with its codes, what each coat has, which text goes where. */
const route = useRoute();
const sheet = shallowRef<Schemas["Sheet"] | null>(null);
const trouble = ref("");
const date = new Intl.DateTimeFormat("en-GB", { dateStyle: "long" }).format(new Date());
const print = () => window.print();

onMounted(async () => {
  try {
    const path = { slug: route.params.slug as string };
    sheet.value = await ask(client.GET("/api/sites/{slug}/sheet", { params: { path } }));
  } catch (refusal) {
    trouble.value = sentence(refusal);
  }
});
</script>

<template>
  <main class="SheetScreen" tabindex="-1">
    <p v-if="trouble" role="alert">{{ trouble }}</p>
    <p v-else-if="!sheet" class="soft" aria-busy="true">Putting the colours together…</p>
    <template v-if="sheet">
      <header>
        <div>
          <h1>The colours of {{ sheet.site }}</h1>
          <p class="soft">{{ sheet.study }}, {{ date }}</p>
        </div>
        <el-button class="press" @click="print">Print, or save as PDF</el-button>
      </header>
      <ul class="roles">
        <sheet-role v-for="role in sheet.roles" :key="role.id" :role="role" />
      </ul>
      <section v-for="coat in sheet.coats" :key="coat.label" class="coat">
        <h2>{{ coat.label }}</h2>
        <ul class="roles few">
          <sheet-role v-for="role in coat.roles" :key="role.id" :role="role" short />
        </ul>
      </section>
      <details class="more">
        <summary>Details ({{ sheet.details.length }})</summary>
        <ul class="roles few">
          <sheet-role v-for="role in sheet.details" :key="role.id" :role="role" short />
        </ul>
      </details>
      <h2>Which text goes on which background</h2>
      <ul class="pairs">
        <li v-for="(pair, place) in sheet.pairs.slice(0, 18)" :key="place">
          <p :style="{ color: pair.text_colour, background: pair.background_colour }" data-specimen>
            {{ pair.sample }}
          </p>
          <p>
            {{ pair.text }} on {{ pair.background }}: <b>{{ ratioText(pair.ratio ?? null) }}</b>, {{ pair.use }}
          </p>
        </li>
      </ul>
    </template>
  </main>
</template>

<style scoped>
.SheetScreen {
  flex: 1;
  overflow-y: auto;
  padding: 20px 28px;
  background: var(--raised);
}
header {
  display: flex;
  align-items: flex-start;
  justify-content: space-between;
  margin-bottom: 14px;
}
ul {
  display: grid;
  gap: 8px 18px;
  margin: 0 0 18px;
  padding: 0;
  list-style: none;
}
.roles {
  grid-template-columns: repeat(auto-fill, minmax(230px, 1fr));
}
.few {
  grid-template-columns: repeat(auto-fill, minmax(150px, 1fr));
  margin-bottom: 10px;
}
.coat {
  break-inside: avoid;
}
h2 {
  margin-bottom: 6px;
  font-size: 14px;
}
.more summary {
  margin-bottom: 8px;
  cursor: pointer;
}
.pairs {
  grid-template-columns: repeat(auto-fill, minmax(270px, 1fr));
  font-size: 12px;
}
.pairs li {
  break-inside: avoid;
}
.pairs li > p:first-child {
  overflow: hidden;
  padding: 6px 10px;
  font-size: 15px;
  text-overflow: ellipsis;
  white-space: nowrap;
  print-color-adjust: exact;
}
@media print {
  .more {
    display: none;
  }
  .SheetScreen {
    overflow: visible;
    padding: 0;
  }
  .press {
    display: none;
  }
}
</style>
<style>
@media print {
  .TopBar {
    display: none !important;
  }
  html,
  body,
  #app,
  .SiteFrame {
    height: auto !important;
    background: #fff !important;
  }
}
</style>
