<script setup lang="ts">
import { ElButton, ElInput } from "element-plus";
import { computed, ref } from "vue";
import type { Schemas } from "@/api/client";
import FolderOrZip from "@/parts/FolderOrZip.vue";
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
const mostPages = ref("200");

const mostRead = ref("500");

function wholeNumber(text: string, most: number): number | null {
  const pages = Number(text);
  if (Number.isInteger(pages) && pages >= 1 && pages <= most) return pages;
  emit("refused", new Error(`The most pages is a whole number from 1 to ${most.toLocaleString("en-GB")}.`));
  return null;
}

function fetchIt(): void {
  const pages = wholeNumber(mostPages.value, 1000);
  if (pages !== null) emit("address", address.value, pages);
}

function read(archive: File): void {
  const pages = wholeNumber(mostRead.value, 3000);
  if (pages !== null) emit("zip", archive, pages);
}
</script>

<template>
  <div class="ShelfWays">
    <section>
      <h2>Bring a site</h2>
      <folder-or-zip :sending="sending" label="new" @archive="read" @refused="emit('refused', $event)" />
      <label class="few"
        >Read at most <input v-model="mostRead" inputmode="numeric" aria-label="Most pages to read" /> pages</label
      >
    </section>
    <section>
      <h2>Bring it from its address</h2>
      <form @submit.prevent="fetchIt">
        <label for="address">Address of the site</label>
        <el-input id="address" v-model="address" placeholder="https://your-site.example" autocomplete="off" />
        <label class="few"
          >At most
          <input v-model="mostPages" inputmode="numeric" aria-label="Most pages to fetch" />
          pages</label
        >
        <el-button native-type="submit" :disabled="!address.trim()">Fetch it</el-button>
      </form>
      <p v-if="standIn" class="soft">
        In this demo a small host stands in for the outside:
        <button type="button" class="act" @click="address = standIn">{{ standIn }}</button>
      </p>
    </section>
    <section>
      <h2>Start from a sample</h2>
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
