// Finishes a build: what the first picture would wait for is put into the page itself, and every file that is worth it gets a brotli and a
// gzip form beside it: the server sends what the browser takes.
import { readdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { build } from "vite";
import { brotliCompressSync, constants, gzipSync } from "node:zlib";

const page = join("dist", "index.html");
let html = readFileSync(page, "utf8");
/** Puts something in the place of what stands in the page once. */
const instead = (tag, by) => {
  const [[whole, file] = [], another] = html.matchAll(tag);
  if (whole === undefined || another) throw new Error(`the page should have ${tag} once`);
  html = html.replace(whole, () => by(file));
};

// The page's own script starts the application, once what comes before it is under way.
const manifest = JSON.parse(readFileSync(join("dist", ".vite", "manifest.json"), "utf8"));
/** The modules that one needs, the nearest to it first. */
const needed = (key, list = new Set()) => {
  const { file, imports = [] } = manifest[key];
  if (!list.has(`/${file}`)) {
    list.add(`/${file}`);
    for (const i of imports) needed(i, list);
  }
  return list;
};
let start;
instead(/<script type="module"[^>]*src="([^"]+)"[^>]*><\/script>/g, (file) => { start = file; return ""; });
html = html.replaceAll(/\s*<link rel="modulepreload"[^>]*>/g, "");
const modules = [...needed("src/PicturePage.tsx")];
const [{ output }] = await build({
  configFile: false,
  logLevel: "warn",
  define: { modules: JSON.stringify(modules), start: JSON.stringify(start) },
  build: { target: "es2022", write: false, lib: { entry: join("src", "first", "page.ts"), formats: ["iife"], name: "first" } },
});
const own = output[0].code.trim();
if (own.includes("</script")) throw new Error("the page's own script would end in its middle");
instead(/<meta charset="utf-8" \/>/g, () => `<meta charset="utf-8" /><script>${own}</script>`);
instead(/<link rel="stylesheet"[^>]*href="\/([^"]+)"[^>]*>/g, (file) => `<style>${readFileSync(join("dist", file), "utf8")}</style>`);
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
