<script setup lang="ts">
import { onMounted, shallowRef } from "vue";
import client, { ask, type Schemas, type SiteCard } from "@/api/client";
import { uploadArchive } from "@/api/upload";
import { useBringing } from "@/composables/useBringing";
import RoomBar from "@/parts/account/RoomBar.vue";
import ShelfCard from "@/parts/shelf/ShelfCard.vue";
import ShelfWays from "@/parts/shelf/ShelfWays.vue";
import TopBar from "@/parts/common/TopBar.vue";

/** Choosing a site, or bringing one. */
const sites = shallowRef<SiteCard[] | null>(null);
const isReading = shallowRef(false);
const samples = shallowRef<Schemas["SampleOut"][]>([]);
const { trouble, sending, say, bring } = useBringing();

async function load(): Promise<void> {
  try {
    const listed = ask(client.GET("/api/sites"), undefined, () => (isReading.value = true));
    [sites.value, samples.value] = await Promise.all([listed, ask(client.GET("/api/samples"))]);
  } catch (refusal) {
    say(refusal);
  }
}
onMounted(load);

const bringSample = (name: string) => bring(() => ask(client.POST("/api/bring/sample", { body: { name } })));
const bringZip = (archive: File, mostPages: number) =>
  bring(() => uploadArchive(archive, mostPages, (share) => (sending.value = share)));
const bringAddress = (address: string, most_pages: number) =>
  bring(() => ask(client.POST("/api/bring/address", { body: { address, most_pages } })));

async function remove(site: SiteCard): Promise<void> {
  try {
    await ask(client.DELETE("/api/sites/{slug}", { params: { path: { slug: site.slug } } }));
    await load();
  } catch (refusal) {
    say(refusal);
  }
}
</script>

<template>
  <div class="ShelfScreen">
    <top-bar />
    <main>
      <h1>Your sites</h1>
      <p v-if="trouble" class="trouble" role="alert">{{ trouble }}</p>
      <p v-if="!sites && !trouble" class="soft" aria-busy="true">
        {{ isReading ? "Your sites are being read again. This takes a moment…" : "Loading your sites…" }}
      </p>
      <p v-else-if="sites && !sites.length" class="soft">No sites yet. Bring one in, or start with the sample.</p>
      <ul v-else-if="sites" class="cards">
        <shelf-card v-for="site in sites" :key="site.slug" :site="site" @remove="remove(site)" />
      </ul>
      <shelf-ways
        :samples="samples"
        :sending="sending"
        @zip="bringZip"
        @sample="bringSample"
        @address="bringAddress"
        @refused="say"
      />
      <room-bar :from="0.7" />
    </main>
  </div>
</template>

<style scoped>
.ShelfScreen {
  min-height: 100%;
}
main {
  max-width: 1280px;
  margin: 0 auto;
  padding: 26px 40px 60px;
}
h1 {
  margin-bottom: 18px;
  font-size: 28px;
}
.cards {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(330px, 1fr));
  gap: 24px;
  margin: 0 0 26px;
  padding: 0;
  list-style: none;
}
.trouble {
  margin-bottom: 16px;
  padding: 9px 14px;
  border: 2px solid var(--ink);
  background: var(--raised);
  font-weight: 700;
}
@media (max-width: 600px) {
  main {
    padding: 18px 14px 40px;
  }
  .cards {
    grid-template-columns: 1fr;
  }
}
</style>
