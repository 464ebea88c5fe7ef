import { defineConfig } from "vite";

/** The player of pages that an export writes: one script without imports. */
export default defineConfig({
  publicDir: false,
  build: {
    outDir: "../mudskipper/export/player",
    emptyOutDir: true,
    target: "es2022",
    lib: { entry: "src/player/main.ts", formats: ["iife"], name: "player", fileName: () => "player.js" },
  },
});
