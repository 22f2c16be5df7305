<script setup lang="ts">
import { computed, nextTick, ref, useTemplateRef } from "vue";
import type { Role } from "@/api/client";
import RoleChoice from "@/parts/site/RoleChoice.vue";
import { count } from "@/logic/words";
import { moveColours } from "@/logic/acts";
import { useStudy } from "@/stores/study";

/** One colour of the palette: its name, what it is for, and the colours of the files that it stands for. */
const props = defineProps<{ role: Role }>();
const emit = defineEmits<{ open: [] }>();
const study = useStudy();
const isNaming = ref(false);
const name = ref("");
const field = useTemplateRef<HTMLInputElement>("field");
const chosen = ref<string | null>(null);
const isAsked = ref(false);
const reading = computed(() => study.reading?.roles[props.role.id]);

async function startNaming(): Promise<void> {
  name.value = props.role.label;
  isNaming.value = true;
  await nextTick();
  field.value?.select();
}

async function rename(): Promise<void> {
  isNaming.value = false;
  if (name.value.trim() && name.value !== props.role.label)
    await study.act({ act: "rename-role", role: props.role.id, to: name.value });
}

async function move(to: string | null, newLabel: string): Promise<void> {
  const colours = chosen.value ? [chosen.value] : [];
  chosen.value = null;
  await study.act(moveColours({ colours, fromRole: props.role.id }, to, newLabel));
}

async function remove(to: string | null, newLabel: string): Promise<void> {
  isAsked.value = false;
  if (newLabel) {
    await study.act({ act: "rename-role", role: props.role.id, to: newLabel });
    return;
  }
  await study.act({ act: "remove-role", role: props.role.id, to, is_answered: true });
}

function askToRemove(): void {
  if (props.role.found_colours.length) isAsked.value = true;
  else void study.act({ act: "remove-role", role: props.role.id, is_answered: false });
}
</script>

<template>
  <li class="PaletteRow">
    <button type="button" class="tile" :style="{ background: role.value }" @click="emit('open')">
      <span class="unseen">Change {{ role.label }} on the bench</span>
    </button>
    <div class="what">
      <form v-if="isNaming" @submit.prevent="rename">
        <input ref="field" v-model="name" maxlength="80" aria-label="Name of the colour" @blur="rename" />
      </form>
      <h2 v-else>
        {{ role.label }} <span class="soft">{{ role.value.toUpperCase() }}</span>
      </h2>
      <p class="soft">
        {{ role.reason }}
        <template v-if="reading">{{ count(reading.places, "text") }} on {{ count(reading.pages, "page") }}.</template>
      </p>
    </div>
    <div class="colours">
      <button
        v-for="one in role.found_colours"
        :key="one"
        type="button"
        class="chip"
        :aria-pressed="chosen === one"
        :title="`Move ${one.toUpperCase()} elsewhere`"
        @click="chosen = chosen === one ? null : one"
      >
        <i :style="{ background: one }" /> {{ one.toUpperCase() }}
      </button>
      <role-choice v-if="chosen" :label="`Move ${chosen.toUpperCase()} to`" :without="role.id" @choose="move" />
      <role-choice v-if="isAsked" label="Move its colours to" :without="role.id" @choose="remove" />
    </div>
    <div class="acts">
      <button type="button" class="act" @click="startNaming">Rename</button>
      <button type="button" class="act" @click="askToRemove">Remove</button>
    </div>
  </li>
</template>

<style scoped>
.PaletteRow {
  display: grid;
  grid-template-columns: 64px minmax(200px, 1fr) minmax(240px, 1.4fr) auto;
  gap: 14px;
  align-items: center;
  padding: 8px 0;
  border-top: 1px solid var(--rule);
}
.tile {
  width: 64px;
  height: 44px;
  border: 0;
  box-shadow: inset 0 0 0 1px #0003;
  cursor: pointer;
}
h2 {
  font-size: 15px;
}
h2 .soft {
  font-size: 13px;
  font-weight: 400;
}
.what p {
  font-size: 13px;
}
.colours {
  display: flex;
  flex-wrap: wrap;
  gap: 5px 8px;
  align-items: center;
}
.chip {
  display: inline-flex;
  gap: 5px;
  align-items: center;
  padding: 2px 7px 2px 3px;
  border: 1px solid var(--edge);
  border-radius: var(--corner);
  background: var(--raised);
  font-size: 12px;
  cursor: pointer;
}
.chip[aria-pressed="true"] {
  border-color: var(--ink);
  box-shadow: inset 0 0 0 1px var(--ink);
}
.chip i {
  width: 16px;
  height: 16px;
  box-shadow: inset 0 0 0 1px #0003;
}
.acts {
  display: flex;
  gap: 12px;
  font-size: 13px;
}
@media (max-width: 900px) {
  .PaletteRow {
    grid-template-columns: 64px 1fr;
  }
}
</style>
