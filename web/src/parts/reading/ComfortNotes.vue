<script setup lang="ts">
import { ElButton } from "element-plus";
import { ref, shallowRef, watch } from "vue";
import { RouterLink } from "vue-router";
import client, { ask, type Schemas, sentence } from "@/api/client";
import { useSite } from "@/stores/site";
import { useStudy } from "@/stores/study";

/** What can be read and still tires or confuses; nothing of it blocks anything. */
const site = useSite();
const study = useStudy();
const notes = shallowRef<Schemas["ComfortOut"][] | null>(null);
const trouble = ref("");

async function read(): Promise<void> {
  try {
    notes.value = await ask(client.GET("/api/sites/{slug}/comfort", { params: { path: { slug: site.slug } } }));
    trouble.value = "";
  } catch (refusal) {
    trouble.value = sentence(refusal);
  }
}
watch(() => study.revision, read, { immediate: true });
const goTo = ({ page, path, width, state, opened }: NonNullable<Schemas["ComfortOut"]["seen"]>) => ({
  name: "close-up",
  query: { page, at: path, width: String(width), state, opened },
});
</script>

<template>
  <section class="ComfortNotes" aria-label="Comfort">
    <p class="soft">What can be read and still tires or confuses. These are notes. Nothing has to be changed.</p>
    <p v-if="trouble" role="alert">{{ trouble }} <button type="button" class="act" @click="read">Try again</button></p>
    <p v-else-if="!notes" class="soft" role="status">Checking the colours…</p>
    <p v-else-if="!notes.length" class="calm"><b>Nothing tires the eyes here.</b></p>
    <ul v-else>
      <li v-for="(note, place) in notes" :key="place">
        <div class="look" :style="{ background: note.ground || 'var(--sunk)' }" aria-hidden="true" data-specimen>
          <span v-if="note.text" :style="{ color: note.text }">{{ note.sample.slice(0, 16) || "Aa" }}</span>
          <i v-if="note.change" class="after" :style="{ background: note.change.value }" />
        </div>
        <div>
          <p>
            <b>{{ site.names.get(note.where) ?? note.where }}</b>
          </p>
          <p>{{ note.says }}</p>
          <p class="ways">
            <el-button v-if="note.change" size="small" @click="study.save({ [note.change.role]: note.change.value })">
              Try {{ note.change.value.toUpperCase() }} for {{ note.change.label }}
            </el-button>
            <router-link v-if="note.seen" class="act" :to="goTo(note.seen)">Show it</router-link>
          </p>
        </div>
      </li>
    </ul>
  </section>
</template>

<style scoped>
ul {
  max-width: 860px;
  margin: 10px 0 0;
  padding: 0;
  list-style: none;
}
li {
  display: grid;
  grid-template-columns: 170px 1fr;
  gap: 16px;
  padding: 12px 0;
  border-top: 1px solid var(--rule);
}
.look {
  position: relative;
  display: grid;
  min-height: 62px;
  place-content: center;
  border: 1px solid var(--rule);
  font-weight: 600;
}
.after {
  position: absolute;
  right: 0;
  bottom: 0;
  width: 34px;
  height: 22px;
  border: 1px solid var(--raised);
}
.ways {
  display: flex;
  gap: 14px;
  align-items: center;
  padding-top: 5px;
}
.calm {
  padding: 14px 0;
}
@media (max-width: 700px) {
  li {
    grid-template-columns: 1fr;
  }
}
</style>
