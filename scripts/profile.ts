/** Prints how often the steps of a profile along the water are right, on simulated rivers: npm run profile -- [seeds]. */
import { profileTrial } from "../core/simulation/river";

const seeds = Array.from({ length: Number(process.argv[2] ?? 5) }, (_, i) => 41 + i);
console.log("seed   rivers   inflow put right   none claimed where none is");
for (const seed of seeds) {
  const { rivers, right, none } = profileTrial(seed);
  const share = (n: number) => `${((100 * n) / rivers).toFixed(1)} %`;
  console.log(
    `${String(seed).padStart(4)}${String(rivers).padStart(9)}${share(right).padStart(19)}${share(none).padStart(29)}`,
  );
}
