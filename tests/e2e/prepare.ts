import { execFileSync } from "node:child_process";
import { mkdirSync, rmSync } from "node:fs";
import { demoTemplate, folder } from "./server";

/** Loads the demo data once; every test file starts from a copy of it. */
export default function prepare(): void {
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(folder, { recursive: true });
  execFileSync(process.execPath, ["scripts/run.mjs", "scripts/seed.ts"], {
    env: { ...process.env, BRINTEL_DATABASE: demoTemplate, BRINTEL_DEVICE_SPEED: "40" },
    stdio: "inherit",
  });
}
