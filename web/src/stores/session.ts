import { defineStore } from "pinia";
import { ref } from "vue";
import client, { ask } from "@/api/client";

/** Who is signed in. */
export const useSession = defineStore("session", () => {
  const name = ref<string | null>(null);
  const isDemo = ref(false);
  const isKnown = ref(false);

  async function load(): Promise<void> {
    take(await ask(client.GET("/api/session")));
  }
  async function signIn(credentials: { name: string; password: string }): Promise<void> {
    take(await ask(client.POST("/api/session", { body: credentials })));
  }
  async function signUp(credentials: { name: string; password: string }): Promise<void> {
    take(await ask(client.POST("/api/account", { body: credentials })));
  }
  async function signOut(): Promise<void> {
    take(await ask(client.DELETE("/api/session")));
  }
  function take(session: { name: string | null; demo: boolean }): void {
    name.value = session.name;
    isDemo.value = session.demo;
    isKnown.value = true;
  }

  return { name, isDemo, isKnown, load, signIn, signUp, signOut };
});
