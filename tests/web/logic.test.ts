import { difference } from "@/composables/usePainter";
import { atOpacity, differenceOk, hexOf, lchOf } from "@/logic/colour";
import { groupOf, railGroups, shortLabel } from "@/logic/roles";
import { count, dateText, pageName, ratioText, statesText } from "@/logic/words";
import type { Role } from "@/api/client";

describe("colour", () => {
  test.each(["#8c8a78", "#143d33", "#ffffff", "#000000", "#c8452b", "#00ff0080"])(
    "%s comes back from its parts",
    (hex) => {
      expect(hexOf(lchOf(hex))).toBe(hex);
    },
  );

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
  ])("%s at %d is %s", (hex, opacity, css) => expect(atOpacity(hex, opacity)).toBe(css));
});

describe("what a frame is told", () => {
  test.each([
    [{ a: "red" }, {}, { a: "red" }],
    [{ a: "red", b: null }, { a: "red" }, {}],
    [{ a: null }, { a: "red" }, { a: null }],
    [{}, { a: "red", b: null }, { a: null }],
  ])("%j after %j", (worn, sent, told) => expect(difference(worn, sent)).toEqual(told));
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
    [["hover", "active"], "only when pointed at or pressed"],
  ])("%j", (states, text) => expect(statesText(states)).toBe(text));

  test.each([
    ["2026-11-24T09:05:00", "today, 09:05"],
    ["2026-11-23T23:59:00", "yesterday, 23:59"],
    ["2026-11-03T12:00:00", "3 November"],
    ["2025-11-03T12:00:00", "3 November 2025"],
  ])("%s was %s", (iso, text) => expect(dateText(iso, new Date("2026-11-24T12:00:00"))).toBe(text));

  test("counts agree with their noun", () => {
    expect([count(1, "page"), count(3, "page"), count(2, "study", "studies")]).toEqual([
      "1 page",
      "3 pages",
      "2 studies",
    ]);
  });

  test.each([
    ["Prices · Otterlock", "Prices · Otterlock"],
    ["Otterlock Boats: slow water", "Otterlock Boats"],
    ["Notices | Otterlock Boats", "Notices"],
    ["", "notices/index.html"],
  ])("the page “%s” is called %s", (title, name) => expect(pageName({ title, path: "notices/index.html" })).toBe(name));
});

describe("the rail", () => {
  const role = (name: string, kind: string, label = name) => ({ name, kind, label }) as Role;

  test.each([
    ["background", "ground", "page"],
    ["background-hover", "ground", "page"],
    ["accent-text", "words", "accent"],
    ["ground-2-link-hover", "words", "ground-2"],
    ["line-2", "line", "lines"],
    ["quiet", "words", "words"],
  ])("%s stands under %s", (name, kind, group) => expect(groupOf({ name, kind })).toBe(group));

  test("a further ground keeps its words beside it", () => {
    const roles = [
      role("text", "words"),
      role("ground-1", "ground", "Hull"),
      role("ground-1-link", "words"),
      role("background", "ground"),
    ];
    expect(railGroups(roles).map((group) => [group.label, group.roles.map((one) => one.name)])).toEqual([
      ["Page", ["background"]],
      ["Words", ["text"]],
      ["Hull", ["ground-1", "ground-1-link"]],
    ]);
    expect(shortLabel({ label: "Ground 1: quiet text" })).toBe("Quiet text");
  });
});
