<script setup lang="ts">
import { computed } from "vue";
import type { Spot } from "@/composables/usePainter";
import { hexOfCss } from "@/logic/colour";
import { useBench } from "@/stores/bench";

/** What a page shows at the spot chosen: the colours painted there and the roles that wear them. */
const props = defineProps<{ spot: Spot }>();
const emit = defineEmits<{ close: [] }>();
const bench = useBench();

const rows = computed(() =>
  [
    { part: "Words", css: props.spot.words },
    { part: "Ground", css: props.spot.ground },
  ].flatMap(({ part, css }) => {
    const hex = css ? hexOfCss(css) : null;
    if (!hex) return [];
    return [
      { part, hex, roles: bench.roles.filter((role) => bench.colourOf(role.name).slice(0, 7) === hex.slice(0, 7)) },
    ];
  }),
);
const open = computed(() => (bench.open ? bench.roleByName.get(bench.open) : undefined));

async function take(hex: string): Promise<void> {
  if (open.value) await bench.save({ [open.value.name]: hex });
  emit("close");
}
function show(name: string): void {
  bench.open = name;
  emit("close");
}
</script>

<template>
  <section class="SpotPanel" aria-label="What is painted there" role="status">
    <p v-for="row in rows" :key="row.part">
      <i :style="{ background: row.hex }" data-specimen /> {{ row.part }} <b>{{ row.hex.toUpperCase() }}</b>
      <template v-if="row.roles.length">
        is
        <button v-for="role in row.roles" :key="role.name" type="button" class="act" @click="show(role.name)">
          {{ role.label }}
        </button>
      </template>
      <template v-else>is no role's colour exactly; it is a mixture, or a colour under no role</template>
      <button v-if="open" type="button" class="act" @click="take(row.hex)">use it for {{ open.label }}</button>
    </p>
    <p v-if="!rows.length">Nothing could be told at that spot.</p>
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
i {
  width: 20px;
  height: 20px;
  box-shadow: inset 0 0 0 1px #0003;
}
</style>
