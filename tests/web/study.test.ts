import { createPinia, setActivePinia } from "pinia";
import { Refusal } from "@/api/client";
import { moveColours } from "@/logic/acts";
import { useSite } from "@/stores/site";
import { useStudy } from "@/stores/study";
import { useView } from "@/stores/view";

interface Asked {
  way: string;
  path: string;
  slug: string;
  body?: Record<string, unknown>;
}

const plain = (name: string) => ({ name, opacity: 1, is_channels: false });

interface Sent {
  act: string;
  role?: string;
  value?: string;
}
const actsOf = (body?: Record<string, unknown>) => (body?.acts ?? []) as Sent[];
/** The colours that acts give, by role. */
const painted = (body?: Record<string, unknown>) =>
  Object.fromEntries(
    actsOf(body).flatMap((one) => (one.role ? [[one.role, one.value!]] : [])),
  );
const baseOf = (one: Asked) =>
  (one.body?.base as { revision: number }).revision;

/** A server that keeps one study, written from its newest revision only. */
const server = {
  number: 1,
  mapping: 1,
  asked: [] as Asked[],
  values: {} as Record<string, string>,
  /** Answers the next writes get instead of being done. */
  refusals: [] as { status: number; code: string; message: string }[],
  /** What readings and writes wait for, where it is set. */
  held: null as Promise<void> | null,
  roles: [
    {
      id: "hull",
      value: "#14342b",
      found: "#14342b",
      changed: false,
      properties: [
        plain("--gl-hull"),
        { ...plain("--gl-hull-2"), opacity: 0.5 },
        { ...plain("--gl-hull-rgb"), is_channels: true },
      ],
    },
    {
      id: "deck",
      value: "#c8452b",
      found: "#bb3322",
      changed: true,
      properties: [plain("--gl-deck")],
    },
    {
      id: "rope",
      value: "#112233",
      found: "#112230",
      changed: true,
      tie: { to: "hull" },
      properties: [plain("--gl-rope")],
    },
  ],

  revision() {
    return {
      base: { study: 7, revision: server.number },
      mapping: server.mapping,
      can_undo: server.number > 1,
      can_redo: false,
      reading: { hard_texts: 3, tied: {} },
      roles: server.roles.map((role) => ({
        ...role,
        value: server.values[role.id] ?? role.value,
      })),
    };
  },

  async answer(
    way: string,
    path: string,
    slug: string,
    body?: Record<string, unknown>,
  ) {
    server.asked.push({ way, path, slug, body });
    const done = (data: unknown) => ({
      data,
      response: { ok: true, status: 200 },
    });
    if (path.endsWith("/reading")) {
      await server.held;
      return done({
        hard_texts: 1,
        tied: { rope: "#445566" },
      });
    }
    if (way === "GET")
      return done(
        path.endsWith("/study") ? server.revision() : { slug, pages: [] },
      );
    await server.held;
    const refusal = server.refusals.shift();
    if (refusal)
      return {
        error: refusal,
        response: { ok: false, status: refusal.status },
      };
    const base = body?.base as { study: number; revision: number };
    if (base.study !== 7 || base.revision !== server.number) {
      const message = "Another window wrote first.";
      return {
        error: { code: "stale", message },
        response: { ok: false, status: 409 },
      };
    }
    server.number += 1;
    Object.assign(server.values, painted(body));
    if (actsOf(body).some((act) => act.act === "move-colours"))
      server.mapping += 1;
    return done(server.revision());
  },
};

interface Params {
  params: { path: { slug: string } };
  body?: Record<string, unknown>;
}

vi.mock("@/api/client", async (original) => ({
  ...(await original<object>()),
  default: {
    GET: (path: string, { params }: Params) =>
      server.answer("GET", path, params.path.slug),
    POST: (path: string, { params, body }: Params) =>
      server.answer("POST", path, params.path.slug, body),
  },
}));

const written = () =>
  server.asked.filter(
    (one) => one.way === "POST" && !one.path.endsWith("/reading"),
  );
const read = () => server.asked.filter((one) => one.path.endsWith("/reading"));

