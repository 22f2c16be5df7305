<script setup lang="ts">
import { ElButton, ElInput } from "element-plus";
import { onMounted, ref, shallowRef } from "vue";
import { auth } from "@/api/auth";
import { addPasskey, canUsePasskeys, listPasskeys, removePasskey, type Passkey } from "@/api/passkeys";
import AskPassword from "@/parts/account/AskPassword.vue";
import { useSure } from "@/composables/useSure";
import { dateText } from "@/logic/words";

/** Passkeys: a device, or a key on a ring, that signs in instead of the password. */
const { isAsking, password, trouble, said, isBusy, sure, goOn } = useSure();
const keys = shallowRef<Passkey[] | null>(null);
const spare = shallowRef<string[]>([]);
const name = ref("");
const isNaming = ref(false);
const load = async () => void (keys.value = await listPasskeys());
onMounted(() => sure(load));

const add = () =>
  sure(async () => {
    const called = name.value.trim() || "This device";
    const isFirst = await addPasskey(called);
    isNaming.value = false;
    name.value = "";
    await load();
    if (!isFirst) return;
    const { data } = await auth<{ unused_codes: string[] }>("account/authenticators/recovery-codes", "GET");
    spare.value = data.unused_codes;
  }, "You can sign in with it from now on.");
const remove = (one: Passkey) =>
  sure(async () => {
    await removePasskey(one.id);
    await load();
    spare.value = [];
  }, `“${one.name}” is taken away.`);
const iso = (seconds: number) => new Date(1000 * seconds).toISOString();
</script>

<template>
  <section class="PassKeys" aria-labelledby="passkeys">
    <h2 id="passkeys">Passkeys</h2>
    <p v-if="!keys?.length">A passkey of your phone, computer or key ring lets you in without the password.</p>
    <ul v-else>
      <li v-for="one in keys" :key="one.id">
        <b>{{ one.name }}</b> <span class="soft">since {{ dateText(iso(one.created_at)) }}</span>
        <button type="button" class="act" @click="remove(one)">Take away</button>
      </li>
    </ul>
    <p v-if="!canUsePasskeys()" class="soft">
      Passkeys work where Glaucon has a name in the address bar, not at a number as here.
    </p>
    <form v-else-if="isNaming" @submit.prevent="add">
      <label for="passkey">What is the device called?</label>
      <el-input id="passkey" v-model="name" maxlength="60" placeholder="My phone" />
      <el-button type="primary" native-type="submit" :loading="isBusy">Make a passkey</el-button>
    </form>
    <el-button v-else @click="isNaming = true">{{ keys?.length ? "Add another" : "Add a passkey" }}</el-button>
    <div v-if="spare.length">
      <p>Spare codes, each for one sign-in without the passkey. Keep them on paper:</p>
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
ul {
  margin: 0 0 8px;
  padding: 0;
  list-style: none;
}
li {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 14px;
  padding: 4px 0;
}
form {
  display: grid;
  gap: 6px;
  justify-items: start;
}
pre {
  columns: 2;
  max-width: 300px;
  padding: 8px 10px;
  background: var(--sunk);
}
</style>
