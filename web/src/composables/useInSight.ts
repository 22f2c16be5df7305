import { useIntersectionObserver } from "@vueuse/core";
import { onMounted, ref, type Ref } from "vue";

/** Whether an element is in sight or close to it, known from the moment it is mounted. */
export function useInSight(target: Ref<HTMLElement | null>, margin = 400): Ref<boolean> {
  const inSight = ref(false);
  // the observer tells a frame or two later: what is loaded when it is in sight would begin that much later
  onMounted(() => {
    const area = target.value?.getBoundingClientRect();
    if (area?.width) inSight.value = area.top < innerHeight + margin && area.bottom > -margin;
  });
  useIntersectionObserver(target, ([entry]) => (inSight.value = entry?.isIntersecting ?? false), {
    rootMargin: `${margin}px`,
  });
  return inSight;
}
