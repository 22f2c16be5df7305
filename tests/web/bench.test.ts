import { createPinia, setActivePinia } from "pinia";
import { Refusal } from "@/api/client";
import { useBench } from "@/stores/bench";

interface Asked {
  way: string;
  path: string;
  body?: Record<string, unknown>;
}

/** A server that keeps one study, written from its newest revision only. */
const server = {
  number: 1,
  mapping: 1,
  asked: [] as Asked[],
  values: {} as Record<string, string>,
  /** Answers the next writes get instead of being done. */
  refusals: [] as { status: number; code: string; message: string }[],
  /** Readings wait for this, where it is set. */
  held: null as Promise<void> | null,
  roles: [
    {
      name: "hull",
      value: "#14342b",
      changed: false,
      properties: { "--gl-hull": 1, "--gl-hull-2": 0.5 },
    },
    {
      name: "deck",
      value: "#c8452b",
      changed: true,
      properties: { "--gl-deck": 1 },
    },
    {
      name: "rope",
      value: "#112233",
      changed: true,
      tie: { to: "hull" },
      properties: { "--gl-rope": 1 },
    },
  ],

  revision() {
    return {
      number: server.number,
      mapping: server.mapping,
      can_undo: server.number > 1,
      can_redo: false,
      reading: { hard_texts: 3, tied: {} },
      roles: server.roles.map((role) => ({
        ...role,
        value: server.values[role.name] ?? role.value,
      })),
    };
  },

  async answer(way: string, path: string, body?: Record<string, unknown>) {
    server.asked.push({ way, path, body });
    const done = (data: unknown) => ({
      data,
      response: { ok: true, status: 200 },
    });
    if (path.endsWith("/reading")) {
      await server.held;
      return done({
        hard_texts: 1,
        tied: { rope: "#445566" },
        of: body?.values,
      });
    }
    if (way === "GET") return done(path.endsWith("/study") ? server.revision() : { slug: "yard", pages: [] });
    const refusal = server.refusals.shift();
    if (refusal)
      return {
        error: refusal,
        response: { ok: false, status: refusal.status },
      };
    if (body?.base !== server.number) {
      const message = "Another window wrote first.";
      return {
        error: { code: "stale", message },
        response: { ok: false, status: 409 },
      };
    }
    server.number += 1;
    Object.assign(server.values, body.values);
    if (path.endsWith("/mapping")) server.mapping += 1;
    return done(server.revision());
  },
};

vi.mock("@/api/client", async (original) => ({
  ...(await original<object>()),
  default: {
    GET: (path: string) => server.answer("GET", path),
    POST: (path: string, { body }: { body: Record<string, unknown> }) => server.answer("POST", path, body),
  },
}));

const written = () => server.asked.filter((one) => one.way === "POST" && !one.path.endsWith("/reading"));
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
  await useBench().load("yard");
});
afterEach(() => vi.useRealTimers());

describe("what the pages wear", () => {
  const brought = {
    "--gl-hull": null,
    "--gl-hull-2": null,
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
      },
    ],
    [{ deck: "#8c8a78" }, { ...brought, "--gl-deck": "#8c8a78" }],
  ])("with %j in hand", (values, worn) => {
    useBench().draft = values;
    expect(useBench().wear).toEqual(worn);
  });

  test("a tied role follows the reading of what is in hand, and goes back with it", async () => {
    const bench = useBench();
    bench.show("hull", "#0b5c7a");
    await vi.waitFor(() => expect(bench.reading?.hard_texts).toBe(1));
    expect([bench.wear["--gl-rope"], bench.colourOf("rope")]).toEqual(["#445566", "#445566"]);
    bench.drop("hull");
    expect([bench.wear["--gl-rope"], bench.reading?.hard_texts]).toEqual(["#112233", 3]);
  });
});

test("while a reading is on its way only the newest colour waits for the next", async () => {
  vi.useFakeTimers();
  let letGo = () => {};
  server.held = new Promise((resolve) => (letGo = resolve));
  const bench = useBench();
  for (const value of ["#111111", "#222222", "#333333", "#444444"]) bench.show("hull", value);
  letGo();
  await vi.advanceTimersByTimeAsync(2000);
  expect(read().map((one) => one.body?.values)).toEqual([{ hull: "#111111" }, { hull: "#444444" }]);
  expect(written()).toEqual([]);
});

describe("writing", () => {
  test("one step after the other, each from the one before", async () => {
    const bench = useBench();
    const both = [bench.save({ hull: "#111111" }), bench.save({ deck: "#222222" }), bench.undo()];
    expect(bench.saving).toBe("saving");
    expect(await Promise.all(both)).toEqual([true, true, false]); // nothing is undone while something is on its way
    expect(written().map((one) => one.body?.base)).toEqual([1, 2]);
    expect([bench.revision?.number, bench.saving, bench.draft]).toEqual([3, "saved", {}]);
    expect(await bench.undo()).toBe(true);
  });

  test("a colour moved on while the one before was saved stays in hand", async () => {
    const bench = useBench();
    const saved = bench.save({ hull: "#111111" });
    bench.show("hull", "#222222");
    await saved;
    expect([bench.draft, bench.colourOf("hull")]).toEqual([{ hull: "#222222" }, "#222222"]);
  });

  test("what could not be saved stays, is told, and is sent again", async () => {
    const bench = useBench();
    server.refusals = [{ status: 503, code: "busy", message: "The yard is shut just now." }];
    expect(await bench.save({ hull: "#111111" })).toBe(false);
    expect([bench.saving, bench.trouble, bench.draft]).toEqual([
      "unsaved",
      "The yard is shut just now.",
      { hull: "#111111" },
    ]);
    expect(await bench.undo()).toBe(false);
    await bench.retry();
    expect([bench.saving, bench.trouble, bench.draft, server.values]).toEqual(["saved", "", {}, { hull: "#111111" }]);
  });

  test.each([
    ["keep", "#111111", [2, 3]],
    ["newer", "#abcdef", [2]],
  ] as const)("another window wrote first: %s", async (way, hull, numbers) => {
    const bench = useBench();
    Object.assign(server, { number: 2, values: { hull: "#abcdef" } });
    expect(await bench.save({ hull: "#111111" })).toBe(false);
    expect([bench.stale, bench.trouble, server.values.hull]).toEqual([{ hull: "#111111" }, "", "#abcdef"]);
    await bench.settle(way);
    expect([bench.colourOf("hull"), bench.stale, bench.saving, bench.draft]).toEqual([hull, null, "saved", {}]);
    expect(server.number).toBe(numbers.at(-1));
  });

  test("another mapping has other pages: they are fetched anew, once", async () => {
    const bench = useBench();
    const fetched = () => server.asked.filter((one) => one.path === "/api/sites/{slug}").length;
    await bench.save({ hull: "#111111" });
    expect(fetched()).toBe(1);
    await bench.moveColours({ colours: ["#14342b"], role: "deck" } as never);
    expect(fetched()).toBe(2);
  });
});

test("a refusal without a body still says what is to be done", async () => {
  const { ask, refusalOf, OFFLINE } = await vi.importActual<typeof import("@/api/client")>("@/api/client");
  expect(refusalOf(500, null)).toBeInstanceOf(Refusal);
  expect(refusalOf(500, "<html>").message).toContain("nothing was changed");
  await expect(ask(Promise.reject(new Error("no route")))).rejects.toBe(OFFLINE);
});
