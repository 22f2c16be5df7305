<script setup lang="ts">
import { onMounted, shallowRef } from "vue";
import client, { ask, type Schemas, type SiteCard } from "@/api/client";
import { uploadArchive } from "@/api/upload";
import { useBringing } from "@/composables/useBringing";
import RoomBar from "@/parts/account/RoomBar.vue";
import ShelfCard from "@/parts/shelf/ShelfCard.vue";
import ShelfWays from "@/parts/shelf/ShelfWays.vue";
import TopBar from "@/parts/common/TopBar.vue";
import { dateText } from "@/logic/words";

/** Choosing a site, or bringing one. */
const sites = shallowRef<SiteCard[] | null>(null);
const isReading = shallowRef(false);
const gone = shallowRef<Schemas["GoneOut"][]>([]);
const samples = shallowRef<Schemas["SampleOut"][]>([]);
const { trouble, sending, say, bring } = useBringing();

async function load(): Promise<void> {
  try {
    const listed = ask(client.GET("/api/sites"), undefined, () => (isReading.value = true));
    const asked = [ask(client.GET("/api/samples")), ask(client.GET("/api/gone"))] as const;
    [sites.value, samples.value, gone.value] = await Promise.all([listed, ...asked]);
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

async function run(step: () => Promise<unknown>): Promise<void> {
  try {
    await step();
    await load();
  } catch (refusal) {
    say(refusal);
  }
}
const of = (slug: string) => ({ params: { path: { slug } } });
const gonePath = (slug: string) => ({ params: { path: { gone: slug } } });
/** The site that is being written as a project. */
const saving = shallowRef("");
/** Writes a site with everything as one archive, then downloads it. */
async function save({ slug, name }: SiteCard): Promise<void> {
  saving.value = name;
  try {
    await ask(client.GET("/api/sites/{slug}/project", of(slug)));
    location.assign(`/api/sites/${slug}/project/file`);
  } catch (refusal) {
    say(refusal);
  }
  saving.value = "";
}
/** What can be done with a site on the shelf. */
const turns = (site: SiteCard) => ({
  remove: () => run(() => ask(client.DELETE("/api/sites/{slug}", of(site.slug)))),
  rename: (name: string) => run(() => ask(client.POST("/api/sites/{slug}/name", { ...of(site.slug), body: { name } }))),
  copy: () => run(() => ask(client.POST("/api/sites/{slug}/copy", of(site.slug)))),
  away: (is_away: boolean) =>
    run(() => ask(client.POST("/api/sites/{slug}/away", { ...of(site.slug), body: { is_away } }))),
  save: () => save(site),
});
const takeBack = (slug: string) => run(() => ask(client.POST("/api/gone/{gone}/back", gonePath(slug))));
const deleteForGood = (slug: string) => run(() => ask(client.DELETE("/api/gone/{gone}", gonePath(slug))));
</script>

<template>
  <div class="ShelfScreen">
    <top-bar />
    <main>
      <h1>Your sites</h1>
      <p v-if="trouble" class="trouble" role="alert">{{ trouble }}</p>
      <p v-if="saving" class="soft" role="status">Packing {{ saving }} with its studies and releases…</p>
      <p v-if="!sites && !trouble" class="soft" aria-busy="true">
        {{ isReading ? "Your sites are being read again. This takes a moment…" : "Loading your sites…" }}
      </p>
      <p v-else-if="sites && !sites.length" class="soft">No sites yet. Bring one in, or start with the sample.</p>
      <ul v-else-if="sites" class="cards">
        <shelf-card
          v-for="site in sites.filter((one) => !one.is_away)"
          :key="site.slug"
          :site="site"
          v-on="turns(site)"
        />
      </ul>
      <shelf-ways
        :samples="samples"
        :sending="sending"
        @zip="bringZip"
        @sample="bringSample"
        @address="bringAddress"
        @refused="say"
      />
      <details v-if="sites?.some((one) => one.is_away)">
        <summary>Put away ({{ sites.filter((one) => one.is_away).length }})</summary>
        <ul class="cards">
          <shelf-card
            v-for="site in sites.filter((one) => one.is_away)"
            :key="site.slug"
            :site="site"
            v-on="turns(site)"
          />
        </ul>
      </details>
      <details v-if="gone.length">
        <summary>Deleted ({{ gone.length }})</summary>
        <p v-for="one in gone" :key="one.slug">
          {{ one.name }} <span class="soft">can be taken back until {{ dateText(one.until) }}</span>
          <button type="button" class="act" @click="takeBack(one.slug)">Take it back</button>
          <button type="button" class="act" @click="deleteForGood(one.slug)">Delete for good</button>
        </p>
      </details>
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
details {
  margin-top: 20px;
}
details p {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  padding: 6px 0;
}
details .cards {
  margin-top: 14px;
}
summary {
  cursor: pointer;
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
