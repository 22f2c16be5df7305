<script setup lang="ts">
import { ElButton, ElInput } from "element-plus";
import { computed, ref } from "vue";
import { RouterLink, useRoute, useRouter } from "vue-router";
import { auth } from "@/api/auth";
import { sentence } from "@/api/client";
import PlainCard from "@/parts/account/PlainCard.vue";
import { useSession } from "@/stores/session";

/** A forgotten password: asked for by address; set anew on the page that the letter names. */
const session = useSession();
const route = useRoute();
const router = useRouter();
const key = computed(() => route.params.key as string | undefined);
const address = ref("");
const password = ref("");
const trouble = ref("");
const isSent = ref(false);
const isBusy = ref(false);

async function run(step: () => Promise<void>): Promise<void> {
  isBusy.value = true;
  trouble.value = "";
  try {
    await step();
  } catch (refusal) {
    trouble.value = sentence(refusal);
  } finally {
    isBusy.value = false;
  }
}
const ask = () =>
  run(async () => {
    await auth("auth/password/request", "POST", { email: address.value.trim() });
    isSent.value = true;
  });
const set = () =>
  run(async () => {
    await auth("auth/password/reset", "POST", { key: key.value, password: password.value });
    await session.load();
    await router.push(session.name ? "/" : "/sign-in");
  });
</script>

<template>
  <plain-card :title="key ? 'Set a new password' : 'Forgot the password?'" :trouble="trouble">
    <form v-if="key" @submit.prevent="set">
      <label for="password">New password</label>
      <el-input id="password" v-model="password" type="password" autocomplete="new-password" show-password />
      <div class="go">
        <el-button type="primary" native-type="submit" :loading="isBusy">Set it</el-button>
      </div>
    </form>
    <div v-else-if="isSent" role="status">
      <p>
        A letter is on its way to <b>{{ address }}</b>, with a page to set a new password on.
      </p>
      <p v-if="session.isDemo">
        This is the demo: the letter lies in the <router-link to="/mailbox">Mailbox</router-link>.
      </p>
    </div>
    <form v-else novalidate @submit.prevent="ask">
      <label for="address">Mail address</label>
      <el-input id="address" v-model="address" type="email" autocomplete="username" />
      <div class="go">
        <el-button type="primary" native-type="submit" :loading="isBusy">Send me a letter</el-button>
        <router-link to="/sign-in">Back</router-link>
      </div>
    </form>
  </plain-card>
</template>
