<script setup lang="ts">
import { onMounted, ref, shallowRef } from "vue";
import client, { ask, type Schemas, sentence } from "@/api/client";
import TopBar from "@/parts/common/TopBar.vue";
import { dateText } from "@/logic/words";

/** The demo's letters: what would have gone out by mail lies here instead. */
const letters = shallowRef<Schemas["LetterOut"][]>([]);
const trouble = ref("");
const isLooked = ref(false);

async function look(): Promise<void> {
  try {
    letters.value = await ask(client.GET("/api/mailbox"));
  } catch (refusal) {
    trouble.value = sentence(refusal);
  } finally {
    isLooked.value = true;
  }
}
onMounted(look);

/** A letter's text, with the pages of Glaucon's own that it names as links. */
function parts(body: string): { text: string; to: string | null }[] {
  return body.split(/(https?:\/\/\S+)/).map((text) => {
    const url = /^https?:/.test(text) ? new URL(text) : null;
    return { text, to: url?.host === location.host ? url.pathname : null };
  });
}
</script>

<template>
  <div class="MailboxScreen">
    <top-bar />
    <main tabindex="-1">
      <h1>Mailbox</h1>
      <p class="soft">Glaucon sends no mail from this demo. What it would have sent lies here.</p>
      <button type="button" class="act" @click="look">Look again</button>
      <p v-if="trouble" role="alert">{{ trouble }}</p>
      <p v-else-if="isLooked && !letters.length">There is no letter yet.</p>
      <article v-for="(letter, place) in letters" :key="place">
        <h2>{{ letter.subject }}</h2>
        <p class="soft">to {{ letter.to }}, {{ dateText(letter.sent) }}</p>
        <p class="body">
          <template v-for="(part, number) in parts(letter.body)" :key="number"
            ><a v-if="part.to" :href="part.to">{{ part.text }}</a
            ><template v-else>{{ part.text }}</template></template
          >
        </p>
      </article>
    </main>
  </div>
</template>

<style scoped>
main {
  max-width: 680px;
  margin: 0 auto;
  padding: 28px 24px;
}
article {
  margin-top: 16px;
  padding: 14px 18px;
  border: 1px solid var(--rule);
  background: var(--paper);
}
h2 {
  font-size: 16px;
}
.body {
  margin-top: 8px;
  overflow-wrap: anywhere;
  white-space: pre-wrap;
}
</style>
