import { difference } from "@/composables/usePainter";
import {
  alongStops,
  asProperty,
  differenceOk,
  encoded,
  hexOf,
  isReadableOn,
  lchOf,
  linearSrgbOfOklab,
} from "@/logic/colour";
import {
  contrastOf,
  packed,
  ratioAt,
  shareOf,
  withContrast,
} from "@/logic/ladder";
import { railOf, tileOf } from "@/logic/roles";
import {
  count,
  dateText,
  ratioText,
  readabilityText,
  statesText,
  whereText,
} from "@/logic/words";
import type { Coat, Role } from "@/api/client";

describe("colour", () => {
  test.each([
    "#8c8a78",
    "#143d33",
    "#ffffff",
    "#000000",
    "#c8452b",
    "#00ff0080",
  ])("%s comes back from its parts", (hex) => {
    expect(hexOf(lchOf(hex))).toBe(hex);
  });

  test("a grey keeps the hue it is given", () => {
    expect(lchOf("#777777", 123).hue).toBe(123);
  });

  test.each([
    ["#000000", "#ffffff", 1],
    ["#0b5c7a", "#0b5c7a", 0],
    ["#ff0000", "#00ff00", 0.5198],
  ])("tells how far %s lies from %s in OKLab", (one, other, apart) => {
    expect(differenceOk(one, other)).toBeCloseTo(apart, 3);
  });

  test.each([
    ["#14342b", 1, "#14342b"],
    ["#14342b", 0.62, "rgb(20 52 43 / 0.62)"],
    ["#14342b80", 0.5, "rgb(20 52 43 / 0.251)"],
  ])("%s at %d is %s", (hex, opacity, css) =>
    expect(asProperty(hex, { opacity, is_channels: false })).toBe(css),
  );

  test("channels are three numbers", () => {
    expect(asProperty("#14342b", { opacity: 1, is_channels: true })).toBe(
      "20, 52, 43",
    );
  });

  test.each(["#8c8a78", "#143d33", "#c8452b", "#ffffff", "#0000ff"])(
    "pixels of the field have the colour %s",
    (hex) => {
      const { lightness, chroma, hue } = lchOf(hex);
      const angle = (hue * Math.PI) / 180;
      const rgb = linearSrgbOfOklab(
        lightness,
        chroma * Math.cos(angle),
        chroma * Math.sin(angle),
      );
      const bytes = rgb.map((channel) =>
        Math.round(255 * encoded(channel))
          .toString(16)
          .padStart(2, "0"),
      );
      expect(`#${bytes.join("")}`).toBe(hex);
    },
  );
});

describe("what a frame is told", () => {
  test.each([
    [{ a: "red" }, {}, { a: "red" }],
    [{ a: "red", b: null }, { a: "red" }, {}],
    [{ a: null }, { a: "red" }, { a: null }],
    [{}, { a: "red", b: null }, { a: null }],
  ])("%j after %j", (worn, sent, told) =>
    expect(difference(worn, sent)).toEqual(told),
  );
});

describe("words", () => {
  test.each([
    [2.819, "2.81"],
    [4.5, "4.5"],
    [11.19, "11.1"],
    [21, "21"],
    [null, "?"],
  ])("%s is shown as %s", (ratio, text) => expect(ratioText(ratio)).toBe(text));

  test.each([
    [["rest", "hover"], ""],
    [["hover", "active"], "only when hovered or when pressed"],
  ])("%j", (states, text) => expect(statesText(states)).toBe(text));

  test.each([
    ["2026-11-24T09:05:00", "today, 09:05"],
    ["2026-11-23T23:59:00", "yesterday, 23:59"],
    ["2026-11-03T12:00:00", "3 November"],
    ["2025-11-03T12:00:00", "3 November 2025"],
  ])("%s was %s", (iso, text) =>
    expect(dateText(iso, new Date("2026-11-24T12:00:00"))).toBe(text),
  );

  test("counts agree with their noun", () => {
    expect([
      count(1, "page"),
      count(3, "page"),
      count(2, "study", "studies"),
    ]).toEqual(["1 page", "3 pages", "2 studies"]);
  });
});

test("findings say where they are, and how many texts are hard to read", () => {
  const one = {
    places: 31,
    pages: ["a", "b"],
    states: ["rest"],
    widths: [1280],
  };
  expect(whereText(one)).toBe("31 texts on 2 pages");
  expect(
    whereText({ places: 1, pages: ["a"], states: ["hover"], widths: [390] }),
  ).toBe("only on a phone, only when hovered");
  expect([
    readabilityText(0, 283),
    readabilityText(1, 283),
    readabilityText(5, 1283),
  ]).toEqual([
    "nothing is hard to read",
    "1 text of 283 is hard to read",
    "5 texts of 1,283 are hard to read",
  ]);
});

