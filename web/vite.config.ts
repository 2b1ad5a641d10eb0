import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

export default defineConfig({
  plugins: [react()],
  build: { chunkSizeWarningLimit: 900, assetsInlineLimit: 0 },
  server: { proxy: { "/api": "http://127.0.0.1:8420" } },
  test: {
    environment: "jsdom",
    // Each file in a context of its own: much quicker than in a process of its own.
    pool: "vmThreads",
    include: ["tests/**/*.test.{ts,tsx}"],
    css: false,
    // A machine that does much else is slow, not wrong.
    testTimeout: 30_000,
    setupFiles: ["tests/setup.ts"],
  },
});
