import { describe, expect, it } from "vitest";
import { profileTrial } from "../simulation/river";
import { type ProfilePoint, profileSteps, usualScatter } from "./profile";

const point = (place: number, value: number, u = 0.5): ProfilePoint => ({
  site: `S${place}`,
  place,
  value,
  u,
});

describe("a profile along the water", () => {
  it("explains what the uncertainties explain", () => {
    // k is 2.326 for one pair (two-sided 2 %); the root of 0.5² + 0.5² is 0.707.
    expect(profileSteps([point(2, 10), point(1, 11.64)])).toEqual([]);
    const [step] = profileSteps([point(1, 13), point(2, 10)]);
    expect(step).toMatchObject({ change: 3, upstream: { place: 2 }, downstream: { place: 1 } });
    expect(step?.explained).toBeCloseTo(1.645, 3);
  });
  it("says nothing of one place, or of none", () => {
    expect(profileSteps([])).toEqual([]);
    expect(profileSteps([point(1, 5)])).toEqual([]);
  });
});

describe("how much a place varies", () => {
  it("is its scaled median deviation, and never less than its last digit hides", () => {
    expect(usualScatter([9, 10, 12], 1)).toBeCloseTo(1.4826, 4);
    // One value far off moves it little.
    expect(usualScatter([9, 10, 10.5, 11, 90], 1)).toBeCloseTo(0.7413, 4);
    expect(usualScatter([7, 7, 7], 1)).toBeCloseTo(0.0289, 4);
  });
  it("is not known from two values", () => {
    expect(usualScatter([7, 8], 1)).toBeNull();
  });
});

describe("two hundred rivers, with fixed seeds", () => {
  it.each([41, 42, 43, 44, 45])(
    "seed %i: the inflow is put between its neighbours, and none is claimed where none is, in at least 95 %%",
    (seed) => {
      const { right, none } = profileTrial(seed);
      expect(right).toBeGreaterThanOrEqual(190);
      expect(none).toBeGreaterThanOrEqual(190);
    },
  );
});
