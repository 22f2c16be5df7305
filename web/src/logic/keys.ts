import type { InjectionKey } from "vue";
import type { Painter } from "@/composables/usePainter";

export const PAINTER: InjectionKey<Painter> = Symbol("painter");
