<script setup lang="ts">
import { ElButton, ElCheckbox } from "element-plus";
import { computed, ref, shallowRef, watch } from "vue";
import client, { ask, sentence, type Schemas } from "@/api/client";
import { count } from "@/logic/words";
import { useSite } from "@/stores/site";
import { useStudy } from "@/stores/study";

/** Fixes everything at once: shown on all pages first, then applied whole, in part, or not. */
const site = useSite();
const study = useStudy();
const found = shallowRef<Schemas["MendOut"] | null>(null);
const left = ref(new Set<string>());
const isBusy = ref(false);
const isEverything = ref(false);
const trouble = ref("");
const ahead = ref(0);
let ending = new AbortController();
/** Colours that move by themselves; what follows another role comes along. */
const moves = computed(() => found.value?.moves.filter((move) => move.role in found.value!.values) ?? []);
const chosen = computed(() =>
  Object.fromEntries(Object.entries(found.value?.values ?? {}).filter(([role]) => !left.value.has(role))),
);
const locked = computed(() => study.roles.filter((role) => role.locked).length);
watch(
  () => site.visit,
  () => (found.value = null),
);

async function look(): Promise<void> {
  isBusy.value = true;
  trouble.value = "";
  ahead.value = 0;
  ending = new AbortController();
  const visit = site.visit;
  try {
    const path = { slug: site.slug };
    const body = { locks: [], everything: isEverything.value };
    const answer = await ask(
      client.POST("/api/sites/{slug}/mend", { params: { path }, body }),
      ending.signal,
      (first) => (ahead.value = first),
    );
    if (visit !== site.visit) return;
    cancel();
    found.value = answer;
    left.value = new Set();
    study.showAll(answer.values);
  } catch (refusal) {
    if (!ending.signal.aborted) trouble.value = sentence(refusal);
  } finally {
    isBusy.value = false;
  }
}

function toggle(role: string): void {
  const next = new Set(left.value);
  if (next.delete(role)) study.show(role, found.value!.values[role]!);
  else {
    next.add(role);
    study.drop(role);
  }
  left.value = next;
}

async function apply(): Promise<void> {
  const values = chosen.value;
  found.value = null;
  await study.save(values, true);
}

function cancel(): void {
  for (const name of Object.keys(found.value?.values ?? {})) study.drop(name);
  found.value = null;
}
</script>

<template>
  <section class="FixAll" aria-label="Fix all">
    <p v-if="!found" class="acts">
      <el-button size="small" :loading="isBusy" @click="look">Fix all…</el-button>
      <el-button v-if="isBusy" size="small" @click="ending.abort()">Stop</el-button>
      <span v-if="ahead" class="soft">{{ count(ahead, "thing") }} first</span>
      <span v-if="locked" class="soft">{{ count(locked, "locked colour") }} kept</span>
    </p>
    <template v-else>
      <p role="status">
        <template v-if="moves.length">
          <b>{{ found.before - found.after }} of {{ found.before }} fixed</b> by changing
          {{ count(moves.length, "colour") }}. See them on the pages.
        </template>
        <template v-else-if="found.before">No change of colour helps here.</template>
        <template v-else>Everything is readable already.</template>
      </p>
      <ul v-if="moves.length" class="moves">
        <li v-for="move in moves" :key="move.role">
          <label>
            <input type="checkbox" :checked="!left.has(move.role)" @change="toggle(move.role)" />
            <i :style="{ background: move.before }" data-specimen /><i
              :style="{ background: move.after }"
              data-specimen
            />
            {{ move.label }}
            <span class="soft"
              >{{ count(move.texts, "text")
              }}<template v-if="move.before === move.after">, merged with nearly alike colours</template></span
            >
          </label>
        </li>
      </ul>
      <div v-for="(one, place) in found.left" :key="place" class="left">
        <p>
          <b>{{ count(one.texts, "text") }}</b> {{ one.texts === 1 ? "stays" : "stay" }} hard to read<template
            v-if="one.locks.length"
          >
            while {{ one.locks.join(", ") }} {{ one.locks.length === 1 ? "is" : "are" }} locked</template
          >: <q v-for="sample in one.samples.slice(0, 2)" :key="sample">{{ sample }}</q>
        </p>
        <p v-if="one.give_role && one.locks.length" class="soft">
          Changing {{ one.give_label }} to <i :style="{ background: one.give_colour }" data-specimen />
          {{ one.give_colour.toUpperCase() }} would help.
        </p>
        <p v-else class="soft">{{ one.why }}</p>
      </div>
      <el-checkbox
        v-if="found.after || isEverything"
        v-model="isEverything"
        label="Change backgrounds and strong colours too"
        size="small"
        :disabled="isBusy"
        @change="look"
      />
      <p class="acts">
        <el-button
          v-if="moves.length"
          size="small"
          type="primary"
          :disabled="!Object.keys(chosen).length || isBusy"
          @click="apply"
        >
          {{ left.size ? `Apply ${Object.keys(chosen).length} of them` : "Apply" }}
        </el-button>
        <el-button size="small" @click="cancel">Cancel</el-button>
      </p>
    </template>
    <p v-if="trouble" role="alert">{{ trouble }}</p>
  </section>
</template>

<style scoped>
.FixAll {
  display: grid;
  gap: 7px;
  margin-bottom: 10px;
  font-size: 13px;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
}
.acts > * {
  margin: 0;
}
.moves {
  margin: 0;
  padding: 0;
  list-style: none;
}
.moves label {
  display: flex;
  flex-wrap: wrap;
  gap: 0 6px;
  align-items: center;
}
i {
  display: inline-block;
  width: 16px;
  height: 16px;
  box-shadow: inset 0 0 0 1px #0003;
  vertical-align: -3px;
}
.left {
  padding-left: 8px;
  border-left: 3px solid var(--ink);
}
q + q {
  margin-left: 6px;
}
</style>