beforeEach(async () => {
  setActivePinia(createPinia());
  Object.assign(server, {
    number: 1,
    mapping: 1,
    asked: [],
    values: {},
    refusals: [],
    held: null,
  });
  await useStudy().load("yard");
});
afterEach(() => vi.useRealTimers());

describe("what the pages wear", () => {
  const brought = {
    "--gl-hull": null,
    "--gl-hull-2": null,
    "--gl-hull-rgb": null,
    "--gl-deck": "#c8452b",
    "--gl-rope": "#112233",
  };

  test.each([
    [{}, brought],
    [
      { hull: "#0b5c7a" },
      {
        ...brought,
        "--gl-hull": "#0b5c7a",
        "--gl-hull-2": "rgb(11 92 122 / 0.5)",
        "--gl-hull-rgb": "11, 92, 122",
      },
    ],
    [{ deck: "#8c8a78" }, { ...brought, "--gl-deck": "#8c8a78" }],
  ])("with %j in hand", (values, worn) => {
    useStudy().draft = values;
    expect(useStudy().wear).toEqual(worn);
  });

  test("a tied role follows the reading of what is in hand, and goes back with it", async () => {
    const study = useStudy();
    study.show("hull", "#0b5c7a");
    await vi.waitFor(() => expect(study.reading?.hard_texts).toBe(1));
    expect([study.wear["--gl-rope"], study.colourOf("rope")]).toEqual([
      "#445566",
      "#445566",
    ]);
    study.drop("hull");
    expect([study.wear["--gl-rope"], study.reading?.hard_texts]).toEqual([
      "#112233",
      3,
    ]);
  });
});

test("while a reading is on its way only the newest colour waits for the next", async () => {
  vi.useFakeTimers();
  let letGo = () => {};
  server.held = new Promise((resolve) => (letGo = resolve));
  const study = useStudy();
  for (const value of ["#111111", "#222222", "#333333", "#444444"])
    study.show("hull", value);
  letGo();
  await vi.advanceTimersByTimeAsync(2000);
  expect(read().map((one) => painted(one.body))).toEqual([
    { hull: "#111111" },
    { hull: "#444444" },
  ]);
  expect(written()).toEqual([]);
});

test("a site read anew stays where one was in it, but for what is no more, and is written on from there", async () => {
  const [study, view, site] = [useStudy(), useView(), useSite()];
  Object.assign(view, {
    state: "hover",
    open: "hull",
    lit: "a role that goes",
  });
  Object.assign(server, { number: 5, mapping: 2, asked: [] });
  const visit = site.visit;
  const saved = study.act({ act: "rename-study", name: "Spring" } as never); // refused: the base is not this one
  await Promise.all([saved, study.takeAnew()]);
  expect([view.state, view.open, view.lit, site.visit]).toEqual([
    "hover",
    "hull",
    null,
    visit,
  ]);
  await vi.waitFor(() =>
    expect(server.asked.map((one) => one.path)).toContain("/api/sites/{slug}"),
  );
  study.stale = null;
  expect(await study.save({ hull: "#111111" })).toBe(true);
  expect(study.revision?.base.revision).toBe(6);
});

