<script setup lang="ts">
import { ElButton, ElInput } from "element-plus";
import { ref } from "vue";
import { useRouter } from "vue-router";
import client, { ask, sentence } from "@/api/client";
import { useSession } from "@/stores/session";

/** All that is somebody's as one file, and the end of the account. */
const session = useSession();
const router = useRouter();
const password = ref("");
const trouble = ref("");
const isOpen = ref(false);

async function end(): Promise<void> {
  trouble.value = "";
  try {
    session.take(await ask(client.DELETE("/api/account", { body: { password: password.value } })));
    await router.push("/sign-in");
  } catch (refusal) {
    trouble.value = sentence(refusal);
  }
}
</script>

<template>
  <section class="EndAccount" aria-labelledby="yours">
    <h2 id="yours">What is yours</h2>
    <p><a href="/api/account/data" download>Download all of it</a> <span class="soft">as one .zip</span></p>
    <button v-if="!isOpen" type="button" class="act" @click="isOpen = true">Delete my account…</button>
    <form v-else @submit.prevent="end">
      <p>
        <b>Your sites, their colours and everything released under this account are deleted, at once and for good.</b>
      </p>
      <label for="end-password">Your password</label>
      <el-input id="end-password" v-model="password" type="password" autocomplete="current-password" show-password />
      <span class="acts">
        <el-button type="danger" native-type="submit" :disabled="!password">Delete my account</el-button>
        <el-button @click="isOpen = false">Keep it</el-button>
      </span>
    </form>
    <p v-if="trouble" role="alert">
      <b>{{ trouble }}</b>
    </p>
  </section>
</template>

<style scoped>
form {
  display: grid;
  gap: 6px;
  max-width: 420px;
}
</style>
