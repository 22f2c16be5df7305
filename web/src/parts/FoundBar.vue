<script setup lang="ts">
import { computed } from "vue";
import type { Found } from "@/api/client";
import { count } from "@/logic/words";

/** The found colours of one kind side by side in proportion, those of one role under one bracket. */
type Group = Found["groups"][number];
const props = defineProps<{ group: Group; labels: Map<string, string> }>();
const emit = defineEmits<{ open: [role: string] }>();

interface Bracket {
  role: string | null;
  share: number;
  colours: Group["colours"];
}
const brackets = computed(() => {
  const found: Bracket[] = [];
  for (const colour of props.group.colours) {
    const last = found.at(-1);
    if (last && last.role === colour.role) {
      last.share += colour.share;
      last.colours.push(colour);
    } else found.push({ role: colour.role, share: colour.share, colours: [colour] });
  }
  return found;
});
const title = (bracket: Bracket) => (bracket.role ? (props.labels.get(bracket.role) ?? bracket.role) : "under no role");
</script>

<template>
  <section class="FoundBar">
    <div>
      <h2>{{ group.label }}</h2>
      <p class="soft">{{ count(group.colours.length, "colour") }}</p>
    </div>
    <div class="bar">
      <component
        :is="bracket.role ? 'button' : 'div'"
        v-for="bracket in brackets"
        :key="bracket.role ?? bracket.colours[0]!.colour"
        class="bracket"
        :type="bracket.role ? 'button' : undefined"
        :style="{ flexGrow: bracket.share * 100 }"
        :title="`${title(bracket)}: ${bracket.colours.map((one) => one.colour).join(', ')}`"
        @click="bracket.role && emit('open', bracket.role)"
      >
        <span class="colours" aria-hidden="true">
          <i
            v-for="one in bracket.colours"
            :key="one.colour"
            :style="{ background: one.colour, flexGrow: one.share * 100 }"
          />
        </span>
        <span class="hook" aria-hidden="true" />
        <span class="label">
          <b>{{ title(bracket) }}</b>
          <template v-if="bracket.colours.length > 1">&nbsp;{{ bracket.colours.length }} → 1</template>
        </span>
      </component>
    </div>
  </section>
</template>

<style scoped>
.FoundBar {
  display: grid;
  grid-template-columns: 120px 1fr;
  margin-bottom: 10px;
}
h2 {
  padding-top: 8px;
  font-size: 14px;
}
.bar {
  display: flex;
  min-width: 0;
}
.bracket {
  display: block;
  flex: 1 1 0;
  min-width: 14px;
  padding: 0;
  border: 0;
  background: none;
  text-align: left;
}
button.bracket {
  cursor: pointer;
}
.colours {
  display: flex;
  height: 50px;
  box-shadow: 0 0 0 1px var(--edge);
}
.colours i {
  flex: 1 1 0;
  min-width: 3px;
  box-shadow: inset -1px 0 0 #8884;
}
.hook {
  display: block;
  height: 6px;
  margin: 2px 2px 0;
  border: 1px solid var(--ink);
  border-top: 0;
}
.label {
  display: block;
  overflow: hidden;
  padding: 2px 2px 0;
  font-size: 12px;
  white-space: nowrap;
  text-overflow: ellipsis;
}
button.bracket:hover .label {
  text-decoration: underline;
}
@media (max-width: 700px) {
  .FoundBar {
    grid-template-columns: 1fr;
  }
}
</style>
