import { describe, expect, it } from "vitest";
import type { Measurand } from "../../core/quantity/measurand";
import { diagnosisScores } from "../../core/simulation/trial";
import { trialPlans } from "../../core/testing/trialPlans";

// Source of the shares asked for: what a technician can build on (common practice); sizes are drawn at random, seeds are fixed.
const seeds = Array.from({ length: 200 }, (_, i) => 1000 + i);
const quantities: Measurand[] = ["ph", "temperature"];

describe.each(quantities)("the diagnosis of %s, for 200 simulated sensors", (measurand) => {
  it("names each fault in 95 %, one of two at once in 90 %, and calls at most 2 % of healthy ones faulty", () => {
    for (const { faults, named, seeds: n } of diagnosisScores(trialPlans[measurand], seeds)) {
      const share = named / n;
      const what = faults.length ? faults.join(" and ") : "healthy";
      if (faults.length === 0) expect(share, what).toBeLessThanOrEqual(0.02);
      else expect(share, what).toBeGreaterThanOrEqual(faults.length === 1 ? 0.95 : 0.9);
    }
  }, 300_000);
});
