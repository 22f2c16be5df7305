import type { InjectionKey, Ref } from "vue";
import type { Painter } from "@/composables/usePainter";

export const PAINTER: InjectionKey<Painter> = Symbol("painter");
/** How far the pages are measured, in words; empty: they are. */
export const MEASURING: InjectionKey<Readonly<Ref<string>>> = Symbol("measuring");
