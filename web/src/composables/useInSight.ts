import { useIntersectionObserver } from "@vueuse/core";
import { ref, type Ref } from "vue";

/** Whether an element is in sight or close to it. */
export function useInSight(target: Ref<HTMLElement | null>, margin = "400px"): Ref<boolean> {
  const inSight = ref(false);
  useIntersectionObserver(target, ([entry]) => (inSight.value = entry?.isIntersecting ?? false), {
    rootMargin: margin,
  });
  return inSight;
}
