import { until } from "@vueuse/core";
import { computed, onScopeDispose, ref, watch } from "vue";
import client, { ask, type Schemas } from "@/api/client";
import { standUnseen } from "@/logic/standing";
import { count } from "@/logic/words";
import { useSite } from "@/stores/site";
import { useStudy } from "@/stores/study";

type Wanted = Schemas["WantedOut"];

const VIEW_PX = 800; // the height of the screen that a page is laid out for
const LONGEST_MS = 15_000; // that a page may take
const QUIET_MS = 400; // between two looks while the hand is moving colours
const BREATH_MS = 8; // of measuring, after which what the hand does may go on
const LIMITS = {
  elements: 30_000,
  lines: 20_000,
  linesOfRun: 200,
  points: 150_000,
  deep: 40,
  milliseconds: 4_000,
  breath: BREATH_MS,
};

const pause = (milliseconds: number) => new Promise((go) => setTimeout(go, milliseconds));
const idle = () =>
  new Promise<void>((go) =>
    "requestIdleCallback" in window ? requestIdleCallback(() => go(), { timeout: 2000 }) : setTimeout(go, 50),
  );
/** How a page at a width is told from others. */
const nameOf = (one: Wanted) => `${one.width} ${one.page}`;

/** Frames a page unseen at a width, and gives what its bridge measures there; null: nothing came. */
export async function measureUnseen(one: Pick<Wanted, "address" | "width">): Promise<Record<string, unknown> | null> {
  const nonce = crypto.randomUUID();
  const corner = document.createElement("div");
  // a corner of it lies in sight: what is wholly out of sight, the browser does not lay out
  corner.style.cssText =
    "position:fixed;right:0;bottom:0;width:1px;height:1px;overflow:hidden;opacity:0.004;pointer-events:none";
  corner.setAttribute("aria-hidden", "true");
  const frame = document.createElement("iframe");
  frame.setAttribute("sandbox", "allow-scripts");
  frame.setAttribute("scrolling", "no");
  frame.title = "A page being measured";
  frame.tabIndex = -1;
  frame.style.cssText = `border:0;width:${one.width}px;height:${VIEW_PX}px`;
  frame.src = one.address;
  corner.append(frame);
  try {
    return await new Promise((settle) => {
      const timer = setTimeout(() => settle(null), LONGEST_MS);
      const listen = (event: MessageEvent) => {
        // only the frame asked, from its own origin, with the word it was given
        if (event.source !== frame.contentWindow || event.origin !== "null") return;
        const data = event.data as { glaucon?: string; nonce?: string; measured?: Record<string, unknown> } | null;
        if (data?.glaucon !== "measured" || data.nonce !== nonce) return;
        clearTimeout(timer);
        removeEventListener("message", listen);
        settle(data.measured ?? null);
      };
      addEventListener("message", listen);
      frame.addEventListener("load", () =>
        frame.contentWindow?.postMessage({ glaucon: "measure", nonce, limits: LIMITS }, "*"),
      );
      document.body.append(corner);
    });
  } finally {
    corner.remove();
  }
}

/** Measures a page and has it kept; gives whether it was. */
export async function measureAndKeep(slug: string, one: Wanted): Promise<boolean> {
  const measured = await measureUnseen(one);
  if (!measured) return false;
  const body = { page: one.page, width: one.width, measured };
  return ask(client.PUT("/api/sites/{slug}/layout", { params: { path: { slug } }, body })).then(
    () => true,
    () => false,
  );
}

/**
 * Has the pages of the open site measured, one at a time while nothing else is asked of this browser, and the site
 * read with what was found. What is measured once is measured for good.
 */
export function useMeasuring() {
  const site = useSite();
  const study = useStudy();
  const pages = ref({ done: 0, total: 0, width: 0 }); // no width: their scripts are run
  /** The visit whose pages have been looked at, as far as they can be. */
  const looked = ref<unknown>(null);
  let isOver = false;

  const on = (slug: string) => ({ params: { path: { slug } } });
  const isStill = (visit: number) => !isOver && visit === site.visit;

  /** Resolves when no colours are being moved. */
  async function handsOff(visit: number): Promise<void> {
    while (isStill(visit) && Object.keys(study.draft).length) await pause(QUIET_MS);
  }

  /** Runs the scripts of the pages that have some, once, and has the site read by what they make. */
  async function run(visit: number, slug: string): Promise<void> {
    const { scripts } = await ask(client.GET("/api/sites/{slug}/layout", on(slug)));
    for (const [done, one] of scripts.entries()) {
      pages.value = { done, total: scripts.length, width: 0 };
      await handsOff(visit);
      if (!isStill(visit)) return;
      const body = { page: one.page, stood: (await standUnseen(one.address)) as Record<string, unknown> | null };
      if (!isStill(visit)) return;
      await ask(client.PUT("/api/sites/{slug}/snapshot", { ...on(slug), body }));
    }
    if (!scripts.length || !isStill(visit)) return;
    await ask(client.POST("/api/sites/{slug}/layout/use", on(slug)));
    await handsOff(visit);
    if (isStill(visit)) await study.takeAnew();
  }

  async function look(visit: number, slug: string): Promise<void> {
    await run(visit, slug);
    const failed = new Set<string>();
    let isFirst = true;
    for (;;) {
      const standing = await ask(client.GET("/api/sites/{slug}/layout", on(slug)));
      const left = standing.wanted.filter((one) => !failed.has(nameOf(one)));
      if (!isStill(visit)) return;
      if (!left.length) return standing.is_used ? undefined : use(visit, slug);
      for (const width of new Set(left.map((one) => one.width))) {
        const some = left.filter((one) => one.width === width);
        for (const [done, one] of some.entries()) {
          pages.value = { done, total: some.length, width };
          await handsOff(visit);
          await idle();
          if (!isStill(visit)) return;
          if (!(await measureAndKeep(slug, one))) failed.add(nameOf(one));
          if (!isStill(visit)) return;
        }
        // what is looked at first is known first; the rest at the end, since each time the site is read anew
        if (isFirst) await use(visit, slug);
        isFirst = false;
      }
    }
  }

  async function use(visit: number, slug: string): Promise<void> {
    await ask(client.POST("/api/sites/{slug}/layout/use", on(slug)));
    if (isStill(visit)) await study.readAgain();
  }

  watch(
    () => study.revision !== null && site.visit,
    async (visit) => {
      if (visit === false) return;
      const slug = site.slug;
      await pause(1500); // the pages in sight come first
      try {
        if (isStill(visit)) await look(visit, slug);
      } catch {
        // the pages are read without; the next visit goes on
      } finally {
        if (isStill(visit)) {
          pages.value = { done: 0, total: 0, width: 0 };
          looked.value = visit;
        }
      }
    },
    { immediate: true },
  );
  onScopeDispose(() => (isOver = true));

  /** What is being done, in words; empty: nothing. */
  const words = computed(() => {
    const { done, total, width } = pages.value;
    if (!total) return "";
    if (!width) return `Running scripts: ${done} of ${count(total, "page")}`;
    const at = width < 1200 ? ` at ${width} px` : "";
    return `Looking closely${at}: ${done} of ${total} pages`;
  });
  /** Resolves when the pages have been looked at, so that what is promised next holds; or when nobody waits. */
  async function lookedAt(signal?: AbortSignal): Promise<void> {
    const gone = new Promise<void>((go) => signal?.addEventListener("abort", () => go()));
    await Promise.race([until(() => looked.value === site.visit).toBe(true), gone]);
  }
  return { words, lookedAt };
}
