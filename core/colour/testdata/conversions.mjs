// Makes conversions.json with the npm library culori (MIT), which knows nothing of this project:
//
//	npm install --prefix /tmp/colours culori@4.0.2 && NODE_PATH=/tmp/colours/node_modules node conversions.mjs > conversions.json
//
// Each row: a CSS notation, its CIELAB D50, its Oklab, and its CIEDE2000 (in CIELAB D50) to the row before.
import { createRequire } from "node:module";

const { converter, differenceCiede2000, parse } = createRequire(process.env.NODE_PATH + "/")("culori");
const lab = converter("lab");
const oklab = converter("oklab");
const difference = differenceCiede2000();

// The library's formula takes its own D65 Lab; the numbers are given to it as they are.
const as65 = (c) => ({ mode: "lab65", l: c.l, a: c.a, b: c.b });

let seed = 7;
const random = () => (seed = (seed * 48271) % 2147483647) / 2147483647;
const n = (from, to, digits = 3) => Number((from + random() * (to - from)).toFixed(digits));
const makers = [
  () => `#${Math.floor(random() * 0xffffff).toString(16).padStart(6, "0")}`,
  () => `rgb(${n(0, 255, 0)} ${n(0, 255, 0)} ${n(0, 255, 0)})`,
  () => `hsl(${n(0, 360, 1)} ${n(0, 100, 1)}% ${n(0, 100, 1)}%)`,
  () => `hwb(${n(0, 360, 1)} ${n(0, 50, 1)}% ${n(0, 50, 1)}%)`,
  () => `lab(${n(0, 100)} ${n(-90, 90)} ${n(-90, 90)})`,
  () => `lch(${n(0, 100)} ${n(0, 110)} ${n(0, 360)})`,
  () => `oklab(${n(0, 1)} ${n(-0.3, 0.3)} ${n(-0.3, 0.3)})`,
  () => `oklch(${n(0, 1)} ${n(0, 0.35)} ${n(0, 360)})`,
  () => `color(srgb ${n(0, 1)} ${n(0, 1)} ${n(0, 1)})`,
  () => `color(display-p3 ${n(0, 1)} ${n(0, 1)} ${n(0, 1)})`,
  () => `color(a98-rgb ${n(0, 1)} ${n(0, 1)} ${n(0, 1)})`,
  () => `color(prophoto-rgb ${n(0, 1)} ${n(0, 1)} ${n(0, 1)})`,
  () => `color(rec2020 ${n(0, 1)} ${n(0, 1)} ${n(0, 1)})`,
  () => `color(xyz-d50 ${n(0, 0.9)} ${n(0, 1)} ${n(0, 0.8)})`,
  () => `color(xyz-d65 ${n(0, 0.9)} ${n(0, 1)} ${n(0, 1)})`,
];
const rows = [];
let last;
for (let i = 0; i < 20 * makers.length; i++) {
  const css = makers[i % makers.length]();
  const c = parse(css);
  const l = lab(c);
  const o = oklab(c);
  rows.push({ css, lab: [l.l, l.a, l.b], oklab: [o.l, o.a, o.b], ...(last ? { de00: difference(as65(last), as65(l)) } : {}) });
  last = l;
}
process.stdout.write("[\n" + rows.map((r) => JSON.stringify(r)).join(",\n") + "\n]\n");
