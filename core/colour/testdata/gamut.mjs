// Makes gamut.json with the npm library culori (MIT), which knows nothing of this project:
//
//	npm install --prefix /tmp/colours culori@4.0.2 && NODE_PATH=/tmp/colours/node_modules node gamut.mjs > gamut.json
//
// Each row: a colour in Oklch that sRGB cannot show, and what the gamut mapping of CSS Color 4 (section 13.2, bisection of Oklch
// chroma with a just noticeable difference of 0.02) makes of it in coded sRGB.
import { createRequire } from "node:module";

const { toGamut, inGamut, formatCss } = createRequire(process.env.NODE_PATH + "/")("culori");
const map = toGamut("rgb", "oklch");
const fits = inGamut("rgb");
let seed = 11;
const random = () => (seed = (seed * 48271) % 2147483647) / 2147483647;
const rows = [];
while (rows.length < 200) {
  const c = { mode: "oklch", l: Number((0.1 + 0.85 * random()).toFixed(3)), c: Number((0.4 * random()).toFixed(3)), h: Number((360 * random()).toFixed(1)) };
  if (fits(c)) continue;
  const { r, g, b } = map(c);
  rows.push(JSON.stringify({ css: formatCss(c), rgb: [r, g, b].map((v) => Number(v.toFixed(5))) }));
}
console.log(`[\n${rows.join(",\n")}\n]`);
