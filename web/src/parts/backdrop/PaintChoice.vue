<script setup lang="ts">
import { computed } from "vue";
import type { Paint } from "@/logic/backdrop";
import RoleSelect from "@/parts/common/RoleSelect.vue";
import ValueEntry from "@/parts/common/ValueEntry.vue";
import { useStudy } from "@/stores/study";

/** A colour of the palette, which follows it, or one of its own. */
defineProps<{ label: string }>();
const paint = defineModel<Paint>({ required: true });
const study = useStudy();
const FREE = "\nfree";

const role = computed({
  get: () => (typeof paint.value === "string" ? FREE : paint.value.role),
  set: (id) => (paint.value = id === FREE ? study.colourOf(role.value) : { role: id }),
});
</script>

<template>
  <div class="PaintChoice">
    <role-select v-model="role" :label="label" :extras="[{ value: FREE, label: 'A colour of its own' }]" />
    <value-entry
      v-if="typeof paint === 'string'"
      :value="paint"
      :label="`${label} as a code`"
      @change="paint = $event"
    />
  </div>
</template>

<style scoped>
.PaintChoice {
  display: flex;
  flex: 1;
  gap: 6px;
  align-items: flex-start;
  min-width: 0;
}
.PaintChoice :deep(.RoleSelect) {
  flex: 1 1 120px;
  min-width: 120px;
}
.PaintChoice :deep(.ValueEntry) {
  flex: 0 0 96px;
}
</style>
