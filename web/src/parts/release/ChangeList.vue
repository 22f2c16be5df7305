<script setup lang="ts">
import { ElRadioButton, ElRadioGroup } from "element-plus";
import { computed, ref } from "vue";
import type { Schemas } from "@/api/client";
import ChangeRow from "@/parts/release/ChangeRow.vue";
import { count } from "@/logic/words";
import { useSite } from "@/stores/site";

/** What a release changes, one line each: all of it, or by the section or page it shows in. */
const props = defineProps<{ changes: Schemas["ChangeOut"][]; canTakeBack?: boolean; busy?: boolean }>();
const emit = defineEmits<{ look: [page: string]; takeBack: [key: string] }>();
type Change = Schemas["ChangeOut"];

const BY = { colour: "Colour", place: "Place", page: "Page" } as const;
const by = ref<keyof typeof BY>("colour");
const site = useSite();
const FIRST = 8;
const isAll = ref(false);

const EVERYWHERE = "Wherever its rules find something";
function gathered(names: (change: Change) => string[]): [string, Change[]][] {
  const groups = new Map<string, Change[]>();
  for (const change of props.changes)
    for (const name of names(change)) groups.set(name, [...(groups.get(name) ?? []), change]);
  return [...groups];
}
const groups = computed(() => {
  if (by.value === "place") {
    return gathered((one) => (one.sections.length ? one.sections : [EVERYWHERE])).map(([name, some]) => ({
      name,
      label: name,
      page: "",
      some,
    }));
  }
  const order = site.pages.map((page) => page.path);
  return gathered((one) => (Object.keys(one.pages).length ? Object.keys(one.pages) : [EVERYWHERE]))
    .sort(([one], [other]) => order.indexOf(one) - order.indexOf(other))
    .map(([name, some]) => ({
      name,
      label: site.names.get(name) ?? name,
      page: name === EVERYWHERE ? "" : name,
      some,
    }));
});
const shown = computed(() => (isAll.value ? props.changes : props.changes.slice(0, FIRST)));
</script>

<template>
  <div class="ChangeList">
    <el-radio-group v-if="changes.length > 1" v-model="by" size="small" aria-label="How the changes are listed">
      <el-radio-button v-for="(label, name) in BY" :key="name" :value="name"
        >By {{ label.toLowerCase() }}</el-radio-button
      >
    </el-radio-group>
    <template v-if="by === 'colour'">
      <ul>
        <change-row
          v-for="one in shown"
          :key="one.key"
          :change="one"
          :can-take-back="canTakeBack"
          :busy="busy"
          @take-back="emit('takeBack', one.key)"
        />
      </ul>
      <button v-if="changes.length > FIRST" type="button" class="act" @click="isAll = !isAll">
        {{ isAll ? `The first ${FIRST} alone` : `All ${changes.length}` }}
      </button>
    </template>
    <details
      v-for="group in groups"
      v-else
      :key="`${by} ${group.name}`"
      @toggle="group.page && emit('look', group.page)"
    >
      <summary>
        <b>{{ group.label }}</b> <span class="soft">{{ count(group.some.length, "change") }}</span>
      </summary>
      <ul>
        <change-row
          v-for="one in group.some"
          :key="one.key"
          :change="one"
          :page="group.page"
          :can-take-back="canTakeBack"
          :busy="busy"
          @take-back="emit('takeBack', one.key)"
        />
      </ul>
    </details>
  </div>
</template>

<style scoped>
ul {
  margin: 4px 0 0;
  padding: 0;
  list-style: none;
}
details {
  padding: 5px 0;
  border-top: 1px solid var(--rule);
}
details:first-of-type {
  margin-top: 8px;
}
summary {
  cursor: pointer;
}
</style>
