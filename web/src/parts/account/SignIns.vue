<script setup lang="ts">
import { ElButton } from "element-plus";
import { computed, onMounted, shallowRef } from "vue";
import { auth, type SignIn } from "@/api/auth";
import AskPassword from "@/parts/account/AskPassword.vue";
import { useSure } from "@/composables/useSure";
import { dateText } from "@/logic/words";

/** Where the same person is signed in, and the end of all others. */
const { isAsking, password, trouble, said, isBusy, sure, goOn } = useSure();
const all = shallowRef<SignIn[]>([]);
const others = computed(() => all.value.filter((one) => !one.is_current));

async function load(): Promise<void> {
  all.value = (await auth<SignIn[]>("auth/sessions", "GET")).data;
}
onMounted(() => sure(load));
const endOthers = () =>
  sure(async () => {
    await auth("auth/sessions", "DELETE", { sessions: others.value.map((one) => one.id) });
    await load();
  }, "All other sign-ins have ended.");

const browser = (agent: string) =>
  /Firefox/.test(agent)
    ? "Firefox"
    : /Edg/.test(agent)
      ? "Edge"
      : /Chrom/.test(agent)
        ? "Chromium"
        : /Safari/.test(agent)
          ? "Safari"
          : "A browser";
const when = (one: SignIn) => dateText(new Date(1000 * (one.last_seen_at ?? one.created_at)).toISOString());
</script>

<template>
  <section class="SignIns" aria-labelledby="sign-ins">
    <h2 id="sign-ins">Where you are signed in</h2>
    <ul>
      <li v-for="one in all" :key="one.id">
        {{ browser(one.user_agent) }}, from {{ one.ip }}, <span class="soft">{{ when(one) }}</span>
        <b v-if="one.is_current"> this one</b>
      </li>
    </ul>
    <el-button v-if="others.length" :loading="isBusy" @click="endOthers">Sign out everywhere else</el-button>
    <p role="status">{{ said }}</p>
    <p v-if="trouble && !isAsking" role="alert">
      <b>{{ trouble }}</b>
    </p>
    <ask-password v-model="isAsking" v-model:password="password" :trouble="trouble" @go="goOn" />
  </section>
</template>

<style scoped>
ul {
  margin: 0 0 8px;
  padding: 0;
  list-style: none;
}
li {
  padding: 5px 0;
  border-top: 1px solid var(--rule);
}
</style>
