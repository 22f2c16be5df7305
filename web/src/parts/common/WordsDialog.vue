<script setup lang="ts">
import { ElDialog } from "element-plus";

/** What the words of our own mean, each in one sentence. */
const isOpen = defineModel<boolean>({ required: true });
const WORDS = [
  ["Coat", "A set of colours for a section: its background and the text on it."],
  ["Brand", "The colour that is your site’s own. Links, buttons and bands of that colour follow it."],
  ["Study", "One version of your colours. Keep several and compare them."],
  ["Backdrop", "What lies behind a section: a colour, gradient, picture or pattern."],
  ["Veil", "A colour laid over a picture, so that text on it is readable."],
  ["Plate", "A colour right behind some text, and behind nothing else."],
  ["Aim", "How readable text is to be. AA is the usual aim, AAA the strict one."],
  ["Ladder", "Each background with the text on it. Further right reads better."],
  ["Contrast", "How much lighter one colour is than another. Text needs 4.5, large text 3."],
] as const;
</script>

<template>
  <el-dialog v-model="isOpen" title="Words" width="520px" append-to="#dialogs">
    <dl>
      <template v-for="[word, means] in WORDS" :key="word">
        <dt>{{ word }}</dt>
        <dd>{{ means }}</dd>
      </template>
    </dl>
  </el-dialog>
</template>

<style scoped>
dl {
  display: grid;
  grid-template-columns: max-content 1fr;
  gap: 8px 20px;
  margin: 0;
}
dt {
  font-weight: 700;
}
dd {
  margin: 0;
}
</style>
