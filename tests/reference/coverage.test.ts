import { describe, expect, it } from "vitest";
import { gaussian, seededRandom } from "../../core/quantity/random";
import { standardise } from "../../core/stock/standardised";

/**
 * Standardisations whose truth is known: the standard, the pipette and the burette are each off by what they may be, once
 * for all portions; the end is found anew each time. Returns in how many of a hundred agreed ones the stated interval holds
 * the truth.
 */
function coverage(end_ml: number, portions: number, trials: number): number {
  const random = seededRandom(portions * 1000 + Math.round(end_ml * 1000));
  const triangular = (half: number) => (random() - random()) * half;
  const truth = 0.0248;
  const standard = { value: 0.025, uncertainty: 0.00002 };
  const glass = 0.03;
  let [held, agreed] = [0, 0];
  while (agreed < trials) {
    const really = standard.value + standard.uncertainty * gaussian(random);
    const took = (really * (20 + triangular(glass))) / truth + triangular(glass);
    const found = standardise(
      {
        standard,
        standard_ml: 20,
        titrant_ml: Array.from({ length: portions }, () => took + end_ml * gaussian(random)),
        blank_ml: 0,
        pipette_within_ml: glass,
        burette_within_ml: glass,
        place: "bench",
      },
      "N",
    );
    if (!found?.accepted) continue;
    agreed++;
    if (Math.abs(found.value - truth) <= 2 * found.uncertainty) held++;
  }
  return (held / trials) * 100;
}

describe("the uncertainty of a standardisation, k = 2", () => {
  // Source: JCGM 101, by simulation; the glass triangular within its class.
  it.each([
    [0.005, 3],
    [0.01, 3],
    [0.02, 3],
    [0.03, 3],
    [0.02, 5],
    [0.03, 5],
  ])("holds the truth in 93 to 97 of a hundred, ends found to %f mL in %i portions", (end_ml, portions) => {
    const percent = coverage(end_ml, portions, 4000);
    expect(percent).toBeGreaterThan(93);
    expect(percent).toBeLessThan(97);
  });
});
