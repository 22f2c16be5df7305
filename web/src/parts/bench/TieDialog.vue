<script setup lang="ts">
import { ElButton, ElDialog } from "element-plus";
import { computed, reactive, watch } from "vue";
import type { Role } from "@/api/client";
import RoleSelect from "@/parts/common/RoleSelect.vue";
import { lookOf } from "@/logic/roles";
import { useStudy } from "@/stores/study";

/** Lets a colour follow another one, or stops that; what is set is worked out by the server. */
const props = defineProps<{ role: Role }>();
const isOpen = defineModel<boolean>({ required: true });
const study = useStudy();
const tie = reactive({ to: "", lighter: 0, colourful: 0, turned: 0, opacity: 100, on: "", ratio: 4.5 });

/** What a person would let it follow: of a state the colour at rest, else one that is seen as it is. */
const likeliest = computed(() => {
  const others = study.roles.filter((role) => role.id !== props.role.id && role.state === "rest");
  const rest = props.role.state !== "rest" && others.find((role) => `${role.id}.${props.role.state}` === props.role.id);
  const alike = others.find((role) => role.kind === props.role.kind && role.coat === null);
  return (rest || alike || others.find((role) => lookOf(role) === lookOf(props.role)) || others[0])?.id ?? "";
});
watch(isOpen, (open) => {
  if (!open) return;
  const now = props.role.tie;
  Object.assign(tie, {
    to: now?.to ?? likeliest.value,
    lighter: Math.round((now?.lighter ?? 0) * 100),
    colourful: Math.round((now?.colourful ?? 0) * 1000) / 10,
    turned: now?.turned ?? 0,
    opacity: Math.round((now?.opacity ?? 1) * 100),
    on: now?.on ?? "",
    ratio: now?.ratio ?? 4.5,
  });
});

const RANGES = [
  { key: "lighter", label: "Lighter by (below 0: darker)", min: -100, max: 100, unit: "of 100" },
  { key: "colourful", label: "More colourful by (below 0: less)", min: -40, max: 40, unit: "of 40" },
  { key: "turned", label: "Change the hue by (degrees)", min: -180, max: 180, unit: "°" },
  { key: "opacity", label: "Opacity", min: 0, max: 100, unit: "%" },
] as const;

async function take(): Promise<void> {
  const done = await study.act({
    act: "tie-role",
    role: props.role.id,
    tie: {
      to: tie.to,
      lighter: tie.lighter / 100,
      colourful: tie.colourful / 100,
      turned: tie.turned,
      opacity: tie.opacity < 100 ? tie.opacity / 100 : null,
      on: tie.on || null,
      ratio: tie.on ? tie.ratio : null,
      came: false,
    },
  });
  if (done) isOpen.value = false;
}

async function cut(): Promise<void> {
  if (await study.act({ act: "tie-role", role: props.role.id, tie: null })) isOpen.value = false;
}
</script>

<template>
  <el-dialog v-model="isOpen" :title="`Let ${role.label} follow another colour`" width="440px" append-to="#dialogs">
    <form @submit.prevent="take">
      <label>
        Follows
        <role-select v-model="tie.to" label="The colour it follows" :without="role.id" />
      </label>
      <label v-for="one in RANGES" :key="one.key">
        {{ one.label }}
        <span>
          <input v-model.number="tie[one.key]" type="number" :min="one.min" :max="one.max" step="any" />
          <span class="soft"> {{ one.unit }}</span>
        </span>
      </label>
      <label>
        Keep it readable on
        <role-select
          v-model="tie.on"
          label="Keep it readable on"
          :without="role.id"
          :extras="[{ value: '', label: 'Nothing in particular' }]"
        />
      </label>
      <label v-if="tie.on">
        with a contrast of at least
        <input v-model.number="tie.ratio" type="number" min="1" max="21" step="0.1" />
      </label>
      <p v-if="study.trouble" role="alert">{{ study.trouble }}</p>
      <p class="acts">
        <el-button native-type="submit" type="primary">{{ role.tie ? "Change" : "Follow" }}</el-button>
        <el-button v-if="role.tie" @click="cut">Stop following, keep the colour</el-button>
      </p>
    </form>
  </el-dialog>
</template>

<style scoped>
form {
  display: grid;
  gap: 10px;
}
label {
  display: grid;
  grid-template-columns: 190px 1fr;
  gap: 10px;
  align-items: center;
}
input {
  padding: 4px 6px;
  border: 1px solid var(--edge);
  border-radius: var(--corner);
  background: var(--raised);
}
input {
  width: 6em;
  margin-right: 6px;
}
.acts {
  display: flex;
  gap: 8px;
}
.acts > * {
  margin: 0;
}
</style>
