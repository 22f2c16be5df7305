import { useLocalStorage } from "@vueuse/core";

const MOST = 12;
const recent = useLocalStorage<string[]>("glaucon-recent-colours", []);

/** Colours used recently in this browser, the newest first. */
export function useRecent() {
  return {
    recent,
    note(hex: string): void {
      recent.value = [hex, ...recent.value.filter((one) => one !== hex)].slice(0, MOST);
    },
  };
}
