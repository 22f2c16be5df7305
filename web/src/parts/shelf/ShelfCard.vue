<script setup lang="ts">
import { ElButton, ElDialog, ElDropdown, ElDropdownItem, ElDropdownMenu, ElInput } from "element-plus";
import { computed, ref } from "vue";
import { RouterLink } from "vue-router";
import type { SiteCard } from "@/api/client";
import { count, dateText } from "@/logic/words";

/** A site as its colours in proportion, how much of it is readable, and what waits to be released. */
const props = defineProps<{ site: SiteCard }>();
const emit = defineEmits<{ remove: []; rename: [name: string]; copy: []; save: []; away: [isAway: boolean] }>();
const isAsking = ref(false);
const isNaming = ref(false);
const name = ref("");
function turn(to: "rename" | "copy" | "save" | "away" | "delete"): void {
  if (to === "copy") emit("copy");
  else if (to === "save") emit("save");
  else if (to === "away") emit("away", !props.site.is_away);
  else if (to === "delete") isAsking.value = true;
  else {
    name.value = props.site.name;
    isNaming.value = true;
  }
}
function rename(): void {
  isNaming.value = false;
  emit("rename", name.value);
}
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
    <el-dropdown trigger="click" class="more" append-to="#dialogs" @command="turn">
      <button type="button" class="act" :aria-label="`More for ${site.name}`">More ▾</button>
      <template #dropdown>
        <el-dropdown-menu>
          <el-dropdown-item command="rename">Rename</el-dropdown-item>
          <el-dropdown-item command="copy">Make a copy</el-dropdown-item>
          <el-dropdown-item command="save">Download with everything</el-dropdown-item>
          <el-dropdown-item command="away">{{ site.is_away ? "Take out again" : "Put away" }}</el-dropdown-item>
          <el-dropdown-item command="delete" divided>Delete</el-dropdown-item>
        </el-dropdown-menu>
      </template>
    </el-dropdown>
    <el-dialog v-model="isAsking" :title="`Delete ${site.name}?`" width="420" append-to="#dialogs">
      <p>Its live site goes offline. For 30 days you can take it back; then it is gone for good.</p>
      <template #footer>
        <el-button @click="isAsking = false">Keep</el-button>
        <el-button type="primary" @click="emit('remove')">Delete</el-button>
      </template>
    </el-dialog>
    <el-dialog v-model="isNaming" title="Rename" width="420" append-to="#dialogs">
      <form @submit.prevent="rename">
        <el-input v-model="name" maxlength="80" aria-label="Name of the site" />
        <p class="acts"><el-button type="primary" native-type="submit" :disabled="!name.trim()">Rename</el-button></p>
      </form>
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
.more {
  position: absolute;
  right: 14px;
  bottom: 14px;
  font-size: 13px;
}
</style>
