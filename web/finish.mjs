// Finishes a build: what the first picture would wait for is put into the page itself, and every file that is worth it gets a brotli and a
// gzip form beside it: the server sends what the browser takes.
import { readdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { brotliCompressSync, constants, gzipSync } from "node:zlib";

const once = (text, what, by) => {
  if (text.split(what).length !== 2) throw new Error(`the page should have ${what} once`);
  return text.replace(what, () => by);
};
const page = join("dist", "index.html");
let html = readFileSync(page, "utf8");
html = once(html, '<script src="/first-look.js"></script>', `<script>${readFileSync("first-look.js", "utf8")}</script>`);
const [link, fonts] = /<link rel="stylesheet"[^>]*href="\/([^"]+)"[^>]*>/.exec(html) ?? ["a style sheet"];
html = once(html, link, `<style>${fonts && readFileSync(join("dist", fonts), "utf8")}</style>`);
writeFileSync(page, html);

const worthIt = /\.(js|css|html|svg)$/;
for (const name of readdirSync("dist", { recursive: true })) {
  if (!worthIt.test(name)) continue;
  const path = join("dist", name);
  const bytes = readFileSync(path);
  if (bytes.length < 300) continue; // no shorter with what says how it is coded
  writeFileSync(`${path}.br`, brotliCompressSync(bytes, { params: { [constants.BROTLI_PARAM_QUALITY]: 11, [constants.BROTLI_PARAM_SIZE_HINT]: bytes.length } }));
  writeFileSync(`${path}.gz`, gzipSync(bytes, { level: 9 }));
}
