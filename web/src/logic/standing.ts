/** A page run once with its own scripts, unseen, to tell what then stands on it. */

const WIDE_PX = 1280;
const HIGH_PX = 800;
const LONGEST_MS = 30_000; // that a page may take; one that never answers is ended with its frame
const OPENS_MS = 24_000; // and to have things opened once it stands
/** What the script keeps to, in milliseconds and numbers. */
const LIMITS = {
  still: 300,
  quiet: 5_000,
  after: 1_500,
  scrolling: 10_000,
  step: 30,
  elements: 60_000,
  letters: 3_500_000,
  openers: 40,
  opening: 20_000,
  moment: 40,
  opens: 800,
  drifts: 250,
  nodes: 5_000,
};

export interface Stood {
  html: string;
  told: string[];
}

/**
 * Frames a page with its scripts behind everything else, and gives what its own script tells of it; null: it never
 * came to stand. What comes when it is scrolled to needs the whole frame to lie in sight, and to be painted: one that
 * cannot be seen at all gets no frames.
 */
export async function standUnseen(address: string): Promise<Stood | null> {
  const nonce = crypto.randomUUID();
  const scale = Math.min(1, innerWidth / WIDE_PX, innerHeight / HIGH_PX);
  const frame = document.createElement("iframe");
  frame.setAttribute("sandbox", "allow-scripts");
  frame.setAttribute("aria-hidden", "true");
  frame.title = "A page whose scripts are run";
  frame.tabIndex = -1;
  frame.style.cssText =
    `position:fixed;inset:0 auto auto 0;z-index:-1;border:0;opacity:0.004;pointer-events:none;width:${WIDE_PX}px;` +
    `height:${HIGH_PX}px;transform:scale(${scale});transform-origin:0 0`;
  frame.src = address;
  try {
    return await new Promise((settle) => {
      let early: Stood | null = null;
      let timer = setTimeout(() => settle(null), LONGEST_MS);
      const listen = (event: MessageEvent) => {
        // only the frame asked, from its own origin, with the word it was given
        if (event.source !== frame.contentWindow || event.origin !== "null") return;
        const data = event.data as {
          glaucon?: string;
          nonce?: string;
          stood?: Stood | null;
          isEarly?: boolean;
        } | null;
        if (data?.glaucon !== "stood" || data.nonce !== nonce) return;
        clearTimeout(timer);
        if (data.isEarly) {
          if (!early) timer = setTimeout(() => settle(early), OPENS_MS);
          early = data.stood ?? null;
          return;
        }
        removeEventListener("message", listen);
        settle(data.stood ?? early);
      };
      addEventListener("message", listen);
      frame.addEventListener("load", () =>
        frame.contentWindow?.postMessage({ glaucon: "stand", nonce, limits: LIMITS }, "*"),
      );
      document.body.append(frame);
    });
  } finally {
    frame.remove();
  }
}
