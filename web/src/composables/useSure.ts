import { ref } from "vue";
import { auth } from "@/api/auth";
import { Refusal, sentence } from "@/api/client";

/** Does things that ask for the password once more where it was not typed lately, and says how they went. */
export function useSure() {
  const isAsking = ref(false);
  const password = ref("");
  const trouble = ref("");
  const said = ref("");
  const isBusy = ref(false);
  let left: (() => Promise<void>) | null = null;

  /** Does a step; `done` is said where it worked. */
  async function sure(step: () => Promise<unknown>, done = ""): Promise<void> {
    trouble.value = said.value = "";
    isBusy.value = true;
    try {
      await step();
      said.value = done;
    } catch (refusal) {
      if (refusal instanceof Refusal && refusal.code === "not-sure") {
        left = () => sure(step, done);
        isAsking.value = true;
      } else trouble.value = sentence(refusal);
    } finally {
      isBusy.value = false;
    }
  }

  async function goOn(): Promise<void> {
    trouble.value = "";
    try {
      await auth("auth/reauthenticate", "POST", { password: password.value });
    } catch (refusal) {
      trouble.value = sentence(refusal);
      return;
    }
    password.value = "";
    isAsking.value = false;
    await left?.();
  }

  return { isAsking, password, trouble, said, isBusy, sure, goOn };
}
