<script setup lang="ts">
import { ElButton } from "element-plus";
import { onMounted, ref, shallowRef } from "vue";
import { useRoute } from "vue-router";
import client, { ask, type Schemas } from "@/api/client";
import { ratioText } from "@/logic/words";

/** The palette on one page to be printed: codes, pairings and what each may be used for. */
const route = useRoute();
const sheet = shallowRef<Schemas["SheetOut"] | null>(null);
const trouble = ref("");
const date = new Intl.DateTimeFormat("en-GB", { dateStyle: "long" }).format(new Date());
const print = () => window.print();

onMounted(async () => {
  try {
    const path = { slug: route.params.slug as string };
    sheet.value = await ask(client.GET("/api/sites/{slug}/sheet", { params: { path } }));
  } catch (refusal) {
    trouble.value = refusal instanceof Error ? refusal.message : String(refusal);
  }
});
</script>

<template>
  <main class="SheetScreen" tabindex="-1">
    <p v-if="trouble" role="alert">{{ trouble }}</p>
    <template v-if="sheet">
      <header>
        <div>
          <h1>The colours of {{ sheet.site }}</h1>
          <p class="soft">{{ sheet.study }}, {{ date }}</p>
        </div>
        <el-button class="press" @click="print">Print, or save as PDF</el-button>
      </header>
      <ul class="roles">
        <li v-for="role in sheet.roles" :key="role.name">
          <i :style="{ background: role.hex }" data-specimen />
          <div>
            <b>{{ role.label }}</b>
            <p>{{ role.hex.toUpperCase() }}</p>
            <p>{{ role.rgb }}</p>
            <p>{{ role.hsl }}</p>
            <p>{{ role.oklch }}</p>
            <p v-if="role.follows" class="soft">follows {{ role.follows }}</p>
          </div>
        </li>
      </ul>
      <h2>What may stand on what</h2>
      <ul class="pairs">
        <li v-for="(pair, place) in sheet.pairs" :key="place">
          <p :style="{ color: pair.words_colour, background: pair.ground_colour }" data-specimen>{{ pair.sample }}</p>
          <p>
            {{ pair.words }} on {{ pair.ground }}: <b>{{ ratioText(pair.ratio ?? null) }}</b>, {{ pair.use }}
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
  grid-template-columns: repeat(auto-fill, minmax(210px, 1fr));
}
.roles li {
  display: grid;
  grid-template-columns: 54px 1fr;
  gap: 10px;
  font-size: 12px;
  line-height: 1.35;
  break-inside: avoid;
}
.roles i {
  box-shadow: inset 0 0 0 1px #0003;
  print-color-adjust: exact;
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
