/** npm run scale -- 10000 100000 1000000: times the server on databases of so many readings; they stay in data/scale. */
import { mkdirSync } from "node:fs";
import { makeScale, timeScale } from "./lib/scale";
import { ensureBuild } from "./lib/steps.mjs";

const folder = process.env.BRINTEL_SCALE ?? "data/scale";
const sizes = process.argv.slice(2).map(Number).filter(Boolean);
await ensureBuild();
mkdirSync(folder, { recursive: true });
for (const readings of sizes.length ? sizes : [10_000, 100_000, 1_000_000]) {
  await timeScale(makeScale(folder, readings));
}
