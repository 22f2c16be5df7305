<script setup lang="ts">
import { ElButton, ElDialog } from "element-plus";
import { watchDebounced } from "@vueuse/core";
import { computed, ref, shallowRef, watch } from "vue";
import { type Schemas, sentence } from "@/api/client";
import ValueEntry from "@/parts/common/ValueEntry.vue";
import { APART } from "@/logic/apart";
import { count } from "@/logic/words";
import { useStudy } from "@/stores/study";

/** One colour, or all near it, for another everywhere: the places first, then which of them. */
const props = defineProps<{ colour: string }>();
const isOpen = defineModel<boolean>({ required: true });
const study = useStudy();
const from = ref(props.colour);
const to = ref(props.colour);
const near = ref(0);
const places = shallowRef<Schemas["SwapPlace"][]>([]);
const left = ref(new Set<string>());
const trouble = ref("");
const STEP = 0.025; // ΔE OK a step of "how different"
const chosen = computed(() => places.value.filter((place) => !left.value.has(place.key)));

watch(isOpen, (open) => {
  if (open) from.value = to.value = props.colour;
});

watchDebounced(
  () => [isOpen.value, from.value, near.value, study.revision?.base] as const,
  async ([open]) => {
    if (!open) return;
    try {
      const asked = { colour: from.value, within: near.value * STEP };
      places.value = (await study.find({ search: "swap-places", ...asked })).places;
      left.value = new Set();
      trouble.value = "";
    } catch (refusal) {
      trouble.value = sentence(refusal);
    }
  },
  { debounce: 150, immediate: true },
);

function toggle(key: string): void {
  const next = new Set(left.value);
  if (!next.delete(key)) next.add(key);
  left.value = next;
}

async function swap(): Promise<void> {
  const keys = chosen.value.map((place) => place.key);
  if (await study.act({ act: "swap", keys, to: to.value })) isOpen.value = false;
}
</script>

<template>
  <el-dialog v-model="isOpen" title="Swap a colour everywhere" width="720px" append-to="#dialogs">
    <div class="SwapDialog">
      <div class="ask">
        <div>
          <p>This colour</p>
          <i :style="{ background: from }" />
          <value-entry :key="`from${colour}`" :value="from" label="Colour to swap" @change="from = $event" />
          <label class="soft">
            and all that look {{ APART[near]!.word }}
            <input
              v-model.number="near"
              type="range"
              min="0"
              :max="APART.length - 1"
              aria-label="Which similar colours are swapped too"
            />
          </label>
        </div>
        <div>
          <p>becomes</p>
          <i :style="{ background: to }" />
          <value-entry :key="`to${colour}`" :value="to" label="New colour" @change="to = $event" />
        </div>
      </div>
      <p v-if="trouble" role="alert">{{ trouble }}</p>
      <p role="status">{{ count(places.length, "place") }} found, {{ chosen.length }} chosen.</p>
      <ul tabindex="0" aria-label="Places">
        <li v-for="place in places" :key="place.key">
          <label>
            <input type="checkbox" :checked="!left.has(place.key)" @change="toggle(place.key)" />
            <i :style="{ background: place.colour }" />
            <span>
              <b>{{ place.label || "not in the palette" }}</b>
              {{ place.selector || place.property }}
              <span class="soft"
                >{{ place.file }}<template v-if="place.line">, line {{ place.line }}</template> ·
                {{ count(place.texts, "text") }}</span
              >
            </span>
          </label>
        </li>
      </ul>
    </div>
    <template #footer>
      <el-button @click="isOpen = false">Cancel</el-button>
      <el-button type="primary" :disabled="!chosen.length || to === from" @click="swap">
        Swap {{ count(chosen.length, "place") }}
      </el-button>
    </template>
  </el-dialog>
</template>

<style scoped>
.SwapDialog {
  display: grid;
  gap: 10px;
}
.ask {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 20px;
}
.ask i {
  display: block;
  height: 44px;
  margin: 4px 0;
  box-shadow: inset 0 0 0 1px #0003;
}
.ask input[type="range"] {
  width: 100%;
  accent-color: var(--ink);
}
ul {
  max-height: 34vh;
  overflow-y: auto;
  margin: 0;
  padding: 0;
  border-top: 1px solid var(--rule);
  list-style: none;
}
li label {
  display: grid;
  grid-template-columns: auto 18px 1fr;
  gap: 8px;
  align-items: center;
  padding: 5px 2px;
  border-bottom: 1px solid var(--rule);
  font-size: 13px;
}
li i {
  width: 18px;
  height: 18px;
  box-shadow: inset 0 0 0 1px #0003;
}
</style>
