<script setup lang="ts">
import type { Plan } from "@/api/client";
import { dateText } from "@/logic/words";

/** What went live before, each by its colours, and the way back to it. */
defineProps<{ releases: Plan["releases"]; busy: boolean }>();
const emit = defineEmits<{ takeBack: [number: number] }>();
</script>

<template>
  <div v-if="releases.length" class="ReleaseHistory">
    <h3>Releases</h3>
    <ul>
      <li v-for="one in releases" :key="one.number">
        <span class="strip" aria-hidden="true"
          ><i v-for="colour in one.colours" :key="colour" :style="{ background: colour }"
        /></span>
        <span>
          {{ one.number ? dateText(one.made) : "Original" }} ·
          <b v-if="one.live">live</b>
          <button v-else type="button" class="act" :disabled="busy" @click="emit('takeBack', one.number)">
            Go back to this release
          </button>
        </span>
      </li>
    </ul>
  </div>
</template>

<style scoped>
ul {
  margin: 4px 0 0;
  padding: 0;
  list-style: none;
}
li {
  display: flex;
  gap: 12px;
  align-items: center;
  padding: 8px 0;
  border-top: 1px solid var(--rule);
}
.strip {
  display: flex;
  flex: none;
  width: 116px;
  height: 34px;
  box-shadow: 0 0 0 1px var(--rule);
}
.strip i {
  flex: 1;
}
</style>
