import { useEventListener } from "@vueuse/core";
import { ref, watch, type Ref } from "vue";

export interface UseScrolledFramesReturn {
  /** The height of the taller page, CSS pixels; set it to 0 for another page. */
  height: Ref<number>;
  /** How far the pages are scrolled, CSS pixels of the page. */
  top: Ref<number>;
}

/** Scrolls sandboxed frames together: their origin is opaque, so they are told where to stand. */
export function useScrolledFrames(frames: Ref<HTMLIFrameElement | null>[]): UseScrolledFramesReturn {
  const height = ref(0);
  const top = ref(0);
  const scroll = (frame: HTMLIFrameElement | null) =>
    frame?.contentWindow?.postMessage({ glaucon: "scroll", top: top.value }, "*");

  useEventListener(window, "message", (event: MessageEvent) => {
    const data = event.data as { glaucon?: string; height?: number } | null;
    const frame = frames.find((one) => one.value?.contentWindow === event.source)?.value;
    if (!frame || data?.glaucon !== "height") return;
    height.value = Math.max(height.value, Math.min(60_000, Number(data.height) || 0));
    scroll(frame);
  });
  watch(top, () => frames.forEach((one) => scroll(one.value)));
  return { height, top };
}
