<script setup lang="ts">
import { ElButton, ElDialog } from "element-plus";
import { computed, ref } from "vue";
import { RouterLink } from "vue-router";
import type { SiteCard } from "@/api/client";
import { count, dateText } from "@/logic/words";

/** A site as its colours in proportion, how much of it is readable, and what waits to be released. */
const props = defineProps<{ site: SiteCard }>();
const emit = defineEmits<{ remove: [] }>();
const isAsking = ref(false);
const facts = computed(() => {
  const { pages, live_since, waiting } = props.site;
  const live = live_since ? `live since ${dateText(live_since)}` : "not live yet";
  return [count(pages, "page"), live, waiting ? `${count(waiting, "change")} to release` : "nothing changed"].join(
    " · ",
  );
});
</script>

<template>
  <li class="ShelfCard">
    <router-link :to="{ name: 'bench', params: { slug: site.slug } }" class="open">
      <span class="strip" aria-hidden="true"
        ><i v-for="one in site.strip" :key="one.colour" :style="{ background: one.colour, flexGrow: one.share * 100 }"
      /></span>
      <span class="body">
        <b class="name">{{ site.name }}</b>
        <span class="soft">{{ facts }}</span>
        <span class="gauge" aria-hidden="true"
          ><i :style="{ width: `${(100 * site.readable) / Math.max(1, site.texts)}%` }"
        /></span>
        <span
          ><b>{{ site.readable }}</b> of {{ site.texts }} texts are readable</span
        >
      </span>
    </router-link>
    <button type="button" class="act remove" :aria-label="`Remove ${site.name}`" @click="isAsking = true">
      Remove
    </button>
    <el-dialog v-model="isAsking" :title="`Remove ${site.name}?`" width="420" append-to="#dialogs">
      <p>Its pages, studies and releases are deleted, and its live site goes offline. This cannot be undone.</p>
      <template #footer>
        <el-button @click="isAsking = false">Keep</el-button>
        <el-button type="primary" @click="emit('remove')">Remove</el-button>
      </template>
    </el-dialog>
  </li>
</template>

<style scoped>
.ShelfCard {
  position: relative;
  border: 1px solid var(--rule);
  background: var(--paper);
}
.ShelfCard:hover {
  border-color: var(--ink);
}
.open {
  display: block;
  text-decoration: none;
}
.strip {
  display: flex;
  height: 150px;
}
.body {
  display: grid;
  gap: 2px;
  padding: 13px 16px 14px;
}
.name {
  font-size: 19px;
}
.gauge {
  height: 8px;
  margin: 11px 0 4px;
  border: 1px solid var(--ink);
}
.gauge i {
  display: block;
  height: 100%;
  background: var(--ink);
}
.remove {
  position: absolute;
  right: 14px;
  bottom: 14px;
  font-size: 13px;
}
</style>
