// The demo data that every end-to-end test starts from, and that the tests of the story look into. Plain Node, no packages.
import { mkdirSync, rmSync } from "node:fs";
import { dirname } from "node:path";
import { runBeside } from "./steps.mjs";

/**
 * The moment at which the story of the tests ends, and at which they begin: a Thursday afternoon, after the clocks
 * went back. What a day holds hangs on its hour, so that tests at the machine's own hour would not all test the same.
 */
export const storyEnd = "2026-11-26T15:30:00.000Z";

/** Loads the demo data of the end-to-end tests into a new file; its simulated meters are quick, so that tests wait less. */
export function loadTestDemo(file) {
  rmSync(dirname(file), { recursive: true, force: true });
  mkdirSync(dirname(file), { recursive: true });
  return runBeside(process.execPath, ["scripts/run.mjs", "scripts/seed.ts"], {
    env: { BRINTEL_DATABASE: file, BRINTEL_DEVICE_SPEED: "40", BRINTEL_DEMO_AT: storyEnd },
  });
}
