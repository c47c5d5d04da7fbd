// Finishes a build: what the first picture would wait for is put into the page itself, and every file that is worth it gets a brotli and a
// gzip form beside it: the server sends what the browser takes.
import { readdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { brotliCompressSync, constants, gzipSync } from "node:zlib";

const page = join("dist", "index.html");
let html = readFileSync(page, "utf8");
/** Puts the file that a tag of the page names, which stands there once, in its place. */
const putIn = (tag, name, folder) => {
  const [[whole, file] = [], another] = html.matchAll(tag);
  if (!file || another) throw new Error(`the page should have ${tag} once`);
  html = html.replace(whole, () => `<${name}>${readFileSync(join(folder, file), "utf8")}</${name}>`);
};
putIn(/<script\s+src="\/(first-look\.js)"><\/script>/g, "script", ".");
putIn(/<link rel="stylesheet"[^>]*href="\/([^"]+)"[^>]*>/g, "style", "dist");
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
