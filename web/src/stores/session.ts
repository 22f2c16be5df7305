import { defineStore } from "pinia";
import { ref } from "vue";
import { auth, type AuthAnswer } from "@/api/auth";
import client, { ask, type Schemas } from "@/api/client";

/** Who is signed in. */
export const useSession = defineStore("session", () => {
  const name = ref<string | null>(null);
  const isDemo = ref(false);
  /** The address of the host that stands in for the outside, in the demo. */
  const standIn = ref("");
  const isKnown = ref(false);

  async function load(): Promise<void> {
    take(await ask(client.GET("/api/session")));
  }
  /** Does one step of signing in or up; gives what is yet to be done: a code, an address to confirm, or nothing. */
  const enter = (way: string, body: unknown) => enterBy(() => auth(way, "POST", body));
  async function enterBy<T>(step: () => Promise<AuthAnswer<T>>): Promise<AuthAnswer<T>> {
    const answer = await step();
    await load();
    return answer;
  }
  async function signOut(): Promise<void> {
    take(await ask(client.DELETE("/api/session")));
  }
  function take(session: Schemas["SessionOut"]): void {
    name.value = session.name;
    isDemo.value = session.demo;
    standIn.value = session.stand_in;
    isKnown.value = true;
  }

  return { name, isDemo, standIn, isKnown, load, enter, enterBy, signOut, take };
});
