/** Prints how often the diagnosis names the faults of simulated sensors: each alone, two at once, and none. */
import { measurands } from "../core/quantity/measurand";
import { diagnosisScores } from "../core/simulation/trial";
import { trialPlans } from "../core/testing/trialPlans";

const seeds = Array.from({ length: Number(process.argv[2] ?? 200) }, (_, i) => 1000 + i);
process.stdout.write(`${seeds.length} seeds each; sizes drawn at random above each fault's least\n`);
for (const measurand of measurands) {
  process.stdout.write(`\n${measurand}\n`);
  for (const { faults, named, seeds: n } of diagnosisScores(trialPlans[measurand], seeds)) {
    const what = faults.length ? faults.join(" + ") : "healthy (called faulty)";
    process.stdout.write(
      `  ${what.padEnd(48)} ${String(named).padStart(4)} of ${n}  ${((100 * named) / n).toFixed(1)} %\n`,
    );
  }
}