describe("the rail", () => {
  const role = (id: string, more: Partial<Role> = {}) =>
    ({
      id,
      kind: "text",
      look: more.kind === "background" ? "background" : "text",
      coat: null,
      state: "rest",
      tier: "main",
      rest: null,
      ...more,
    }) as Role;
  const roles = [
    role("background", { kind: "background" }),
    role("link", { kind: "link" }),
    role("link.visited", { kind: "link", state: "visited", rest: "link" }),
    role("link.hover", { kind: "link", state: "hover", rest: "link" }),
    role("footer.background", { kind: "background", coat: "footer" }),
    role("footer.text", { coat: "footer" }),
    role("lost.text", { coat: "lost" }),
    role("badge", { tier: "detail" }),
    role("never", { tier: "unseen" }),
  ];
  const coats = [
    { id: "footer", label: "Footer" },
    { id: "lost", label: "Lost" },
  ] as Coat[];
  const ids = (tiles: { role: Role; states: Role[] }[]) =>
    tiles.map((tile) => [tile.role.id, ...tile.states.map((s) => s.id)]);

  test("has site colours with their states, coats with what is written on them, and details; nothing unseen", () => {
    const rail = railOf(roles, coats);
    expect(ids(rail.site)).toEqual([
      ["background"],
      ["link", "link.hover", "link.visited"],
    ]);
    expect(
      rail.coats.map((one) => [one.coat.id, one.background.id, one.text?.id]),
    ).toEqual([["footer", "footer.background", "footer.text"]]);
    expect(ids(rail.details)).toEqual([["lost.text"], ["badge"]]);
  });

  test.each([
    ["link.hover", "link"],
    ["footer.text", "footer.text"],
    ["badge", "badge"],
    ["never", undefined],
  ])("%s is found on the tile of %s", (id, tile) =>
    expect(tileOf(railOf(roles, coats), id)?.role.id).toBe(tile),
  );
});

test("what of a gradient text would be hard to read over", () => {
  const stops = [
    { at: 1, colour: "#ffffff" },
    { at: 0.25, colour: "#000000" },
  ];
  expect(alongStops(stops, [0, 0.25, 0.625, 1])).toEqual([
    "#000000",
    "#000000",
    "#808080",
    "#ffffff",
  ]);
  expect(alongStops([{ at: 0.5, colour: "#123456" }], [0, 1])).toEqual([
    "#123456",
    "#123456",
  ]);
  expect(
    alongStops([...stops, { at: 0.5, colour: "#ff000080" }], [0]),
  ).toBeNull();
  const inks = [{ colour: "#ffffff", required: 4.5 }];
  const reads = alongStops(stops, [0, 0.5, 0.75, 1])!.map((one) =>
    isReadableOn(one, inks),
  );
  expect(reads).toEqual([true, true, false, false]);
  expect(
    isReadableOn("#777777", [...inks, { colour: "#000000", required: 4.5 }]),
  ).toBe(false);
});

describe("the ladder", () => {
  test("contrast and place on the way are each other's reverse", () => {
    expect([shareOf(1), shareOf(21)]).toEqual([0, 1]);
    for (const ratio of [1.3, 3, 4.5, 7, 20])
      expect(ratioAt(shareOf(ratio))).toBeCloseTo(ratio, 9);
  });

  test.each([
    ["#c8452b", "#efe6d6", 4.5, true],
    ["#c8452b", "#efe6d6", 9, true],
    ["#8c8a78", "#14342b", 4.5, true],
    ["#8c8a78", "#14342b", 10, true],
    ["#777777", "#ffffff", 4.54, true],
    ["#8c8a78", "#777777", 20, false],
  ])("%s on %s can have %s", (colour, ground, ratio, isReached) => {
    const found = contrastOf(withContrast(colour, ground, ratio), ground);
    if (isReached) {
      expect(found).toBeGreaterThan(ratio * 0.985);
      expect(found).toBeLessThan(ratio * 1.04);
    } else expect(found).toBeLessThan(ratio);
  });

  test("no text covers another, and each stands as near its place as the track allows", () => {
    const pieces = [5, 40, 42, 300, 395].map((at) => ({ at, width: 60 }));
    const placed = packed(pieces, 400);
    placed.forEach((one, place) => {
      expect(one.left).toBeGreaterThanOrEqual(0);
      expect(one.left).toBeLessThanOrEqual(340);
      for (const other of placed.slice(place + 1))
        expect(
          one.row !== other.row || Math.abs(one.left - other.left) >= 60,
        ).toBe(true);
    });
    expect(placed[3]).toEqual({ row: 0, left: 270 });
  });
});
