import { defineConfig } from "vitest/config";
import { BaseSequencer, type TestSpecification } from "vitest/node";

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
    setupFiles: ["tests/steadySeed.ts", "tests/leftAsFound.ts"],
    // Both cores of a small machine, not all but one.
    maxWorkers: "100%",
    sequence: { sequencer: LongOnesFirst },
    testTimeout: 120_000,
    hookTimeout: 180_000,
    include: ["{core,app,demo,tests/reference,tests/pages}/**/*.test.{ts,tsx}"],
    // What was loaded once is shared: whoever puts something in the place of a module's part takes it back after each test.
    isolate: false,
  },
});
