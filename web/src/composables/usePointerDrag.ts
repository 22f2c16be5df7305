import type { Ref } from "vue";

/** Listeners (for v-on) that follow the pointer from where it goes down on an element until it is let go. */
export function usePointerDrag(element: Ref<HTMLElement | null>, follow: (event: PointerEvent) => void) {
  return {
    pointerdown(event: PointerEvent): void {
      if (event.button !== 0) return;
      element.value!.setPointerCapture(event.pointerId);
      follow(event);
    },
    pointermove(event: PointerEvent): void {
      if (element.value!.hasPointerCapture(event.pointerId)) follow(event);
    },
  };
}
