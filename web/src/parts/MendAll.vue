<script setup lang="ts">
import { ElButton } from "element-plus";
import { computed, ref, shallowRef } from "vue";
import client, { ask, type Schemas } from "@/api/client";
import { count } from "@/logic/words";
import { useBench } from "@/stores/bench";

/** Mends everything at once: shown on all pages first, then taken whole, in part, or left. */
const bench = useBench();
const found = shallowRef<Schemas["MendOut"] | null>(null);
const left = ref(new Set<string>());
const isBusy = ref(false);
const trouble = ref("");
/** Colours that move by themselves; what follows another role comes along. */
const moves = computed(() => found.value?.moves.filter((move) => move.role in found.value!.values) ?? []);
const chosen = computed(() =>
  Object.fromEntries(Object.entries(found.value?.values ?? {}).filter(([role]) => !left.value.has(role))),
);
const locked = computed(() => bench.roles.filter((role) => role.locked).length);

async function look(): Promise<void> {
  isBusy.value = true;
  trouble.value = "";
  try {
    const path = { slug: bench.slug };
    const body = { locks: [] };
    found.value = await ask(client.POST("/api/sites/{slug}/mend", { params: { path }, body }));
    left.value = new Set();
    bench.showAll(found.value.values);
  } catch (refusal) {
    trouble.value = refusal instanceof Error ? refusal.message : String(refusal);
  } finally {
    isBusy.value = false;
  }
}

function toggle(role: string): void {
  const next = new Set(left.value);
  if (next.delete(role)) bench.show(role, found.value!.values[role]!);
  else {
    next.add(role);
    bench.drop(role);
  }
  left.value = next;
}

async function take(): Promise<void> {
  const values = chosen.value;
  found.value = null;
  await bench.save(values, true);
}

function leave(): void {
  for (const name of Object.keys(found.value?.values ?? {})) bench.drop(name);
  found.value = null;
}
</script>

<template>
  <section class="MendAll" aria-label="Mend all">
    <p v-if="!found" class="acts">
      <el-button size="small" :loading="isBusy" @click="look">Mend all…</el-button>
      <span v-if="locked" class="soft">{{ count(locked, "lock") }} kept</span>
    </p>
    <template v-else>
      <p role="status">
        <template v-if="moves.length">
          <b>{{ count(moves.length, "colour") }}</b> would move, as little as may be: of
          {{ count(found.before, "text") }} hard to read, <b>{{ found.before - found.after }}</b> would read. The pages
          show it.
        </template>
        <template v-else-if="found.before">No colour could be moved that would help.</template>
        <template v-else>Everything reads at {{ bench.revision?.level }} already.</template>
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
              }}<template v-if="move.before === move.after">; it takes in the colours near it</template></span
            >
          </label>
        </li>
      </ul>
      <div v-for="(one, place) in found.left" :key="place" class="left">
        <p>
          <b>{{ count(one.texts, "text") }}</b> cannot be made to read<template v-if="one.locks.length">
            while {{ one.locks.join(", ") }} {{ one.locks.length === 1 ? "is" : "are" }} locked</template
          >: <q v-for="sample in one.samples.slice(0, 2)" :key="sample">{{ sample }}</q>
        </p>
        <p v-if="one.give_role" class="soft">
          The least that would help: {{ one.give_label }} becomes
          <i :style="{ background: one.give_colour }" data-specimen /> {{ one.give_colour.toUpperCase() }}.
        </p>
        <p v-else-if="!one.locks.length" class="soft">
          They are faded or stand on colours that cannot all be had; a light ground stays light when mended.
        </p>
      </div>
      <p class="acts">
        <el-button
          v-if="moves.length"
          size="small"
          type="primary"
          :disabled="!Object.keys(chosen).length"
          @click="take"
        >
          {{ left.size ? `Take ${Object.keys(chosen).length} of them` : "Take it" }}
        </el-button>
        <el-button size="small" @click="leave">Leave it</el-button>
      </p>
    </template>
    <p v-if="trouble" role="alert">{{ trouble }}</p>
  </section>
</template>

<style scoped>
.MendAll {
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
select {
  border: 1px solid var(--edge);
  border-radius: var(--corner);
  background: var(--raised);
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
