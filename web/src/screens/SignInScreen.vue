<script setup lang="ts">
import { ElButton, ElInput } from "element-plus";
import { computed, ref } from "vue";
import { RouterLink, useRoute, useRouter } from "vue-router";
import type { AuthAnswer } from "@/api/auth";
import { sentence } from "@/api/client";
import { canUsePasskeys, usePasskey } from "@/api/passkeys";
import PlainCard from "@/parts/account/PlainCard.vue";
import { useSession } from "@/stores/session";

/** Sign in, or sign up with the same two fields; then a code, or an address to confirm, where one is asked for. */
const session = useSession();
const route = useRoute();
const router = useRouter();
const address = ref("");
const password = ref("");
const code = ref("");
const trouble = ref("");
const isBusy = ref(false);
const step = ref<"in" | "code" | "letter">("in");
const title = computed(
  () => ({ in: "Sign in to your sites", code: "One more step", letter: "Look into your mail" })[step.value],
);

const ways = ref<string[]>([]);

const enter = (way: string, body: unknown) => take(() => session.enter(way, body));
const byPasskey = (way: "login" | "authenticate") => take(() => session.enterBy(() => usePasskey(way)));
async function take(done: () => Promise<AuthAnswer<unknown>>): Promise<void> {
  isBusy.value = true;
  trouble.value = "";
  try {
    const { waiting, ways: told } = await done();
    ways.value = told;
    if (waiting.includes("mfa_authenticate")) step.value = "code";
    else if (waiting.includes("verify_email")) step.value = "letter";
    else {
      const to = route.query.to;
      // a page that is none of the front end's
      if (to === "/admin/") return location.assign(to);
      await router.push(typeof to === "string" && to.startsWith("/") && !to.startsWith("//") ? to : "/");
    }
  } catch (refusal) {
    trouble.value = sentence(refusal);
  } finally {
    isBusy.value = false;
  }
}
async function go(way: "auth/login" | "auth/signup"): Promise<void> {
  if (!address.value.trim() || !password.value)
    return void (trouble.value = "Both are needed: your mail address and a password.");
  await enter(way, { email: address.value.trim(), password: password.value });
}
</script>

<template>
  <plain-card :title="title" :trouble="trouble">
    <form v-if="step === 'in'" novalidate @submit.prevent="go('auth/login')">
      <label for="address">Mail address</label>
      <el-input id="address" v-model="address" type="email" autocomplete="username" />
      <label for="password">Password</label>
      <el-input id="password" v-model="password" type="password" autocomplete="current-password" show-password />
      <div class="go">
        <el-button type="primary" native-type="submit" :loading="isBusy">Sign in</el-button>
        <el-button :disabled="isBusy" @click="go('auth/signup')">Sign up</el-button>
        <router-link to="/account/reset">Forgot the password?</router-link>
      </div>
      <p v-if="canUsePasskeys()" class="other">
        <button type="button" class="act" :disabled="isBusy" @click="byPasskey('login')">Sign in with a passkey</button>
      </p>
    </form>
    <form v-else-if="step === 'code'" @submit.prevent="enter('auth/2fa/authenticate', { code: code.trim() })">
      <p v-if="ways.includes('webauthn') && canUsePasskeys()">
        <el-button type="primary" :loading="isBusy" @click="byPasskey('authenticate')">Use a passkey</el-button>
      </p>
      <label for="code">{{
        ways.length && !ways.includes("totp") ? "Or a spare code" : "The code that your app shows now, or a spare one"
      }}</label>
      <el-input id="code" v-model="code" inputmode="numeric" autocomplete="one-time-code" />
      <div class="go">
        <el-button type="primary" native-type="submit" :loading="isBusy">Go on</el-button>
      </div>
    </form>
    <div v-else role="status">
      <p>
        A letter is on its way to <b>{{ address }}</b>. Open the page that it names, in this browser, and you are in.
      </p>
      <p v-if="session.isDemo">
        This is the demo: the letter lies in the <router-link to="/mailbox">Mailbox</router-link>.
      </p>
    </div>
  </plain-card>
</template>
