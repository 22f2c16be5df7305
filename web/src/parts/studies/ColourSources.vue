<script setup lang="ts">
import { ElButton, ElInput, ElOption, ElRadioButton, ElRadioGroup, ElSelect } from "element-plus";
import { onMounted, ref, shallowRef } from "vue";
import client, { ask, type SiteCard, sentence } from "@/api/client";
import PictureColours from "@/parts/studies/PictureColours.vue";

/** Where the colours of a new palette come from: typed codes, a picture, a palette file, another site. */
defineProps<{ slug: string }>();
const codes = defineModel<string>({ required: true });
const emit = defineEmits<{ add: [hex: string]; seeds: [colours: string[]]; palette: [text: string] }>();
const SOURCES = {
  codes: "Codes",
  picture: "Picture",
  file: "Palette file",
  site: "Another site",
} as const;
const source = ref<keyof typeof SOURCES>("codes");
const offered = shallowRef<{ name: string; colour: string }[]>([]);
const pasted = ref("");
const others = shallowRef<SiteCard[]>([]);
const otherSite = ref("");
const trouble = ref("");

onMounted(async () => {
  others.value = await ask(client.GET("/api/sites")).catch(() => []);
});

const read = (text: string) => ask(client.POST("/api/palette/read", { body: { text } }));

let reading = Promise.resolve();
/** Adds the colours that were typed, however many; what is not understood stays, with what would be. */
function takeCodes(): Promise<void> {
  return (reading = reading.then(async () => {
    const text = codes.value.trim();
    if (!text) return;
    try {
      for (const one of await read(text)) emit("add", one.colour);
      codes.value = trouble.value = "";
    } catch (refusal) {
      trouble.value = sentence(refusal);
    }
  }));
}

async function readFile(text: string): Promise<void> {
  trouble.value = "";
  try {
    offered.value = await read(text);
    emit("palette", text);
  } catch (refusal) {
    offered.value = [];
    trouble.value = sentence(refusal);
  }
}

async function chooseFile(event: Event): Promise<void> {
  const file = (event.target as HTMLInputElement).files?.[0];
  if (file) await readFile((await file.text()).slice(0, 1_050_000));
}

async function chooseSite(slug: string): Promise<void> {
  trouble.value = "";
  try {
    const other = await ask(client.GET("/api/sites/{slug}/study", { params: { path: { slug } } }));
    const shown = other.roles.filter((role) => role.tier === "main");
    offered.value = shown.map((role) => ({ name: role.label, colour: role.value }));
    const path = { slug, way: "tokens" as const };
    emit("palette", (await ask(client.GET("/api/sites/{slug}/hand-back/{way}", { params: { path } }))).text);
  } catch (refusal) {
    trouble.value = sentence(refusal);
  }
}
defineExpose({ takeCodes });
</script>

<template>
  <el-radio-group v-model="source" size="small" aria-label="Where the colours come from">
    <el-radio-button v-for="(label, key) in SOURCES" :key="key" :value="key">{{ label }}</el-radio-button>
  </el-radio-group>
  <el-input
    v-if="source === 'codes'"
    v-model="codes"
    aria-label="Colours"
    placeholder="#0b5c7a, teal, rgb(29 92 122)"
    spellcheck="false"
    autocomplete="off"
    maxlength="2000"
    :aria-invalid="!!trouble"
    @change="takeCodes"
  />
  <picture-colours
    v-else-if="source === 'picture'"
    :slug="slug"
    @take="emit('add', $event)"
    @seeds="emit('seeds', $event)"
  />
  <template v-else-if="source === 'file'">
    <label class="soft"
      >Design Tokens or .gpl
      <input type="file" accept=".json,.gpl,.txt,.tokens" aria-label="A palette file" @change="chooseFile" />
    </label>
    <textarea v-model="pasted" rows="2" aria-label="Colour codes" placeholder="or paste colour codes" />
    <el-button size="small" :disabled="!pasted.trim()" @click="readFile(pasted)">Read the codes</el-button>
  </template>
  <el-select
    v-else
    v-model="otherSite"
    aria-label="Another site of yours"
    placeholder="Choose a site"
    append-to="#dialogs"
    @change="chooseSite"
  >
    <el-option v-for="one in others" :key="one.slug" :value="one.slug" :label="one.name" />
  </el-select>
  <p v-if="(source === 'file' || source === 'site') && offered.length" class="offered">
    <button
      v-for="(one, place) in offered.slice(0, 96)"
      :key="place"
      type="button"
      :style="{ background: one.colour }"
      :title="`${one.name} ${one.colour}`"
      @click="emit('add', one.colour)"
    >
      <span class="unseen">Use {{ one.name }} {{ one.colour }}</span>
    </button>
  </p>
  <p v-if="trouble" role="alert">{{ trouble }}</p>
</template>

<style scoped>
.offered {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  min-height: 34px;
  align-items: center;
}
.offered button {
  width: 24px;
  height: 24px;
  border: 1px solid var(--edge);
  cursor: pointer;
}
textarea {
  padding: 5px 8px;
  border: 1px solid var(--edge);
  border-radius: var(--corner);
  background: var(--raised);
}
</style>
