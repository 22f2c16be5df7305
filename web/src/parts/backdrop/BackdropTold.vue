<script setup lang="ts">
import { ElButton } from "element-plus";
import { computed } from "vue";
import type { Answer, Schemas } from "@/api/client";
import type { Layer } from "@/logic/backdrop";
import { count, sizeText } from "@/logic/words";

/** How the texts on a backdrop read, and what would help. */
const props = defineProps<{
  tried: Answer<"try-backdrop"> | null;
  layers: Layer[];
  trouble: string;
  busy: string;
  /** How many texts would be hard to read should its pictures not load. */
  hardOnBase: number;
  /** What a page's pictures should weigh at most, in bytes. */
  budget: number;
  /** How solid the boxes on it are. */
  panels: number;
  /** How many texts the last veil that was looked for could not help. */
  left: number;
  /** Whether it lies behind a place, not the whole site. */
  isPlace: boolean;
}>();
const emit = defineEmits<{
  base: [];
  veil: [];
  focus: [];
  stops: [];
  panels: [];
  plate: [];
  turn: [];
  change: [];
}>();
const hard = computed(() => props.tried?.worst.filter((text) => text.verdict === "fail") ?? []);
const ratio = (text: Schemas["TextOnIt"]) => `${text.ratio?.toFixed(1) ?? "?"} needs ${text.required}`;
const short = (text: string) => (text.length > 32 ? `${text.slice(0, 30)}…` : text);
const has = (kind: "picture" | "gradient") => props.layers.some((layer) => layer[kind] && !layer.off);
</script>

<template>
  <div class="BackdropTold told" aria-live="polite">
    <p v-if="trouble" role="alert">{{ trouble }}</p>
    <p v-else-if="busy">{{ busy }}</p>
    <template v-else-if="tried">
      <p v-if="hard.length">
        <b>“{{ short(hard[0]!.text) }}” is hard to read ({{ ratio(hard[0]!) }}).</b>{{ " " }}
        <span class="soft">
          {{
            hard.length > 1
              ? `${count(tried.hard, "text")} of ${tried.texts} on it are.`
              : "All others on it can be read."
          }}
        </span>
      </p>
      <p v-else-if="tried.unsure">
        <b>Not known yet for {{ count(tried.unsure, "text") }}.</b>
      </p>
      <p v-else-if="!tried.texts" class="soft">No text of this page lies on it.</p>
      <p v-else>
        <b>All {{ count(tried.texts, "text") }} on it can be read.</b>{{ " " }}
        <span v-if="tried.lowest" class="soft">The lowest contrast is {{ tried.lowest }}.</span>
      </p>
      <p v-if="tried.is_small" class="soft">Its place is so small that hardly anything of a backdrop shows there.</p>
      <p v-if="hardOnBase" class="soft">
        Should its pictures fail to load, {{ count(hardOnBase, "text") }} would be hard to read on the base colour.
        <button type="button" class="act" @click="emit('base')">Change the base colour</button>
      </p>
      <p v-if="tried.bytes > budget" class="soft">
        Its pictures weigh {{ sizeText(tried.bytes) }}, more than the {{ sizeText(budget) }} that a page should.
      </p>
    </template>
    <p v-if="left && !busy" class="soft">
      No veil alone makes {{ left === 1 ? "it" : "all of them" }} readable: the texts on it are of colours that need
      different backgrounds.
    </p>
    <p v-if="hard.length && !busy" class="acts">
      <el-button size="small" :type="left ? 'default' : 'primary'" @click="emit('veil')">
        Lay the least veil over it
      </el-button>
      <el-button v-if="has('picture')" size="small" @click="emit('focus')">Move the picture</el-button>
      <el-button v-if="has('gradient')" size="small" @click="emit('stops')">Change the gradient’s colours</el-button>
      <el-button v-if="panels < 1" size="small" @click="emit('panels')">Make the boxes more solid</el-button>
      <el-button size="small" :type="left ? 'primary' : 'default'" @click="emit('plate')"
        >Put a plate behind these words</el-button
      >
      <el-button v-if="tried?.turned && isPlace" size="small" @click="emit('turn')">
        Turn its text {{ tried.turned.way }}
      </el-button>
      <el-button v-if="left" size="small" @click="emit('change')">Change this text’s colour…</el-button>
    </p>
  </div>
</template>

<style scoped>
.told {
  min-height: 46px;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 12px;
  align-items: center;
  margin-top: 4px;
}
.acts > * {
  margin: 0;
}
</style>
