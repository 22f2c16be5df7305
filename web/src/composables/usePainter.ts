import { onScopeDispose, watch, type Ref } from "vue";

type Worn = Record<string, string | null>;

interface Painted {
  window: Window | null;
  isReady: boolean;
  /** The number of the message the frame has yet to answer. */
  waiting: number | null;
  sent: Worn;
  sentState: string;
}

export interface Painter {
  /** Paints a frame from now on; gives the way to stop. */
  attach: (frame: HTMLIFrameElement) => () => void;
}

export interface UsePainterOptions {
  /** Called when a frame shows what it was last sent; for measuring. */
  onPainted?: (frame: HTMLIFrameElement) => void;
}

/** What a frame needs to be told: properties whose value differs from what it was sent. */
export function difference(worn: Worn, sent: Worn): Worn {
  const changed: Worn = {};
  for (const [name, value] of Object.entries(worn)) if ((sent[name] ?? null) !== value) changed[name] = value;
  for (const name of Object.keys(sent)) if (!(name in worn) && sent[name] !== null) changed[name] = null;
  return changed;
}

/**
 * Keeps sandboxed frames in the palette's colours. A frame has one message outstanding at most and is then sent the
 * newest values only: a message for every step of a drag would fall seconds behind.
 */
export function usePainter(worn: Ref<Worn>, state: Ref<string>, options: UsePainterOptions = {}): Painter {
  const frames = new Map<HTMLIFrameElement, Painted>();
  let number = 0;

  function paint(painted: Painted): void {
    if (!painted.isReady || painted.waiting !== null) return;
    const values = difference(worn.value, painted.sent);
    if (!Object.keys(values).length && painted.sentState === state.value) return;
    painted.sent = { ...worn.value };
    painted.sentState = state.value;
    painted.waiting = ++number;
    painted.window?.postMessage(
      { glaucon: "wear", values, state: state.value === "rest" ? "" : state.value, number },
      "*",
    );
  }

  function listen(event: MessageEvent): void {
    const data = event.data as { glaucon?: string; number?: number } | null;
    for (const [frame, painted] of frames) {
      if (frame.contentWindow !== event.source) continue;
      if (data?.glaucon === "ready") {
        Object.assign(painted, {
          window: frame.contentWindow,
          isReady: true,
          waiting: null,
          sent: {},
          sentState: "rest",
        });
      } else if (data?.glaucon === "painted" && data.number === painted.waiting) {
        painted.waiting = null;
        options.onPainted?.(frame);
      } else return;
      paint(painted);
    }
  }

  const stop = watch([worn, state], () => frames.forEach(paint), { flush: "post" });
  window.addEventListener("message", listen);
  onScopeDispose(() => {
    stop();
    window.removeEventListener("message", listen);
  });

  return {
    attach(frame) {
      frames.set(frame, { window: frame.contentWindow, isReady: false, waiting: null, sent: {}, sentState: "rest" });
      return () => frames.delete(frame);
    },
  };
}
