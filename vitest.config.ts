import { defineConfig } from "vitest/config";

export default defineConfig({
  test: {
    include: [
      "core/**/*.test.ts",
      "app/**/*.test.ts",
      "demo/**/*.test.ts",
      "tests/reference/**/*.test.ts",
      "tests/pages/**/*.test.tsx",
    ],
    // Both cores of a small machine, not all but one.
    maxWorkers: "100%",
    testTimeout: 120_000,
    hookTimeout: 180_000,
  },
});
