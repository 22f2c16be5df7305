<script setup lang="ts">
import { ElRadioButton, ElRadioGroup } from "element-plus";
import { computed } from "vue";
import type { Role } from "@/api/client";
import { railOf, tileOf } from "@/logic/roles";
import { STATE_LABELS } from "@/logic/words";
import { useStudy } from "@/stores/study";
import { useView } from "@/stores/view";

/** The states of one colour side by side, and whether the one shown follows the rest colour. */
const props = defineProps<{ rest: Role; role: Role }>();
const study = useStudy();
const view = useView();
const states = computed(() => {
  const tile = tileOf(railOf(study.roles, study.coats), props.rest.id);
  return tile ? [tile.role, ...tile.states] : [props.rest];
});
const open = computed({ get: () => props.role.id, set: (id: string) => (view.open = id) });

const SHOWN = ["hover", "focus", "active", "visited"] as const;
/** The pages show the state that is being mixed, where they can. */
function show(id: string | number | boolean | undefined): void {
  const state = states.value.find((one) => one.id === id)?.state;
  view.state = SHOWN.find((one) => one === state) ?? "rest";
}

const tie = computed(() => props.role.tie);
const origin = computed(() => study.roleById.get(tie.value?.to ?? "")?.label ?? "");
const differs = computed(() => {
  const { lighter = 0, colourful = 0 } = tie.value ?? {};
  const parts = [];
  if (lighter) parts.push(`${Math.abs(Math.round(lighter * 100))} ${lighter < 0 ? "darker" : "lighter"}`);
  if (colourful) parts.push(colourful < 0 ? "less colourful" : "more colourful");
  return parts.length ? `, ${parts.join(", ")}` : "";
});
const cut = () => study.act({ act: "tie-role", role: props.role.id, tie: null });
</script>

<template>
  <div v-if="states.length > 1" class="MixTrayStates">
    <el-radio-group v-model="open" size="small" aria-label="State" @change="show">
      <el-radio-button v-for="one in states" :key="one.id" :value="one.id">
        <i :style="{ background: study.colourOf(one.id) }" data-specimen />{{ STATE_LABELS[one.state] }}
      </el-radio-button>
    </el-radio-group>
    <p v-if="tie" class="soft">
      Follows {{ origin }}{{ differs }}.
      <button type="button" class="act" @click="cut">Set it apart</button>
    </p>
  </div>
</template>

<style scoped>
.MixTrayStates {
  display: grid;
  gap: 4px;
}
.MixTrayStates :deep(.el-radio-group) {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 0;
}
.MixTrayStates :deep(.el-radio-button__inner) {
  display: inline-flex;
  gap: 4px;
  align-items: center;
  padding: 4px 6px;
  font-size: 12px;
}
i {
  width: 10px;
  height: 10px;
  box-shadow:
    0 0 0 1px var(--raised),
    0 0 0 2px #0006;
}
</style>
