<script setup lang="ts">
import { ElButton, ElInput } from "element-plus";
import { onMounted, ref, shallowRef } from "vue";
import { auth } from "@/api/auth";
import AskPassword from "@/parts/account/AskPassword.vue";
import { useSure } from "@/composables/useSure";

/** A second step at signing in: codes of an app, and spare ones to keep on paper. */
interface Setup {
  secret: string;
}
const { isAsking, password, trouble, said, isBusy, sure, goOn } = useSure();
const isOn = ref<boolean | null>(null);
const setup = shallowRef<Setup | null>(null);
const spare = shallowRef<string[]>([]);
const code = ref("");

async function load(): Promise<void> {
  const { status } = await auth("account/authenticators/totp", "GET");
  isOn.value = status === 200;
}
onMounted(() => sure(load));

const begin = () =>
  sure(async () => {
    const { meta } = await auth("account/authenticators/totp", "GET");
    setup.value = meta as unknown as Setup;
  });
const finish = () =>
  sure(async () => {
    await auth("account/authenticators/totp", "POST", { code: code.value.trim() });
    setup.value = null;
    code.value = "";
    isOn.value = true;
    await showSpare();
  }, "Signing in asks for a code from now on.");
async function showSpare(): Promise<void> {
  const { data } = await auth<{ unused_codes: string[] }>("account/authenticators/recovery-codes", "GET");
  spare.value = data.unused_codes;
}
const end = () =>
  sure(async () => {
    await auth("account/authenticators/totp", "DELETE");
    isOn.value = false;
    spare.value = [];
  }, "Signing in asks for the password alone.");
/** A picture of the secret, asked for anew with each one. */
const image = (secret: string) => `/api/account/second-step.svg?${secret.slice(0, 4)}`;
</script>

<template>
  <section class="SecondStep" aria-labelledby="second-step">
    <h2 id="second-step">A second step</h2>
    <p v-if="isOn === null" class="soft">Looking…</p>
    <template v-else-if="isOn">
      <p>Signing in asks for a code from your app, too.</p>
      <p class="acts">
        <button type="button" class="act" @click="sure(showSpare)">Show the spare codes</button>
        <button type="button" class="act" @click="end">Take it away</button>
      </p>
    </template>
    <template v-else-if="!setup">
      <p>With an app that makes codes, nobody gets in who has only your password.</p>
      <el-button :loading="isBusy" @click="begin">Set it up</el-button>
    </template>
    <form v-else class="setup" @submit.prevent="finish">
      <img :src="image(setup.secret)" alt="A code to read with your app" width="150" height="150" />
      <div>
        <p>
          Read this with your app, or type in: <code>{{ setup.secret }}</code>
        </p>
        <label for="first-code">The code that it shows now</label>
        <el-input id="first-code" v-model="code" inputmode="numeric" autocomplete="one-time-code" />
        <el-button type="primary" native-type="submit" :loading="isBusy">Set it up</el-button>
      </div>
    </form>
    <div v-if="spare.length">
      <p>Spare codes, each for one sign-in without the app. Keep them on paper:</p>
      <pre tabindex="0">{{ spare.join("\n") }}</pre>
    </div>
    <p role="status">{{ said }}</p>
    <p v-if="trouble && !isAsking" role="alert">
      <b>{{ trouble }}</b>
    </p>
    <ask-password v-model="isAsking" v-model:password="password" :trouble="trouble" @go="goOn" />
  </section>
</template>

<style scoped>
.acts {
  display: flex;
  gap: 18px;
}
.setup {
  display: flex;
  flex-wrap: wrap;
  gap: 18px;
}
.setup > div {
  display: grid;
  flex: 1;
  gap: 6px;
  min-width: 220px;
}
img {
  background: #fff;
}
code {
  overflow-wrap: anywhere;
}
pre {
  columns: 2;
  max-width: 300px;
  padding: 8px 10px;
  background: var(--sunk);
}
</style>