describe("writing", () => {
  test("one step after the other, each from the one before", async () => {
    const study = useStudy();
    const both = [
      study.save({ hull: "#111111" }),
      study.save({ deck: "#222222" }),
      study.undo(),
    ];
    expect(study.saving).toBe("saving");
    expect(await Promise.all(both)).toEqual([true, true, false]); // nothing is undone while something is on its way
    expect(written().map(baseOf)).toEqual([1, 2]);
    expect([study.revision?.base.revision, study.saving, study.draft]).toEqual([
      3,
      "saved",
      {},
    ]);
    expect(await study.undo()).toBe(true);
  });

  test("a colour moved on while the one before was saved stays in hand", async () => {
    const study = useStudy();
    const saved = study.save({ hull: "#111111" });
    study.show("hull", "#222222");
    await saved;
    expect([study.draft, study.colourOf("hull")]).toEqual([
      { hull: "#222222" },
      "#222222",
    ]);
  });

  test("what could not be saved stays, is told, and is sent again", async () => {
    const study = useStudy();
    server.refusals = [
      { status: 503, code: "busy", message: "The yard is shut just now." },
    ];
    expect(await study.save({ hull: "#111111" })).toBe(false);
    expect([study.saving, study.trouble, study.draft]).toEqual([
      "unsaved",
      "The yard is shut just now.",
      { hull: "#111111" },
    ]);
    expect(await study.undo()).toBe(false);
    await study.retry();
    expect([study.saving, study.trouble, study.draft, server.values]).toEqual([
      "saved",
      "",
      {},
      { hull: "#111111" },
    ]);
  });

  test.each([
    ["keep", "#111111", [2, 3]],
    ["newer", "#abcdef", [2]],
  ] as const)("another window wrote first: %s", async (way, hull, numbers) => {
    const study = useStudy();
    Object.assign(server, { number: 2, values: { hull: "#abcdef" } });
    expect(await study.save({ hull: "#111111" })).toBe(false);
    expect([study.stale, study.trouble, server.values.hull]).toEqual([
      { hull: "#111111" },
      "",
      "#abcdef",
    ]);
    await study.settle(way);
    expect([
      study.colourOf("hull"),
      study.stale,
      study.saving,
      study.draft,
    ]).toEqual([hull, null, "saved", {}]);
    expect(server.number).toBe(numbers.at(-1));
  });

  test("another mapping has other pages: they are fetched anew, once", async () => {
    const study = useStudy();
    const fetched = () =>
      server.asked.filter((one) => one.path === "/api/sites/{slug}").length;
    await study.save({ hull: "#111111" });
    expect(fetched()).toBe(1);
    await study.act(moveColours({ colours: ["#14342b"] }, "deck", ""));
    expect(fetched()).toBe(2);
  });
});

describe("another site is opened while something of the first is on its way", () => {
  let letGo = () => {};
  const hold = () =>
    (server.held = new Promise((resolve) => (letGo = resolve)));
  const settle = async (work: Promise<unknown>) => {
    letGo();
    server.held = null;
    await work;
    await new Promise((resolve) => setTimeout(resolve, 5));
  };

  test("a reading of the first is not shown", async () => {
    const study = useStudy();
    hold();
    study.show("hull", "#0b5c7a");
    const opened = study.load("lock");
    expect([study.draft, study.reading, useSite().slug]).toEqual([
      {},
      null,
      "",
    ]);
    await settle(opened);
    expect([useSite().slug, study.draft, study.reading?.hard_texts]).toEqual([
      "lock",
      {},
      3,
    ]);
  });

  test("writes of the first go to the first, each from the one before, and are not taken for the second's", async () => {
    const study = useStudy();
    hold();
    const writes = [
      study.save({ hull: "#111111" }),
      study.save({ deck: "#222222" }),
    ];
    const opened = study.load("lock");
    await settle(Promise.all([opened, ...writes]));
    expect(
      written().map((one) => [one.slug, baseOf(one), painted(one.body)]),
    ).toEqual([
      ["yard", 1, { hull: "#111111" }],
      ["yard", 2, { deck: "#222222" }],
    ]);
    expect([study.saving, study.draft, study.trouble, study.stale]).toEqual([
      "saved",
      {},
      "",
      null,
    ]);
    expect([useSite().slug, study.revision?.base.revision]).toEqual([
      "lock",
      1,
    ]);
  });

  test("how the first was looked at is forgotten", async () => {
    const view = useView();
    Object.assign(view, {
      open: "hull",
      unfolded: "details",
      isPicking: true,
      lit: "deck",
      width: "phone",
      state: "hover",
    });
    await useStudy().load("lock");
    expect({ ...view.$state }).toEqual({
      open: null,
      opened: "",
      eyes: null,
      unfolded: null,
      onPage: null,
      isPicking: false,
      lit: null,
      width: "wide",
      state: "rest",
    });
  });
});

test("a refusal without a body still says what is to be done", async () => {
  const { ask, refusalOf, OFFLINE } =
    await vi.importActual<typeof import("@/api/client")>("@/api/client");
  expect(refusalOf(500, null)).toBeInstanceOf(Refusal);
  expect(refusalOf(500, "<html>").message).toContain("Nothing was changed");
  await expect(ask(Promise.reject(new Error("no route")))).rejects.toBe(
    OFFLINE,
  );
});
