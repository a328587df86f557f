// The demo data that every end-to-end test starts from. Plain Node, no packages.
import { mkdirSync, rmSync } from "node:fs";
import { dirname } from "node:path";
import { runBeside } from "./steps.mjs";

/** Until this hour (UTC) a day has hardly begun, or began at an odd hour: the evening before is told instead. */
const begun = 12;

/** The moment at which the story of the tests ends: now, or late on the day before. */
function storyEnd() {
  const now = new Date();
  if (now.getUTCHours() < begun) now.setUTCHours(-1, 30);
  return now.toISOString();
}

/** Loads the demo data of the end-to-end tests into a new file; its simulated meters are quick, so that tests wait less. */
export function loadTestDemo(file) {
  rmSync(dirname(file), { recursive: true, force: true });
  mkdirSync(dirname(file), { recursive: true });
  return runBeside(process.execPath, ["scripts/run.mjs", "scripts/seed.ts"], {
    env: { BRINTEL_DATABASE: file, BRINTEL_DEVICE_SPEED: "40", BRINTEL_DEMO_AT: storyEnd() },
  });
}
