import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

export default defineConfig({
  plugins: [react()],
  build: {
    outDir: "../src/phasko/web/static",
    emptyOutDir: true,
    rolldownOptions: {
      output: {
        codeSplitting: { groups: [{ name: "libraries", test: /node_modules/ }] },
      },
    },
    chunkSizeWarningLimit: 1200,
  },
  test: { include: ["tests/**/*.test.ts"], environment: "node" },
  server: { proxy: { "/api": "http://127.0.0.1:8765" } },
});
