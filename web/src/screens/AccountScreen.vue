<script setup lang="ts">
import EndAccount from "@/parts/account/EndAccount.vue";
import PassKeys from "@/parts/account/PassKeys.vue";
import RoomBar from "@/parts/account/RoomBar.vue";
import SecondStep from "@/parts/account/SecondStep.vue";
import SignIns from "@/parts/account/SignIns.vue";
import YourWords from "@/parts/account/YourWords.vue";
import TopBar from "@/parts/common/TopBar.vue";
import { useSession } from "@/stores/session";

/** One's own account: address, password, second step, sign-ins, room, and all that is one's own. */
const session = useSession();
</script>

<template>
  <div class="AccountScreen">
    <top-bar />
    <main tabindex="-1">
      <h1>Your account</h1>
      <p class="soft who">{{ session.name }}</p>
      <room-bar />
      <div class="two">
        <your-words />
        <div>
          <second-step />
          <pass-keys />
          <sign-ins />
          <end-account />
        </div>
      </div>
    </main>
  </div>
</template>

<style scoped>
main {
  max-width: 980px;
  margin: 0 auto;
  padding: 28px 24px 60px;
}
.who {
  margin: 4px 0 14px;
}
.two {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(320px, 1fr));
  gap: 8px 48px;
  margin-top: 18px;
}
.two :deep(section) {
  padding: 14px 0 6px;
  border-top: 1px solid var(--rule);
}
.two :deep(h2) {
  margin-bottom: 8px;
  font-size: 17px;
}
.two :deep(section p) {
  margin: 6px 0;
}
</style>
