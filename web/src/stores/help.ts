import { defineStore } from "pinia";
import { ref } from "vue";

const SEEN = "glaucon.first-steps";

/** What help is open: the first steps, the words, the keys. The steps are shown by themselves once. */
export const useHelp = defineStore("help", () => {
  const step = ref<number | null>(null);
  const open = ref<"" | "words" | "keys">("");

  function startOnce(): void {
    if (!localStorage.getItem(SEEN)) step.value = 0;
  }
  function start(): void {
    step.value = 0;
  }
  /** Closes the steps for good; they are found again under the name at the top. */
  function close(): void {
    step.value = null;
    localStorage.setItem(SEEN, "seen");
  }
  return { step, open, startOnce, start, close };
});
