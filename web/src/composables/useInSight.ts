import { onBeforeUnmount, onMounted, ref, type Ref } from "vue";

/** Whether an element is in sight or close to it. */
export function useInSight(target: Ref<HTMLElement | null>, margin = "400px"): Ref<boolean> {
  const inSight = ref(false);
  let observer: IntersectionObserver | undefined;
  onMounted(() => {
    observer = new IntersectionObserver(([entry]) => (inSight.value = entry?.isIntersecting ?? false), {
      rootMargin: margin,
    });
    if (target.value) observer.observe(target.value);
  });
  onBeforeUnmount(() => observer?.disconnect());
  return inSight;
}
