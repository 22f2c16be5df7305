import { useEventListener } from "@vueuse/core";
import { type Ref, watch } from "vue";

export type Step = "next" | "previous" | "out" | "in";

export interface Marks {
  /** Selectors of what is chosen and of what a choice reaches, as the server gave them. */
  chosen: string | null;
  reach: string | null;
  label: string;
}

/** Talks with the page that is looked at closely: what is clicked there, what is to be outlined. */
export function useCloseUp(
  frame: Readonly<Ref<HTMLIFrameElement | null>>,
  marks: Readonly<Ref<Marks>>,
  told: { picked: (path: string) => void; left: () => void; start?: Ref<string> },
) {
  const send = (what: string, more: object = {}) =>
    frame.value?.contentWindow?.postMessage({ glaucon: what, ...more }, "*");
  const mark = () => send("mark", { ...marks.value });

  useEventListener(window, "message", (event: MessageEvent) => {
    if (!frame.value || event.source !== frame.value.contentWindow) return;
    const data = event.data as { glaucon?: string; path?: unknown } | null;
    if (data?.glaucon === "ready") {
      send("close", { on: true });
      mark();
      if (told.start?.value) send("show", { selector: told.start.value });
    } else if (data?.glaucon === "picked" && typeof data.path === "string" && data.path.length <= 2000)
      told.picked(data.path);
    else if (data?.glaucon === "left") told.left();
  });
  watch(marks, mark, { deep: true });
  if (told.start) watch(told.start, (selector) => selector && send("show", { selector }));

  return { step: (way: Step) => send("step", { way }) };
}
