<script setup lang="ts">
import { ElButton, ElInput } from "element-plus";
import { ref } from "vue";
import { auth } from "@/api/auth";
import AskPassword from "@/parts/account/AskPassword.vue";
import { useSure } from "@/composables/useSure";

/** The address and the password, each to be changed. */
const { isAsking, password, trouble, said, isBusy, sure, goOn } = useSure();
const address = ref("");
const old = ref("");
const fresh = ref("");
const changeAddress = () =>
  sure(async () => {
    await auth("account/email", "POST", { email: address.value.trim() });
    address.value = "";
  }, "A letter is on its way to the new address. It holds once you have opened the page that the letter names.");
const changePassword = () =>
  sure(async () => {
    await auth("account/password/change", "POST", { current_password: old.value, new_password: fresh.value });
    old.value = fresh.value = "";
  }, "The new password holds from now on.");
</script>

<template>
  <section class="YourWords" aria-labelledby="your-words">
    <h2 id="your-words">Address and password</h2>
    <form novalidate @submit.prevent="changeAddress">
      <label for="new-address">New mail address</label>
      <el-input id="new-address" v-model="address" type="email" autocomplete="email" />
      <el-button native-type="submit" :disabled="!address.trim()" :loading="isBusy">Change it</el-button>
    </form>
    <form @submit.prevent="changePassword">
      <label for="old-password">Password now</label>
      <el-input id="old-password" v-model="old" type="password" autocomplete="current-password" show-password />
      <label for="new-password">New password</label>
      <el-input id="new-password" v-model="fresh" type="password" autocomplete="new-password" show-password />
      <el-button native-type="submit" :disabled="!old || !fresh" :loading="isBusy">Change it</el-button>
    </form>
    <p role="status">{{ said }}</p>
    <p v-if="trouble && !isAsking" role="alert">
      <b>{{ trouble }}</b>
    </p>
    <ask-password v-model="isAsking" v-model:password="password" :trouble="trouble" @go="goOn" />
  </section>
</template>

<style scoped>
form {
  display: grid;
  gap: 5px;
  justify-items: start;
  max-width: 340px;
  margin-bottom: 16px;
}
</style>
