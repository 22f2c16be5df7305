import type { InjectionKey, Ref } from "vue";
import type { Painter } from "@/composables/usePainter";

export const PAINTER: InjectionKey<Painter> = Symbol("painter");
/** How far the pages are measured, in words; empty: they are. */
export const MEASURING: InjectionKey<Readonly<Ref<string>>> = Symbol("measuring");
/** Resolves when the pages of the open site have been looked at, or it is said that nobody waits. */
export const LOOKED_AT: InjectionKey<(signal?: AbortSignal) => Promise<void>> = Symbol("looked at");
