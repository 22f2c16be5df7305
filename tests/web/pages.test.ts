import { unzipSync, strFromU8 } from "fflate";
import { effectScope, nextTick, ref } from "vue";
import { usePainter } from "@/composables/usePainter";
import { stretches } from "@/logic/hatching";
import { packed } from "@/logic/packing";

interface Told {
  glaucon: string;
  values?: Record<string, string | null>;
  state?: string;
  number?: number;
  names?: string[];
}

/** A page in a frame: it is told things, and answers when it is let. */
class Page {
  told: Told[] = [];
  contentWindow = { postMessage: (message: Told) => this.told.push(message) };

  say(data: object): void {
    window.dispatchEvent(
      Object.assign(new Event("message"), { data, source: this.contentWindow }),
    );
  }

  answer(): void {
    this.say({ glaucon: "painted", number: this.told.at(-1)?.number });
  }

  get frame(): HTMLIFrameElement {
    return this as unknown as HTMLIFrameElement;
  }
}

describe("frames", () => {
  const scope = () => effectScope();
  let running: ReturnType<typeof scope>;
  beforeEach(() => {
    vi.stubGlobal("window", new EventTarget());
    running = scope();
  });
  afterEach(() => {
    running.stop();
    vi.unstubAllGlobals();
  });

  function painted(lit: string[] = []) {
    const worn = ref<Record<string, string | null>>({ "--gl-hull": "#111111" });
    const state = ref("rest");
    const names = ref(lit);
    const painter = running.run(() => usePainter(worn, state, { lit: names }))!;
    return { worn, state, names, painter };
  }

  test("others wait until the pages that are there are ready, and no longer than their time", async () => {
    vi.useFakeTimers();
    const [one, other] = [new Page(), new Page()];
    const painter = running.run(() => usePainter(ref({}), ref("rest")))!;
    await painter.settled(); // nothing is there to wait for
    painter.attach(one.frame);
    painter.attach(other.frame);
    const went = vi.fn();
    void painter.settled().then(went);
    one.say({ glaucon: "ready" });
    await vi.advanceTimersByTimeAsync(100);
    expect(went).not.toHaveBeenCalled();
    other.say({ glaucon: "ready" });
    await vi.advanceTimersByTimeAsync(0);
    expect(went).toHaveBeenCalledOnce();
    painter.attach(new Page().frame);
    const late = vi.fn();
    void painter.settled().then(late);
    await vi.advanceTimersByTimeAsync(3000);
    expect(late).toHaveBeenCalledOnce();
    vi.useRealTimers();
  });

  test("one message at a time, and then the newest colours only", async () => {
    const { worn, painter } = painted();
    const page = new Page();
    painter.attach(page.frame);
    expect(page.told).toEqual([]); // not before the page is there
    page.say({ glaucon: "ready" });
    for (const value of ["#222222", "#333333", "#444444"]) {
      worn.value = { "--gl-hull": value };
      await nextTick();
    }
    expect(page.told.map((one) => one.values)).toEqual([
      { "--gl-hull": "#111111" },
    ]);
    page.say({ glaucon: "painted", number: 99 }); // an answer to something else
    expect(page.told).toHaveLength(1);
    page.answer();
    page.answer();
    expect(page.told.map((one) => one.values)).toEqual([
      { "--gl-hull": "#111111" },
      { "--gl-hull": "#444444" },
    ]);
  });

  test("a page that loads anew is told everything again; one taken away nothing", async () => {
    const { worn, state, painter } = painted();
    const [page, gone] = [new Page(), new Page()];
    painter.attach(page.frame);
    const stop = painter.attach(gone.frame);
    for (const one of [page, gone]) one.say({ glaucon: "ready" });
    stop();
    page.answer();
    state.value = "hover";
    await nextTick();
    page.say({ glaucon: "ready" });
    expect(page.told.map((one) => [one.values, one.state])).toEqual([
      [{ "--gl-hull": "#111111" }, ""],
      [{}, "hover"],
      [{ "--gl-hull": "#111111" }, "hover"],
    ]);
    worn.value = {};
    await nextTick();
    page.answer();
    expect(page.told.at(-1)?.values).toEqual({ "--gl-hull": null });
    expect(gone.told).toHaveLength(1);
  });

  test("what a role colours is lit on every page, and on those that come later", async () => {
    const { names, painter } = painted();
    const [first, later] = [new Page(), new Page()];
    painter.attach(first.frame);
    first.say({ glaucon: "ready" });
    names.value = ["--gl-hull"];
    await nextTick();
    painter.attach(later.frame);
    later.say({ glaucon: "ready" });
    for (const page of [first, later])
      expect(
        page.told
          .filter((one) => one.glaucon === "light")
          .map((one) => one.names),
      ).toEqual([["--gl-hull"]]);
  });

  test("a spot is told by the page that was asked, or nothing after a while", async () => {
    vi.useFakeTimers();
    const { painter } = painted();
    const [page, other] = [new Page(), new Page()];
    for (const one of [page, other]) painter.attach(one.frame);
    // one that is still loading is waited for
    const found = painter.look(page.frame, 3, 4);
    page.say({ glaucon: "ready" });
    await vi.advanceTimersByTimeAsync(60);
    const never = painter.look(other.frame, 3, 4);
    page.say({
      glaucon: "spot",
      number: page.told.at(-1)?.number,
      ground: "#fafafa",
    });
    expect(await found).toEqual({
      words: null,
      ground: "#fafafa",
      isPicture: false,
      path: null,
    });
    await vi.advanceTimersByTimeAsync(9000);
    expect(await never).toEqual({
      words: null,
      ground: null,
      isPicture: false,
      path: null,
    });
    vi.useRealTimers();
  });
});

describe("stretches that are hard to read", () => {
  test.each([
    ["11111", []],
    ["00000", [[0, 1]]],
    ["00111", [[0, 0.375]]],
    ["10011", [[0.125, 0.625]]],
    ["01110", [[0, 0.125], [0.875, 1]]],
  ] as [string, [number, number][]][])("%s", (reads, found) => expect(stretches(reads)).toEqual(found)); // prettier-ignore
});

describe("a folder", () => {
  const file = (path: string, words = "", size?: number) => {
    const made = new File([words], path.split("/").at(-1)!);
    if (size) Object.defineProperty(made, "size", { value: size });
    return { path, file: made };
  };

  test("is packed without what is no part of a site", async () => {
    const found = await packed([
      file("yard/index.html", "<p>boats"),
      file("yard/node_modules/a.js", "no"),
      file("yard/.git/config", "no"),
      file("yard/css/.DS_Store", "no"),
      file("yard/css/main.css", "p{}"),
    ]);
    const entries = unzipSync(new Uint8Array(await found.arrayBuffer()));
    expect([
      found.name,
      Object.keys(entries),
      strFromU8(entries["yard/index.html"]!),
    ]).toEqual([
      "yard.zip",
      ["yard/index.html", "yard/css/main.css"],
      "<p>boats",
    ]);
  });

  test.each([
    [
      "nothing in it",
      [file("yard/.git/config")],
      "Choose the one with index.html",
    ],
    [
      "too many files",
      Array.from({ length: 3001 }, (_, n) => file(`yard/${n}.html`)),
      "3,001 files",
    ],
    [
      "too much in it",
      [file("yard/film.mp4", "", 251 * 1024 * 1024)],
      "larger than 250 MB",
    ],
  ])(
    "with %s is refused",
    async (_, files, why) => await expect(packed(files)).rejects.toThrow(why),
  );
});
