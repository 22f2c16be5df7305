<script setup lang="ts">
import { ElOption, ElOptionGroup, ElSelect } from "element-plus";
import { computed } from "vue";
import { railOf } from "@/logic/roles";
import { useStudy } from "@/stores/study";

/** Chooses one colour of the palette: site colours, section colours and details apart. */
const props = withDefaults(
  defineProps<{
    label: string;
    /** The role that cannot be chosen. */
    without?: string | null;
    /** What stands for none, and further answers beside the roles: value and label. */
    extras?: { value: string; label: string }[];
    placeholder?: string;
  }>(),
  { without: null, extras: () => [], placeholder: "Choose a colour" },
);
const chosen = defineModel<string>({ required: true });
const study = useStudy();
const groups = computed(() => {
  const rail = railOf(study.roles, study.coats);
  const all = [
    { label: "Site colours", tiles: rail.site },
    ...rail.coats.map((one) => ({ label: one.coat.label, tiles: one.tiles })),
    { label: "Details", tiles: rail.details },
  ];
  return all
    .map(({ label, tiles }) => ({
      label,
      roles: tiles.flatMap((tile) => [tile.role, ...tile.states]).filter((role) => role.id !== props.without),
    }))
    .filter((group) => group.roles.length);
});
</script>

<template>
  <el-select
    v-model="chosen"
    class="RoleSelect"
    size="small"
    filterable
    :aria-label="label"
    :placeholder="placeholder"
    :empty-values="extras.some((one) => one.value === '') ? [null, undefined] : undefined"
    append-to="#dialogs"
  >
    <el-option v-for="one in extras" :key="one.value" :value="one.value" :label="one.label" />
    <el-option-group v-for="group in groups" :key="group.label" :label="group.label">
      <el-option v-for="role in group.roles" :key="role.id" :value="role.id" :label="role.label">
        <i :style="{ background: study.colourOf(role.id) }" data-specimen /> {{ role.label }}
      </el-option>
    </el-option-group>
  </el-select>
</template>

<style scoped>
.RoleSelect {
  min-width: 180px;
}
i {
  display: inline-block;
  width: 14px;
  height: 14px;
  box-shadow: inset 0 0 0 1px #0003;
  vertical-align: -2px;
}
</style>
