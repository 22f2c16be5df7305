<script setup lang="ts">
import { ElDropdown, ElDropdownItem, ElDropdownMenu } from "element-plus";
import { RouterLink, useRouter } from "vue-router";
import { useHelp } from "@/stores/help";
import { useSession } from "@/stores/session";

/** The bar every screen has: the way back to the shelf, the screen's own things, who is signed in. */
const session = useSession();
const router = useRouter();

const help = useHelp();

async function turn(to: "steps" | "words" | "keys" | "account" | "mailbox" | "out"): Promise<void> {
  if (to === "steps") help.start();
  else if (to === "account" || to === "mailbox") await router.push({ name: to });
  else if (to !== "out") help.open = to;
  else {
    await session.signOut();
    await router.push({ name: "sign-in" });
  }
}
</script>

<template>
  <header class="TopBar">
    <router-link class="mark" :to="{ name: 'shelf' }" aria-label="Glaucon: your sites">Glaucon</router-link>
    <slot />
    <span class="gap" />
    <slot name="end" />
    <el-dropdown v-if="session.name" trigger="click" @command="turn">
      <button type="button" class="who" :title="session.name">
        <span class="signed">{{ session.name }}</span> <span aria-hidden="true">▾</span>
      </button>
      <template #dropdown>
        <el-dropdown-menu>
          <template v-if="$slots.default">
            <el-dropdown-item command="steps">Help: the five steps</el-dropdown-item>
            <el-dropdown-item command="words">Help: what words mean</el-dropdown-item>
            <el-dropdown-item command="keys">Help: keys</el-dropdown-item>
          </template>
          <el-dropdown-item command="account" :divided="!!$slots.default">Your account</el-dropdown-item>
          <el-dropdown-item v-if="session.isDemo" command="mailbox">Mailbox</el-dropdown-item>
          <el-dropdown-item command="out">Sign out</el-dropdown-item>
        </el-dropdown-menu>
      </template>
    </el-dropdown>
  </header>
</template>

<style scoped>
.TopBar {
  display: flex;
  flex: none;
  flex-wrap: wrap;
  gap: 6px 18px;
  align-items: center;
  min-height: var(--bar-height);
  padding: 4px 16px;
  border-bottom: 1px solid var(--rule);
  background: var(--panel);
}
.mark {
  font-size: 19px;
  font-weight: 700;
  letter-spacing: 0.01em;
  text-decoration: none;
}
.gap {
  flex: 1;
}
@media (max-width: 1400px) {
  .TopBar {
    column-gap: 10px;
    padding: 4px 12px;
  }
  /* beside all ways of a site there is no room for a long address */
  .TopBar:has(nav) .signed {
    display: inline-block;
    overflow: hidden;
    max-width: 6.5em;
    text-overflow: ellipsis;
    white-space: nowrap;
    vertical-align: bottom;
  }
}
/* one row: what does not fit is swiped */
@media (max-width: 700px) {
  .TopBar {
    flex-wrap: nowrap;
    gap: 8px;
  }
  .gap {
    display: none;
  }
  .mark {
    font-size: 16px;
  }
  .signed {
    position: absolute;
    overflow: hidden;
    width: 1px;
    height: 1px;
    clip-path: inset(50%);
  }
}
.who {
  flex: none;
  padding: 4px 2px;
  border: 0;
  background: none;
  cursor: pointer;
}
</style>
