<script setup lang="ts">
import { useFileDialog } from "@vueuse/core";
import { ElInput } from "element-plus";
import { computed, ref, watch } from "vue";
import client, { ask, type Schemas } from "@/api/client";
import RoleSelect from "@/parts/common/RoleSelect.vue";
import { useSite } from "@/stores/site";

/** Pictures to lay behind a place: the owner's own, the site's, and a small drawn library. */
const props = defineProps<{ all: Schemas["BackdropsOut"]; shown: string }>();
const emit = defineEmits<{ choose: [path: string]; take: [name: string]; send: [file: File] }>();
const site = useSite();
const words = ref("");
const role = ref("");
const near = ref<string[] | null>(null);
const { open, onChange } = useFileDialog({ accept: "image/*", multiple: false, reset: true });
onChange((files) => files?.[0] && emit("send", files[0]));

watch([words, role], async ([said, colour]) => {
  if (!said.trim() && !colour) {
    near.value = null;
    return;
  }
  const query = { words: said, role: colour };
  near.value = await ask(
    client.GET("/api/sites/{slug}/library/near", { params: { path: { slug: site.slug }, query } }),
  ).catch(() => null);
});
const taken = computed(() => new Set(props.all.pictures.filter((one) => one.is_own).map((one) => one.label)));
const library = computed(() => {
  const some = near.value === null ? props.all.library.map((one) => one.name) : near.value;
  return some.flatMap((name) => props.all.library.filter((one) => one.name === name && !taken.value.has(one.label)));
});
/** The pictures there are already; of a search those that are called so. */
const there = computed(() => {
  const said = words.value.toLowerCase().split(/\s+/).filter(Boolean);
  return props.all.pictures.filter(
    (one) => one.path === props.shown || said.every((word) => one.label.toLowerCase().includes(word)),
  );
});
const paste = (event: ClipboardEvent) => {
  const file = [...(event.clipboardData?.files ?? [])].find((one) => one.type.startsWith("image/"));
  if (file) emit("send", file);
};
const drop = (event: DragEvent) => {
  const file = event.dataTransfer?.files[0];
  if (file) emit("send", file);
};
</script>

<template>
  <section class="PictureShelf" aria-label="Pictures" @paste="paste" @dragover.prevent @drop.prevent="drop">
    <div class="search">
      <h2>Pictures</h2>
      <el-input v-model="words" size="small" placeholder="Search" aria-label="Search the pictures" clearable />
      <role-select
        v-model="role"
        label="That goes with"
        :extras="[{ value: '', label: 'Goes with any colour' }]"
        placeholder="Goes with any colour"
      />
    </div>
    <ul>
      <li>
        <button type="button" class="own" @click="open()">+ Your own</button
        ><span class="soft">choose, drop or paste</span>
      </li>
      <li v-for="one in there" :key="one.path">
        <button
          type="button"
          :aria-label="one.label"
          :aria-pressed="one.path === shown"
          @click="emit('choose', one.path)"
        >
          <img :src="one.address" alt="" loading="lazy" />
        </button>
        <span>{{ one.label }}</span>
      </li>
      <li v-for="one in library" :key="one.name">
        <button type="button" :aria-label="one.label" @click="emit('take', one.name)">
          <img :src="one.address" alt="" loading="lazy" />
        </button>
        <span>{{ one.label }}</span>
      </li>
      <li v-if="!library.length && !there.length" class="soft none">There is none like that.</li>
    </ul>
  </section>
</template>

<style scoped>
.search {
  display: flex;
  gap: 12px;
  align-items: center;
  margin-bottom: 6px;
}
.search .el-input {
  width: 180px;
}
.search :deep(.RoleSelect) {
  width: 190px;
}
ul {
  display: flex;
  gap: 12px;
  overflow-x: auto;
  margin: 0;
  padding: 4px 4px 8px;
  list-style: none;
}
li {
  display: grid;
  flex: 0 0 112px;
  gap: 3px;
  align-content: start;
  font-size: 13px;
}
li > span {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
button {
  width: 112px;
  height: 64px;
  padding: 0;
  border: 1px solid var(--edge);
  background: var(--sunk);
  cursor: pointer;
}
button[aria-pressed="true"] {
  outline: 2px solid var(--ink);
  outline-offset: 1px;
}
.own {
  border-style: dashed;
}
.none {
  flex-basis: 200px;
}
img {
  display: block;
  width: 100%;
  height: 100%;
  object-fit: cover;
}
</style>
