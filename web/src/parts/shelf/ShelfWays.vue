<script setup lang="ts">
import { ElButton, ElInput } from "element-plus";
import { computed, ref } from "vue";
import type { Schemas } from "@/api/client";
import FolderOrZip from "@/parts/common/FolderOrZip.vue";
import { useSession } from "@/stores/session";

/** The ways in. */
defineProps<{ samples: Schemas["SampleOut"][]; sending: number | null }>();
const emit = defineEmits<{
  zip: [archive: File, mostPages: number];
  sample: [name: string];
  address: [address: string, mostPages: number];
  refused: [why: unknown];
}>();
const session = useSession();
const standIn = computed(() => session.standIn);
const address = ref("");
const mostPages = ref("500");
const MOST_EVER = 3000;

function limit(): number | null {
  const pages = Number(mostPages.value);
  if (Number.isInteger(pages) && pages >= 1 && pages <= MOST_EVER) return pages;
  emit("refused", new Error(`The page limit is a whole number from 1 to ${MOST_EVER.toLocaleString("en-GB")}.`));
  return null;
}

function fetchIt(): void {
  const pages = limit();
  if (pages !== null) emit("address", address.value, pages);
}

function read(archive: File): void {
  const pages = limit();
  if (pages !== null) emit("zip", archive, pages);
}
</script>

<template>
  <div class="ShelfWays">
    <section>
      <h2>Bring in a site</h2>
      <folder-or-zip :sending="sending" label="new" @archive="read" @refused="emit('refused', $event)" />
      <label class="few">Page limit <input v-model="mostPages" inputmode="numeric" /></label>
    </section>
    <section>
      <h2>Or from its web address</h2>
      <form @submit.prevent="fetchIt">
        <label for="address">Web address</label>
        <el-input id="address" v-model="address" placeholder="https://your-site.example" autocomplete="off" />
        <label class="few"
          >Page limit <input v-model="mostPages" inputmode="numeric" aria-label="Page limit for this address"
        /></label>
        <el-button native-type="submit" :disabled="!address.trim()">Bring it in</el-button>
      </form>
      <p v-if="standIn" class="soft">
        The demo brings a small web of its own. Try:
        <button type="button" class="act" @click="address = standIn">{{ standIn }}</button>
      </p>
    </section>
    <section>
      <h2>Or start with a sample</h2>
      <ul>
        <li v-for="sample in samples" :key="sample.name">
          <el-button @click="emit('sample', sample.name)">{{ sample.title }}</el-button>
          <span class="soft">{{ sample.about }}</span>
        </li>
      </ul>
    </section>
  </div>
</template>

<style scoped>
.ShelfWays {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(min(100%, 330px), 1fr));
  gap: 24px;
}
section {
  display: grid;
  gap: 9px;
  align-content: start;
  justify-items: start;
  padding: 22px;
  border: 1px dashed var(--edge);
  background: var(--sunk);
}
form {
  display: grid;
  gap: 8px;
  justify-items: start;
  width: 100%;
}
.few input {
  width: 4.5em;
  padding: 3px 6px;
  border: 1px solid var(--edge);
  border-radius: var(--corner);
  background: var(--raised);
}
ul {
  display: grid;
  gap: 10px;
  margin: 0;
  padding: 0;
  list-style: none;
}
li {
  display: grid;
  gap: 3px;
  justify-items: start;
}
</style>
