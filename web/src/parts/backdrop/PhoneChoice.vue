<script setup lang="ts">
import { ElRadioButton, ElRadioGroup } from "element-plus";
import { computed } from "vue";
import type { Phone } from "@/logic/backdrop";
import FocusPoint from "@/parts/backdrop/FocusPoint.vue";

/** What a phone shows of a backdrop's picture. */
const props = defineProps<{ source: string | undefined }>();
const phone = defineModel<Phone | null>({ required: true });
const emit = defineEmits<{ change: [isDone: boolean] }>();
const way = computed(() => (!phone.value ? "same" : phone.value.picture === null ? "none" : "other"));
const at = computed({
  get: () => phone.value?.picture?.at ?? [0.5, 0.5],
  set: (place: [number, number]) => {
    phone.value = { picture: { at: place } };
    emit("change", false);
  },
});
function choose(wanted: "same" | "none" | "other"): void {
  phone.value = wanted === "same" ? null : { picture: wanted === "none" ? null : { at: [0.5, 0.5] } };
  emit("change", true);
}
</script>

<template>
  <h3>On a phone</h3>
  <el-radio-group
    :model-value="way"
    size="small"
    aria-label="On a phone"
    @update:model-value="choose($event as 'same')"
  >
    <el-radio-button value="same">The same</el-radio-button>
    <el-radio-button value="other">Another part</el-radio-button>
    <el-radio-button value="none">No picture</el-radio-button>
  </el-radio-group>
  <focus-point
    v-if="way === 'other' && props.source"
    v-model="at"
    label="What a phone keeps in view"
    :src="props.source"
    @done="emit('change', true)"
  />
</template>
