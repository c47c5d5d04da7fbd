import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";
import type { Plugin } from "vite";

/**
 * What React Aria asks of the browser's Intl while its modules load, each of which reads tables of languages before the first picture, 30 to
 * 50 ms: whether a locale is well formed is told without them, and every browser that the build is for knows signs of numbers.
 */
const unread: Record<string, string> = {
  "Intl.DateTimeFormat.supportedLocalesOf(": "Intl.getCanonicalLocales(",
  "new Intl.NumberFormat('de-DE', {\n        signDisplay: 'exceptZero'\n    }).resolvedOptions().signDisplay === 'exceptZero'": "true",
};
const tablesUnread = (): Plugin => {
  const left = new Set(Object.keys(unread));
  return {
    name: "tables of languages unread",
    apply: "build",
    transform(code, id) {
      if (!/react-aria|@internationalized/.test(id)) return undefined;
      const found = Object.keys(unread).filter((q) => code.includes(q));
      for (const q of found) left.delete(q);
      return found.length > 0 ? { code: found.reduce((c, q) => c.replaceAll(q, unread[q] ?? q), code), map: null } : undefined;
    },
    buildEnd() {
      for (const q of left) this.warn(`nothing asks ${q} any more`);
    },
  };
};

export default defineConfig({
  plugins: [react(), tablesUnread()],
  test: { testTimeout: 20_000 }, // a hand in a rendered page takes long beside a machine full of work
  server: { proxy: { "/api": "http://127.0.0.1:8427" } },
  build: { target: "es2022", assetsInlineLimit: 0, manifest: true, chunkSizeWarningLimit: 1200, rolldownOptions: { optimization: { inlineConst: { mode: "all", pass: 1 } } } },
});
