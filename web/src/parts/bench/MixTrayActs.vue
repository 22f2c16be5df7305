<script setup lang="ts">
import { ElButton } from "element-plus";
import { useClipboard } from "@vueuse/core";
import { computed, ref, watch } from "vue";
import type { Role } from "@/api/client";
import SwapDialog from "@/parts/bench/SwapDialog.vue";
import TieDialog from "@/parts/bench/TieDialog.vue";
import { useRecent } from "@/composables/useRecent";
import { useStudy } from "@/stores/study";
import { useView } from "@/stores/view";

/** What else can be done with a colour: before and now, recent ones, copy, pick from a page, lock, follow, swap. */
const props = defineProps<{ role: Role }>();
const study = useStudy();
const view = useView();
const { recent, note } = useRecent();
const value = computed(() => study.colourOf(props.role.id));
const before = ref(props.role.value);
const isTying = ref(false);
const isSwapping = ref(false);
const said = ref("");
const follows = computed(() => study.roleById.get(props.role.tie?.to ?? "")?.label);

watch(
  () => props.role.id,
  () => {
    before.value = props.role.value;
    said.value = "";
  },
);
watch(
  () => props.role.value,
  (hex) => note(hex),
);

const { copy: write, copied } = useClipboard({ legacy: true });
async function copy(): Promise<void> {
  await write(value.value);
  said.value = copied.value ? "Copied." : `Your browser does not allow copying here. The code is ${value.value}.`;
}

const use = (hex: string) => study.save({ [props.role.id]: hex });
</script>

<template>
  <div class="MixTrayActs">
    <p class="sides">
      <button type="button" :disabled="before === value" :title="`Back to ${before}`" @click="use(before)">
        <i :style="{ background: before }" data-specimen /> Before
      </button>
      <span><i :style="{ background: value }" data-specimen /> Now</span>
    </p>
    <p v-if="recent.length" class="recent" aria-label="Recent" role="group">
      <button
        v-for="hex in recent.slice(0, 9)"
        :key="hex"
        type="button"
        :style="{ background: hex }"
        :title="`Use ${hex}`"
        @click="use(hex)"
      >
        <span class="unseen">Use {{ hex }}</span>
      </button>
    </p>
    <p class="acts">
      <el-button size="small" @click="copy">Copy</el-button>
      <el-button size="small" :aria-pressed="view.isPicking" @click="view.isPicking = !view.isPicking">{{
        view.isPicking ? "Click a page…" : "Pick"
      }}</el-button>
      <el-button
        size="small"
        :aria-pressed="role.locked"
        @click="study.act({ act: 'lock-role', role: role.id, is_locked: !role.locked })"
        >{{ role.locked ? "Unlock" : "Lock" }}</el-button
      >
      <el-button size="small" @click="isTying = true">Follow…</el-button>
      <el-button size="small" @click="isSwapping = true">Swap…</el-button>
    </p>
    <p v-if="follows" class="soft">Follows {{ follows }}. Choosing a colour stops that.</p>
    <p v-if="said" class="soft" role="status">{{ said }}</p>
    <tie-dialog v-model="isTying" :role="role" />
    <swap-dialog v-if="isSwapping" v-model="isSwapping" :colour="value" />
  </div>
</template>

<style scoped>
.MixTrayActs {
  display: grid;
  gap: 6px;
}
.sides,
.recent,
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 3px;
}
.sides {
  gap: 0;
  font-size: 12px;
}
.sides > * {
  display: flex;
  gap: 4px;
  align-items: center;
  margin-right: 8px;
  padding: 0;
  border: 0;
  background: none;
  text-align: left;
}
.sides button:enabled {
  cursor: pointer;
  text-decoration: underline;
}
.sides i {
  width: 26px;
  height: 18px;
  box-shadow: inset 0 0 0 1px #0003;
}
.recent button {
  width: 17px;
  height: 17px;
  padding: 0;
  border: 1px solid var(--edge);
  cursor: pointer;
}
.acts > * {
  margin: 0;
  padding: 4px 7px;
}
</style>
