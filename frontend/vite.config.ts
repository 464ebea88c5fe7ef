import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

export default defineConfig({
  plugins: [react()],
  build: { outDir: "../mudskipper/web/static", emptyOutDir: true, chunkSizeWarningLimit: 1500 },
  test: { include: ["../tests/page/**/*.test.ts"], globals: true, environment: "node" },
  server: { proxy: { "/api": { target: "http://127.0.0.1:8765", ws: true } } },
});
