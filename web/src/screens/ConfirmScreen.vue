<script setup lang="ts">
import { ElButton } from "element-plus";
import { ref } from "vue";
import { useRoute, useRouter } from "vue-router";
import PlainCard from "@/parts/account/PlainCard.vue";
import { useSession } from "@/stores/session";

/** Confirms the address that a letter went to. Pressed by hand: what reads letters ahead of people opens pages too. */
const session = useSession();
const route = useRoute();
const router = useRouter();
const trouble = ref("");
const isBusy = ref(false);

async function confirm(): Promise<void> {
  isBusy.value = true;
  trouble.value = "";
  try {
    await session.enter("auth/email/verify", { key: route.params.key });
    await router.push(session.name ? "/" : "/sign-in");
  } catch {
    trouble.value = "This page does not hold any more. Sign in, and a new letter is sent where one is needed.";
  } finally {
    isBusy.value = false;
  }
}
</script>

<template>
  <plain-card title="Confirm your address" :trouble="trouble">
    <p>You have come here from a letter. Press the button, and the address is confirmed as yours.</p>
    <div class="go">
      <el-button type="primary" :loading="isBusy" @click="confirm">Confirm my address</el-button>
    </div>
  </plain-card>
</template>
