import { defineStore } from "pinia";
import { ref, shallowRef } from "vue";
import type { Eyes } from "@/composables/usePainter";

/** The screens pages are shown at: what each is called, its size, and the least a miniature of it needs (CSS pixels). */
export const WIDTHS = {
  wide: { label: "Wide", width: 1280, height: 860, cell: 260 },
  tablet: { label: "Tablet", width: 768, height: 900, cell: 180 },
  phone: { label: "Phone", width: 390, height: 780, cell: 130 },
} as const;

/** The states all pages can be shown in. */
export const STATES = {
  rest: "At rest",
  hover: "Hover",
  focus: "Focus",
  active: "Pressed",
  visited: "Visited",
} as const;

/** How the open site is looked at: what is open on the bench, at which width and in which state. */
export const useView = defineStore("view", () => {
  /** The role open in the tray. */
  const open = ref<string | null>(null);
  /** The coat whose own roles the rail shows; "details" for what is folded. */
  const unfolded = ref<string | null>(null);
  /** Whether the next spot chosen on a page gives the open role its colour. */
  const isPicking = ref(false);
  /** The role whose places the pages show, all else faded. */
  const lit = ref<string | null>(null);
  /** The page whose findings are listed alone. */
  const onPage = ref<string | null>(null);
  const width = ref<keyof typeof WIDTHS>("wide");
  const state = ref<keyof typeof STATES>("rest");
  /** What is opened on the pages that have it, by its name; "" for nothing. */
  const opened = ref("");
  /** Whose eyes the pages are seen with; null: most people's. */
  const eyes = shallowRef<Eyes | null>(null);

  function $reset(): void {
    open.value = unfolded.value = lit.value = onPage.value = null;
    isPicking.value = false;
    width.value = "wide";
    state.value = "rest";
    opened.value = "";
    eyes.value = null;
  }

  return { open, unfolded, isPicking, lit, onPage, width, state, opened, eyes, $reset };
});
