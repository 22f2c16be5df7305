<script setup lang="ts">
import { ElButton } from "element-plus";
import { computed, onMounted, shallowRef } from "vue";
import { RouterLink } from "vue-router";
import client, { ask, type Found } from "@/api/client";
import { uploadAgain } from "@/api/upload";
import { useBringing } from "@/composables/useBringing";
import FolderOrZip from "@/parts/common/FolderOrZip.vue";
import LookFrame from "@/parts/site/LookFrame.vue";
import PageMiniature from "@/parts/common/PageMiniature.vue";
import { count } from "@/logic/words";
import { useSite } from "@/stores/site";
import { WIDTHS } from "@/stores/view";

/** The site as it is, what could not be read, what the last update changed, and the next update. */
const site = useSite();
const found = shallowRef<Found | null>(null);
const { trouble, sending, say, bring } = useBringing();
const heading = computed(() => {
  const { pages = 0, texts = 0 } = found.value ?? {};
  return found.value ? `${count(pages, "page")} with ${count(texts, "text")}.` : "Your site";
});
const about = computed(() =>
  site.site?.address ? `From ${site.site.address}. Glaucon changes nothing there.` : "The original, unchanged.",
);

onMounted(async () => {
  try {
    found.value = await ask(client.GET("/api/sites/{slug}/found", { params: { path: { slug: site.slug } } }));
  } catch (refusal) {
    say(refusal);
  }
});

const byAddress = () =>
  bring(() => ask(client.POST("/api/sites/{slug}/again/address", { params: { path: { slug: site.slug } } })));
const byArchive = (archive: File) => bring(() => uploadAgain(site.slug, archive, (share) => (sending.value = share)));
</script>

<template>
  <look-frame :heading="heading" :about="about">
    <p v-if="trouble" class="trouble" role="alert">{{ trouble }}</p>
    <div class="sides">
      <ul class="pages">
        <li v-for="page in site.pages" :key="page.path">
          <page-miniature :page="page" :width="WIDTHS.wide.width" :height="WIDTHS.wide.height" />
          <b :title="page.path">{{ site.names.get(page.path) }}</b>
        </li>
      </ul>
      <div class="words">
        <section v-if="found?.changes.length" aria-labelledby="changed">
          <h2 id="changed">What changed in the last update</h2>
          <ul>
            <li v-for="change in found.changes" :key="change">{{ change }}</li>
          </ul>
        </section>
        <section aria-labelledby="not-read">
          <h2 id="not-read">What could not be read</h2>
          <p v-if="found && !found.notes.length" class="soft">Nothing. All of it was read.</p>
          <ul v-else-if="found">
            <li v-for="note in found.notes" :key="note">{{ note }}</li>
          </ul>
        </section>
        <section aria-labelledby="again">
          <h2 id="again">Update from the site</h2>
          <p class="soft">New and changed pages are added. Your colours stay.</p>
          <el-button v-if="site.site?.address" @click="byAddress">Update from the web address</el-button>
          <folder-or-zip :sending="sending" @archive="byArchive" @refused="say" />
        </section>
      </div>
    </div>
    <template #foot>
      <span class="soft">Next: its colours.</span>
      <router-link v-slot="{ navigate }" custom :to="{ name: 'found' }">
        <el-button type="primary" @click="navigate()">See the colours found</el-button>
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
