<script setup lang="ts">
import { ElInput } from "element-plus";
import { nextTick, ref, useTemplateRef } from "vue";
import type { Plan, Schemas } from "@/api/client";
import { count, dateText, dueText, ratioText } from "@/logic/words";

/** What went live before and what waits for its time, each by its colours, and the way back to it. */
defineProps<{ releases: Plan["releases"]; busy: boolean }>();
const emit = defineEmits<{
  takeBack: [number: number];
  rename: [number: number, name: string];
  callOff: [number: number];
  compare: [number: number];
}>();
type Release = Schemas["ReleaseOut"];

const title = (one: Release) => one.name || (one.number ? `Release ${one.number}` : "Original");
const isWaiting = (one: Release) => Boolean(one.due && !one.live_since);
const when = (one: Release) => {
  if (isWaiting(one)) return `goes live ${dueText(one.due!)}`;
  if (!one.number) return "as it was brought in";
  return dateText(one.live_since ?? one.made);
};
const figures = (one: Release) =>
  one.number ? `${one.texts - one.hard - one.unsure} of ${count(one.texts, "text")} readable` : "";

const named = ref<number | null>(null);
const name = ref("");
const field = useTemplateRef<InstanceType<typeof ElInput>[]>("field");
async function ask(one: Release): Promise<void> {
  named.value = one.number;
  name.value = one.name;
  await nextTick();
  field.value?.[0]?.focus();
}
function keep(): void {
  if (named.value !== null) emit("rename", named.value, name.value);
  named.value = null;
}
</script>

<template>
  <div v-if="releases.length" class="ReleaseHistory">
    <h3>Releases</h3>
    <ul>
      <li v-for="one in releases" :key="one.number">
        <span class="strip" aria-hidden="true"
          ><i v-for="colour in one.colours" :key="colour" :style="{ background: colour }"
        /></span>
        <div class="said">
          <el-input
            v-if="named === one.number"
            ref="field"
            v-model="name"
            size="small"
            maxlength="80"
            aria-label="Name of the release"
            @keydown.enter="keep"
            @keydown.esc.stop="named = null"
            @blur="keep"
          />
          <template v-else>
            <b>{{ title(one) }}</b> <b v-if="one.live" class="live">live</b>
          </template>
          <br />
          <span class="soft">{{ [when(one), figures(one)].filter(Boolean).join(" · ") }}</span>
          <details v-if="one.let_through.length">
            <summary>{{ count(one.let_through.length, "pair") }} of colours let through</summary>
            <ul class="let">
              <li v-for="(text, place) in one.let_through" :key="place">
                “{{ text.sample.slice(0, 60) }}”, {{ text.text }} on {{ text.background }},
                {{ ratioText(text.ratio) }} : 1<br />
                <span class="soft">{{ text.why || "no reason given" }}</span>
              </li>
            </ul>
          </details>
          <p class="acts">
            <button
              v-if="isWaiting(one)"
              type="button"
              class="act"
              :disabled="busy"
              @click="emit('callOff', one.number)"
            >
              Call it off
            </button>
            <button
              v-else-if="!one.live"
              type="button"
              class="act"
              :disabled="busy"
              @click="emit('takeBack', one.number)"
            >
              Go back to this release
            </button>
            <button
              type="button"
              class="act"
              :aria-label="`Compare ${title(one)}`"
              @click="emit('compare', one.number)"
            >
              Compare
            </button>
            <button v-if="one.number" type="button" class="act" :aria-label="`Rename ${title(one)}`" @click="ask(one)">
              Rename
            </button>
          </p>
        </div>
      </li>
    </ul>
  </div>
</template>

<style scoped>
ul {
  margin: 4px 0 0;
  padding: 0;
  list-style: none;
}
.ReleaseHistory > ul > li {
  display: flex;
  gap: 12px;
  padding: 8px 0;
  border-top: 1px solid var(--rule);
  line-height: 1.35;
}
.said {
  flex: 1;
  min-width: 0;
}
.live {
  padding: 0 6px;
  background: var(--ink);
  color: var(--paper);
  font-size: 12px;
}
.let li {
  padding: 4px 0;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 14px;
  margin: 2px 0 0;
}
summary {
  cursor: pointer;
}
.strip {
  display: flex;
  flex: none;
  width: 100px;
  height: 34px;
  box-shadow: 0 0 0 1px var(--rule);
}
.strip i {
  flex: 1;
}
</style>
