<script setup lang="ts">
import { computed } from "vue";
import RoleSelect from "@/parts/common/RoleSelect.vue";
import type { Spot } from "@/composables/usePainter";
import { hexOfCss } from "@/logic/colour";
import { useStudy } from "@/stores/study";
import { useView } from "@/stores/view";

/** What a page shows at the spot chosen: the colours there, and where they are in the palette. */
const props = defineProps<{ spot: Spot }>();
const emit = defineEmits<{ close: [] }>();
const study = useStudy();
const view = useView();

const rows = computed(() =>
  [
    { part: "Text", css: props.spot.words },
    { part: props.spot.isPicture ? "Picture" : "Background", css: props.spot.ground },
  ].flatMap(({ part, css }) => {
    const hex = css ? hexOfCss(css) : null;
    if (!hex) return [];
    return [
      { part, hex, roles: study.roles.filter((role) => study.colourOf(role.id).slice(0, 7) === hex.slice(0, 7)) },
    ];
  }),
);
const open = computed(() => (view.open ? study.roleById.get(view.open) : undefined));

/** Gives a colour that was picked to the one that is open, or that is chosen for it. */
async function take(hex: string, role = open.value?.id): Promise<void> {
  if (role) await study.save({ [role]: hex });
  emit("close");
}
function show(name: string): void {
  view.open = name;
  emit("close");
}
</script>

<template>
  <section class="SpotPanel" aria-label="What colour is this?" role="status">
    <p v-for="row in rows" :key="row.part">
      <i :style="{ background: row.hex }" data-specimen /> {{ row.part }} <b>{{ row.hex.toUpperCase() }}</b>
      <template v-if="row.roles.length">
        is
        <button v-for="role in row.roles" :key="role.id" type="button" class="act" @click="show(role.id)">
          {{ role.label }}
        </button>
      </template>
      <template v-else
        >is not exactly a colour of the palette{{
          row.part === "Picture" ? "" : ". It may be mixed from two, or left out of the palette"
        }}</template
      >
      <button v-if="open" type="button" class="act" @click="take(row.hex)">Use it for {{ open.label }}</button>
      <role-select
        v-else
        class="for"
        :model-value="''"
        label="Use this colour for"
        placeholder="Use it for…"
        @update:model-value="take(row.hex, $event)"
      />
    </p>
    <p v-if="!rows.length">Nothing was read at that spot.</p>
    <button type="button" class="act" @click="emit('close')">Close</button>
  </section>
</template>

<style scoped>
.SpotPanel {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 4px 16px;
  margin-bottom: 10px;
  padding: 8px 12px;
  border: 1px solid var(--edge);
  background: var(--raised);
}
.SpotPanel p {
  display: flex;
  grid-column: 1;
  flex-wrap: wrap;
  gap: 4px 8px;
  align-items: center;
}
.SpotPanel > button {
  grid-row: 1;
  grid-column: 2;
}
.for {
  width: 150px;
}
i {
  width: 20px;
  height: 20px;
  box-shadow: inset 0 0 0 1px #0003;
}
</style>
