import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { defineConfig } from "vitest/config";
import { BaseSequencer, type TestSpecification } from "vitest/node";

const files = ["core", "app", "demo", "tests/reference", "tests/pages"].flatMap((folder) =>
  readdirSync(folder, { recursive: true, encoding: "utf8" })
    .filter((name) => /\.test\.tsx?$/.test(name))
    .map((name) => join(folder, name)),
);
/** Whoever puts something in the place of a module needs modules of their own; all others share what was loaded once. */
const alone = files.filter((file) => readFileSync(file, "utf8").includes("vi.mock("));

/** What takes longest. Begun last, it would keep one core while the other has nothing left to do. */
const long =
  /(demo\/load|results\/rejudge|exchange\/imports|reference\/(diagnosis\..|planner)|upkeep\/onServer)\.test/;

class LongOnesFirst extends BaseSequencer {
  override async sort(files: TestSpecification[]): Promise<TestSpecification[]> {
    const sorted = await super.sort(files);
    const rank = ({ moduleId }: TestSpecification) => (long.test(moduleId) ? 0 : 1);
    return sorted.sort((a, b) => rank(a) - rank(b));
  }
}

export default defineConfig({
  // Pages are rendered by what is shipped, which is quicker too.
  oxc: { jsx: { runtime: "automatic", development: false } },
  test: {
    env: { NODE_ENV: "production" },
    setupFiles: ["tests/steadySeed.ts"],
    // Both cores of a small machine, not all but one.
    maxWorkers: "100%",
    sequence: { sequencer: LongOnesFirst },
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
