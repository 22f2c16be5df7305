<script setup lang="ts">
import { addCoat } from "@/logic/acts";
import { useStudy } from "@/stores/study";

/** The main colours of a backdrop's picture, and a coat made of them. */
const props = defineProps<{ colours: string[]; file: string }>();
const study = useStudy();
const make = () => study.act(addCoat(`From ${props.file.split("/").pop()!.split(".")[0]}`, props.colours[0]!));
</script>

<template>
  <h3>Its colours</h3>
  <p class="colours">
    <span v-for="colour in colours" :key="colour" :style="{ background: colour }" :title="colour" data-specimen />
    <button type="button" class="act" @click="make">Make a coat of them</button>
  </p>
</template>

<style scoped>
.colours {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 12px;
  align-items: center;
  margin-top: 4px;
}
.colours span {
  width: 26px;
  height: 26px;
  border: 1px solid var(--rule);
}
</style>
