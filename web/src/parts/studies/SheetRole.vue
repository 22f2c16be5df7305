<script setup lang="ts">
import type { Schemas } from "@/api/client";
import { STATE_LABELS } from "@/logic/words";

/** One colour of the sheet with its codes; `short` gives the hex code alone. */
defineProps<{ role: Schemas["SheetRole"]; short?: boolean }>();
</script>

<template>
  <li class="SheetRole">
    <i :style="{ background: role.hex }" data-specimen />
    <div>
      <b>{{ role.label }}</b>
      <p>{{ role.hex.toUpperCase() }}</p>
      <template v-if="!short">
        <p>{{ role.rgb }}</p>
        <p>{{ role.hsl }}</p>
        <p>{{ role.oklch }}</p>
        <p v-if="role.follows" class="soft">follows {{ role.follows }}</p>
        <p v-if="Object.keys(role.states).length" class="states">
          <span v-for="(hex, state) in role.states" :key="state">
            <i :style="{ background: hex }" data-specimen /> {{ STATE_LABELS[state] }} {{ hex.toUpperCase() }}
          </span>
        </p>
      </template>
    </div>
  </li>
</template>

<style scoped>
.SheetRole {
  display: grid;
  grid-template-columns: 46px 1fr;
  gap: 10px;
  font-size: 12px;
  line-height: 1.32;
  break-inside: avoid;
}
i {
  box-shadow: inset 0 0 0 1px #0003;
  print-color-adjust: exact;
}
.states {
  display: grid;
}
.states i {
  display: inline-block;
  width: 9px;
  height: 9px;
}
</style>
