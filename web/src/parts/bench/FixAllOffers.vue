<script setup lang="ts">
import { ElCheckbox } from "element-plus";
import type { Answer, Schemas } from "@/api/client";

/** What makes text readable that no colour does: less fading, veils, rules of CSS; each taken or not, none at first. */
defineProps<{ found: Answer<"fix-all">; taken: Set<string> }>();
const emit = defineEmits<{ toggle: [key: string] }>();

/** What a rule does to its texts, up to the colour it gives. */
function deed(rule: Schemas["RuleOffer"]): string {
  const said = [];
  if (rule.ways.includes("lift")) said.push("lifted over what dims it");
  if (rule.ways.includes("clear")) said.push("without the filter that fades it");
  if (rule.ways.includes("background")) said.push("on");
  else if (rule.colour) said.push("in");
  return said.join(", ");
}
</script>

<template>
  <template v-if="found.fades.length">
    <p class="soft">Faded by the page. Fade less, and it is readable:</p>
    <ul>
      <li v-for="fade in found.fades" :key="fade.selector">
        <el-checkbox size="small" :model-value="taken.has(fade.selector)" @change="emit('toggle', fade.selector)">
          <code>{{ fade.selector }}</code> at {{ Math.round(fade.opacity * 100) }} % · fixes {{ fade.fixes }}
        </el-checkbox>
      </li>
    </ul>
  </template>
  <template v-if="found.veils.length">
    <p class="soft">On a picture. Lay a colour over it or behind the text, and it is readable:</p>
    <ul>
      <li v-for="veil in found.veils" :key="veil.section">
        <el-checkbox size="small" :model-value="taken.has(veil.section)" @change="emit('toggle', veil.section)">
          <i :style="{ background: veil.colour }" data-specimen />
          {{ veil.behind.length ? "right behind the text in" : "over" }} {{ veil.label }}, at
          {{ Math.round(veil.opacity * 100) }} % · fixes {{ veil.fixes }}
        </el-checkbox>
      </li>
    </ul>
  </template>
  <template v-if="found.rules.length">
    <p class="soft">The palette alone cannot fix it. A rule in your own CSS makes it readable:</p>
    <ul>
      <li v-for="rule in found.rules" :key="rule.css">
        <el-checkbox
          size="small"
          :title="rule.css"
          :model-value="taken.has(rule.css)"
          @change="emit('toggle', rule.css)"
        >
          <q>{{ rule.samples[0] ?? rule.selector }}</q> {{ deed(rule) }}
          <template v-if="rule.colour"
            ><i :style="{ background: rule.colour }" data-specimen /> {{ rule.role ?? rule.colour }}</template
          >
          · fixes {{ rule.fixes }}
        </el-checkbox>
      </li>
    </ul>
  </template>
</template>

<style scoped>
p {
  margin: 0;
}
ul {
  margin: 0;
  padding: 0;
  list-style: none;
}
.el-checkbox {
  height: auto;
  padding: 3px 0;
  white-space: normal;
}
i {
  display: inline-block;
  width: 14px;
  height: 14px;
  box-shadow: inset 0 0 0 1px #0003;
  vertical-align: -2px;
}
</style>
