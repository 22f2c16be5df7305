<script setup lang="ts">
import {
  ElDropdown,
  ElDropdownItem,
  ElDropdownMenu,
  ElOption,
  ElRadioButton,
  ElRadioGroup,
  ElSelect,
} from "element-plus";
import { computed, defineAsyncComponent } from "vue";
import { useRoute, useRouter } from "vue-router";
import TextLadder from "@/parts/reading/TextLadder.vue";
import { AIMS } from "@/logic/words";
import { useSite } from "@/stores/site";
import { useStudy } from "@/stores/study";

/** Everything that has to be seen: how well each text reads, as a picture and as a list. */
const site = useSite();
const study = useStudy();
const route = useRoute();
const router = useRouter();
const VIEWS = {
  ladder: { label: "Ladder", shown: TextLadder },
  list: { label: "List", shown: defineAsyncComponent(() => import("@/parts/reading/TextList.vue")) },
  beyond: { label: "Beyond text", shown: defineAsyncComponent(() => import("@/parts/reading/BeyondTexts.vue")) },
  comfort: { label: "Comfort", shown: defineAsyncComponent(() => import("@/parts/reading/ComfortNotes.vue")) },
  eyes: { label: "Other eyes", shown: defineAsyncComponent(() => import("@/parts/reading/OtherEyes.vue")) },
} as const;
type View = keyof typeof VIEWS;
const view = computed({
  get: () => (String(route.query.view) in VIEWS ? (String(route.query.view) as View) : "ladder"),
  set: (next: View) => void router.replace({ query: next === "ladder" ? {} : { view: next } }),
});
function take(form: string): void {
  const address = `/api/sites/${site.slug}/report?form=${form}`;
  if (form === "report") {
    window.open(address, "_blank", "noopener");
    return;
  }
  const link = document.createElement("a");
  link.href = address;
  link.download = "";
  link.click();
}
const aim = computed({
  get: () => study.revision?.aim ?? "AA",
  set: (value: "AA" | "AAA") => void study.act({ act: "set-aim", aim: value }),
});
</script>

<template>
  <main class="ReadingScreen" tabindex="-1">
    <h1 class="unseen">Reading: {{ site.site?.name }}</h1>
    <header>
      <el-radio-group v-model="view" size="small" aria-label="What is shown">
        <el-radio-button v-for="(one, name) in VIEWS" :key="name" :value="name">{{ one.label }}</el-radio-button>
      </el-radio-group>
      <span class="gap" />
      <el-dropdown trigger="click" @command="take">
        <button type="button" class="act">Report…</button>
        <template #dropdown>
          <el-dropdown-menu>
            <el-dropdown-item command="report">Open the report, to print</el-dropdown-item>
            <el-dropdown-item command="statement">Save a statement for your visitors</el-dropdown-item>
            <el-dropdown-item command="earl">Save all results (EARL)</el-dropdown-item>
          </el-dropdown-menu>
        </template>
      </el-dropdown>
      <label class="soft aim">
        Aim
        <el-select v-model="aim" size="small" aria-label="Aim" append-to="#dialogs">
          <el-option v-for="one in AIMS" :key="one.value" :value="one.value" :label="one.label" />
        </el-select>
      </label>
    </header>
    <component :is="VIEWS[view].shown" />
  </main>
</template>

<style scoped>
.ReadingScreen {
  flex: 1;
  overflow-y: auto;
  min-height: 0;
  padding: 10px 20px 24px;
  background: var(--paper);
  scrollbar-width: thin;
}
header {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 20px;
  align-items: center;
  justify-content: space-between;
  margin-bottom: 8px;
}
.gap {
  flex: 1;
}
.aim {
  display: flex;
  gap: 6px;
  align-items: center;
}
.aim .el-select {
  width: 130px;
}
</style>
