import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

export default defineConfig({
  plugins: [react()],
  test: { testTimeout: 20_000 }, // a hand in a rendered page takes long beside a machine full of work
  server: { proxy: { "/api": "http://127.0.0.1:8427" } },
  build: { target: "es2022", assetsInlineLimit: 0, manifest: true, chunkSizeWarningLimit: 1200, rolldownOptions: { optimization: { inlineConst: { mode: "all", pass: 1 } } } },
});
