import { onMounted, type Ref } from "vue";
import { onBeforeRouteLeave, useRoute } from "vue-router";

/** How far what was left is scrolled, by its place in the browser's history. */
const kept = new Map<string, number>();
const WAITS = 3000; // ms for what it holds to be there

/** Scrolls an element as it was when the screen was left, once that is come back to. */
export function useKeptScroll(element: Readonly<Ref<HTMLElement | null>>): void {
  const { path } = useRoute();
  const name = () => `${(history.state as { position?: number } | null)?.position} ${path}`;

  onBeforeRouteLeave(() => {
    if (element.value) kept.set(name(), element.value.scrollTop);
  });
  onMounted(() => {
    const top = kept.get(name());
    kept.delete(name());
    const until = performance.now() + WAITS;
    const scroll = () => {
      if (!top || !element.value) return;
      element.value.scrollTop = top;
      if (Math.abs(element.value.scrollTop - top) > 1 && performance.now() < until) requestAnimationFrame(scroll);
    };
    scroll();
  });
}
