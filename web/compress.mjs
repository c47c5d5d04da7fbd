// Writes a brotli and a gzip form of every file of the build that is worth it, beside it: the server sends what the browser takes.
import { readdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { brotliCompressSync, constants, gzipSync } from "node:zlib";

const worthIt = /\.(js|css|html|svg)$/;
for (const name of readdirSync("dist", { recursive: true })) {
  if (!worthIt.test(name)) continue;
  const path = join("dist", name);
  const bytes = readFileSync(path);
  if (bytes.length < 300) continue; // no shorter with what says how it is coded
  writeFileSync(`${path}.br`, brotliCompressSync(bytes, { params: { [constants.BROTLI_PARAM_QUALITY]: 11, [constants.BROTLI_PARAM_SIZE_HINT]: bytes.length } }));
  writeFileSync(`${path}.gz`, gzipSync(bytes, { level: 9 }));
}
