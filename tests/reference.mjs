// Colours by culori, as a reference of another make: reads {rgb: [[r, g, b], …], texts: […]} from standard input.
import { converter, differenceEuclidean, parse } from "../web/node_modules/culori/bundled/culori.mjs";

let given = "";
for await (const part of process.stdin) given += part;
const { rgb, texts } = JSON.parse(given);
const toOklab = converter("oklab");
const toRgb = converter("rgb");
const apart = differenceEuclidean("oklab");
const three = (colour, names) => [...names].map((name) => colour[name] ?? 0);
const made = ([r, g, b]) => ({ mode: "rgb", r, g, b });
process.stdout.write(
  JSON.stringify({
    oklab: rgb.map((one) => three(toOklab(made(one)), "lab")),
    apart: rgb.slice(1).map((one, place) => apart(made(one), made(rgb[place]))),
    texts: texts.map((text) => three(toRgb(parse(text)), "rgb")),
  }),
);
