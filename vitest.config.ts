import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { defineConfig } from "vitest/config";

const files = ["core", "app", "demo", "tests/reference", "tests/pages"].flatMap((folder) =>
  readdirSync(folder, { recursive: true, encoding: "utf8" })
    .filter((name) => /\.test\.tsx?$/.test(name))
    .map((name) => join(folder, name)),
);
/** Whoever puts something in the place of a module needs modules of their own; all others share what was loaded once. */
const alone = files.filter((file) => readFileSync(file, "utf8").includes("vi.mock("));

export default defineConfig({
  // Pages are rendered by what is shipped, which is quicker too.
  oxc: { jsx: { runtime: "automatic", development: false } },
  test: {
    env: { NODE_ENV: "production" },
    // Both cores of a small machine, not all but one.
    maxWorkers: "100%",
    testTimeout: 120_000,
    hookTimeout: 180_000,
    projects: [
      {
        extends: true,
        test: { name: "together", isolate: false, include: files.filter((file) => !alone.includes(file)) },
      },
      { extends: true, test: { name: "alone", include: alone } },
    ],
  },
});
