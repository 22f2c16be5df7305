<script setup lang="ts">
import { sentence } from "@/api/client";
import { ElButton, ElInput } from "element-plus";
import { ref } from "vue";
import { useRoute, useRouter } from "vue-router";
import TopBar from "@/parts/common/TopBar.vue";
import { useSession } from "@/stores/session";

/** Sign in, or sign up with the same two fields. */
const session = useSession();
const route = useRoute();
const router = useRouter();
const name = ref("");
const password = ref("");
const trouble = ref("");
const isBusy = ref(false);

async function go(way: "signIn" | "signUp"): Promise<void> {
  if (!name.value.trim() || !password.value) return void (trouble.value = "Both are needed: a name and a password.");
  isBusy.value = true;
  try {
    await session[way]({ name: name.value.trim(), password: password.value });
    const to = route.query.to;
    await router.push(typeof to === "string" && to.startsWith("/") && !to.startsWith("//") ? to : "/");
  } catch (refusal) {
    trouble.value = sentence(refusal);
  } finally {
    isBusy.value = false;
  }
}
</script>

<template>
  <div class="SignInScreen">
    <top-bar />
    <main>
      <h1>Sign in to your sites</h1>
      <form @submit.prevent="go('signIn')">
        <label for="name">Name</label>
        <el-input id="name" v-model="name" autocomplete="username" />
        <label for="password">Password</label>
        <el-input id="password" v-model="password" type="password" autocomplete="current-password" show-password />
        <p role="alert" class="trouble">{{ trouble }}</p>
        <div class="acts">
          <el-button type="primary" native-type="submit" :loading="isBusy">Sign in</el-button>
          <el-button :disabled="isBusy" @click="go('signUp')">Sign up</el-button>
        </div>
      </form>
    </main>
  </div>
</template>

<style scoped>
main {
  max-width: 380px;
  margin: 12vh auto 0;
  padding: 28px 30px;
  background: var(--paper);
  border: 1px solid var(--rule);
}
form {
  display: grid;
  gap: 6px;
  margin-top: 16px;
}
label {
  font-weight: 700;
}
.trouble {
  min-height: 1.4em;
}
.acts {
  display: flex;
}
</style>
