<script setup lang="ts">
import { ElButton } from "element-plus";
import { computed, onMounted, shallowRef } from "vue";
import { RouterLink } from "vue-router";
import client, { ask, type Found } from "@/api/client";
import { uploadAgain } from "@/api/upload";
import { useBringing } from "@/composables/useBringing";
import FolderOrZip from "@/parts/FolderOrZip.vue";
import LookFrame from "@/parts/LookFrame.vue";
import PageMiniature from "@/parts/PageMiniature.vue";
import { count, pageName } from "@/logic/words";
import { useBench, WIDTHS } from "@/stores/bench";

/** What came in, what could not be read, what changed the last time, and the way to bring it in again. */
const bench = useBench();
const found = shallowRef<Found | null>(null);
const { trouble, sending, say, bring } = useBringing();
const heading = computed(() => {
  const { pages = 0, texts = 0 } = found.value ?? {};
  return found.value ? `${count(pages, "page")} came in, with ${count(texts, "text")}.` : "What came in";
});
const about = computed(() =>
  bench.site?.address ? `From ${bench.site.address}. Nothing on it is changed.` : "As it is; nothing on it is changed.",
);

onMounted(async () => {
  try {
    found.value = await ask(client.GET("/api/sites/{slug}/found", { params: { path: { slug: bench.slug } } }));
  } catch (refusal) {
    say(refusal);
  }
});

const byAddress = () =>
  bring(() => ask(client.POST("/api/sites/{slug}/again/address", { params: { path: { slug: bench.slug } } })));
const byArchive = (archive: File) => bring(() => uploadAgain(bench.slug, archive, (share) => (sending.value = share)));
</script>

<template>
  <look-frame :heading="heading" :about="about">
    <p v-if="trouble" class="trouble" role="alert">{{ trouble }}</p>
    <div class="sides">
      <ul class="pages">
        <li v-for="page in bench.pages" :key="page.path">
          <page-miniature :page="page" :width="WIDTHS.wide.width" :height="WIDTHS.wide.height" />
          <b :title="page.path">{{ pageName(page) }}</b>
        </li>
      </ul>
      <div class="words">
        <section v-if="found?.changes.length" aria-labelledby="changed">
          <h2 id="changed">Since the last time</h2>
          <ul>
            <li v-for="change in found.changes" :key="change">{{ change }}</li>
          </ul>
        </section>
        <section aria-labelledby="not-read">
          <h2 id="not-read">What could not be read</h2>
          <p v-if="found && !found.notes.length" class="soft">Nothing: all of it was read.</p>
          <ul v-else-if="found">
            <li v-for="note in found.notes" :key="note">{{ note }}</li>
          </ul>
        </section>
        <section aria-labelledby="again">
          <h2 id="again">Bring it in again</h2>
          <p class="soft">New and changed pages are taken up. Your colours, and what lies under which role, stay.</p>
          <el-button v-if="bench.site?.address" @click="byAddress">Fetch it from its address</el-button>
          <folder-or-zip :sending="sending" @archive="byArchive" @refused="say" />
        </section>
      </div>
    </div>
    <template #foot>
      <span class="soft">Next: the colours it uses.</span>
      <router-link v-slot="{ navigate }" custom :to="{ name: 'found' }">
        <el-button type="primary" @click="navigate()">The colours found</el-button>
      </router-link>
    </template>
  </look-frame>
</template>

<style scoped>
.sides {
  display: grid;
  grid-template-columns: 1fr 340px;
  gap: 28px;
}
ul {
  margin: 0;
  padding: 0;
  list-style: none;
}
.pages {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(190px, 1fr));
  gap: 14px;
  align-content: start;
}
.pages b {
  display: block;
  overflow: hidden;
  padding-top: 3px;
  font-size: 13px;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.words {
  display: grid;
  gap: 22px;
  align-content: start;
}
section {
  display: grid;
  gap: 8px;
  justify-items: start;
}
section li {
  padding: 5px 0;
  border-top: 1px solid var(--rule);
  overflow-wrap: anywhere;
}
.trouble {
  margin-bottom: 12px;
  font-weight: 700;
}
@media (max-width: 900px) {
  .sides {
    grid-template-columns: 1fr;
  }
}
</style>
