import { afterAll, vi } from "vitest";

/** Test files share one thread and what it has loaded: what a file puts in the place of the world's parts ends with it. */
afterAll(() => {
  vi.unstubAllGlobals();
  vi.unstubAllEnvs();
  vi.useRealTimers();
});
