import { onScopeDispose, watch, type Ref } from "vue";

type Worn = Record<string, string | null>;

interface Painted {
  /** The frame's window once it has told that it is ready: asked for before, the browser makes one only to drop it. */
  window: Window | null;
  isReady: boolean;
  /** The number of the message the frame has yet to answer. */
  waiting: number | null;
  sent: Worn;
  sentState: string;
  sentOpened: string;
}

/** What a page shows at a spot: the colour of the words there, and of the ground. */
export interface Spot {
  words: string | null;
  ground: string | null;
  /** Whether the ground is a picture's own colour there. */
  isPicture: boolean;
  /** The way down to the element there, as the server knows it. */
  path: string | null;
}

export interface Painter {
  /** Paints a frame from now on; gives the way to stop. */
  attach: (frame: HTMLIFrameElement) => () => void;
  /** Asks a frame what it shows at a spot of its own, in CSS pixels. */
  look: (frame: HTMLIFrameElement, x: number, y: number) => Promise<Spot>;
  /** Resolves when the frames that are there are ready, or have had their time. */
  settled: () => Promise<void>;
}

const LOOKS = 5000; // ms that a page may take to tell what lies at a spot, its pictures waited for
const WAITS = 3000; // ms that others wait for pages that are loading

export interface UsePainterOptions {
  /** Called when a frame shows what it was last sent; for measuring. */
  onPainted?: (frame: HTMLIFrameElement) => void;
  /** Custom properties whose places stand out on the pages, all else faded; none: nothing is faded. */
  lit?: Ref<string[]>;
  /** Whose eyes the pages are seen with; null: most people's. */
  eyes?: Ref<Eyes | null>;
  /** What is opened on the pages that have it; "" for nothing. */
  opened?: Ref<string>;
}

/** What other eyes make of a page: the values of a colour matrix of SVG, or a blur in CSS pixels. */
export interface Eyes {
  values: string;
  blur: number;
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
  const asked = new Map<number, (spot: Spot) => void>();
  const waiting: (() => void)[] = [];
  let number = 0;

  const allReady = () => [...frames.values()].every((painted) => painted.isReady);

  function paint(painted: Painted): void {
    if (!painted.isReady || painted.waiting !== null) return;
    const values = difference(worn.value, painted.sent);
    const opened = options.opened?.value ?? "";
    if (!Object.keys(values).length && painted.sentState === state.value && painted.sentOpened === opened) return;
    painted.sent = { ...worn.value };
    painted.sentState = state.value;
    painted.sentOpened = opened;
    painted.waiting = ++number;
    painted.window?.postMessage(
      { glaucon: "wear", values, state: state.value === "rest" ? "" : state.value, opened, number },
      "*",
    );
  }

  function listen(event: MessageEvent): void {
    const data = event.data as {
      glaucon?: string;
      number?: number;
      words?: string;
      ground?: string;
      isPicture?: boolean;
      path?: string;
    } | null;
    if (!data?.glaucon) return;
    for (const [frame, painted] of frames) {
      if ((painted.window ?? frame.contentWindow) !== event.source) continue;
      if (data.glaucon === "ready") {
        Object.assign(painted, {
          window: frame.contentWindow,
          isReady: true,
          waiting: null,
          sent: {},
          sentState: "rest",
          sentOpened: "",
        });
        if (options.lit?.value.length) light(painted);
        if (options.eyes?.value) see(painted);
        if (allReady()) waiting.splice(0).forEach((go) => go());
      } else if (data.glaucon === "spot") {
        asked.get(data.number ?? -1)?.({
          words: data.words ?? null,
          ground: data.ground ?? null,
          isPicture: !!data.isPicture,
          path: data.path ?? null,
        });
        asked.delete(data.number ?? -1);
        return;
      } else if (data.glaucon === "painted" && data.number === painted.waiting) {
        painted.waiting = null;
        options.onPainted?.(frame);
      } else return;
      paint(painted);
    }
  }

  const light = (painted: Painted) =>
    painted.window?.postMessage({ glaucon: "light", names: options.lit?.value ?? [] }, "*");
  if (options.lit) watch(options.lit, () => frames.forEach(light));
  const see = (painted: Painted) =>
    painted.window?.postMessage({ glaucon: "eyes", ...(options.eyes?.value ?? { values: "", blur: 0 }) }, "*");
  if (options.eyes) watch(options.eyes, () => frames.forEach(see));

  const stop = watch([worn, state, () => options.opened?.value], () => frames.forEach(paint), { flush: "post" });
  window.addEventListener("message", listen);
  onScopeDispose(() => {
    stop();
    window.removeEventListener("message", listen);
  });

  return {
    attach(frame) {
      frames.set(frame, { window: null, isReady: false, waiting: null, sent: {}, sentState: "rest", sentOpened: "" });
      return () => frames.delete(frame);
    },
    settled() {
      if (allReady()) return Promise.resolve();
      return new Promise((resolve) => {
        waiting.push(resolve);
        setTimeout(resolve, WAITS);
      });
    },
    async look(frame, x, y) {
      // a page that is still loading cannot answer yet
      for (let waited = 0; !frames.get(frame)?.isReady && waited < WAITS; waited += 50)
        await new Promise((go) => setTimeout(go, 50));
      const mine = ++number;
      frame.contentWindow?.postMessage({ glaucon: "look", x, y, number: mine }, "*");
      return new Promise((resolve) => {
        asked.set(mine, resolve);
        setTimeout(
          () => asked.delete(mine) && resolve({ words: null, ground: null, isPicture: false, path: null }),
          LOOKS,
        );
      });
    },
  };
}
