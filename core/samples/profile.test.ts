import { describe, expect, it } from "vitest";
import { seededRandom } from "../quantity/random";
import { type ProfilePoint, profileSteps, usualScatter } from "./profile";

const point = (place: number, value: number, u = 0.5): ProfilePoint => ({
  site: `S${place}`,
  place,
  value,
  u,
});

describe("a profile along the water", () => {
  it("explains what the uncertainties explain", () => {
    // k is 1.960 for one pair; the root of 0.5² + 0.5² is 0.707.
    expect(profileSteps([point(2, 10), point(1, 11.38)])).toEqual([]);
    const [step] = profileSteps([point(1, 13), point(2, 10)]);
    expect(step).toMatchObject({ change: 3, upstream: { place: 2 }, downstream: { place: 1 } });
    expect(step?.explained).toBeCloseTo(1.386, 3);
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

/** A river of so many sites; below an inflow everything is higher by `size`, in standard uncertainties of one value. */
function river(random: () => number, size: number) {
  const normal = () => Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
  const sites = 5 + Math.floor(random() * 8);
  const place = 1 + Math.floor(random() * (sites - 1));
  const u = 0.1 + random();
  const ground = 5 + random() * 20;
  const points = Array.from({ length: sites }, (_, i) =>
    point(sites - i, ground + (i >= place ? size * u : 0) + u * normal(), u),
  );
  return { points, above: sites - place + 1, below: sites - place };
}

describe("two hundred rivers, with fixed seeds", () => {
  it("with an inflow twice beyond what is explained: the step is put between its neighbours in at least 95 %", () => {
    const random = seededRandom(41);
    let right = 0;
    for (let i = 0; i < 200; i++) {
      const { points, above, below } = river(random, 8 + random() * 6);
      const [step] = profileSteps(points);
      if (step?.upstream.place === above && step.downstream.place === below) right++;
    }
    expect(right).toBeGreaterThanOrEqual(190);
  });
  it("without an inflow: none is claimed in at least 95 %", () => {
    const random = seededRandom(42);
    let none = 0;
    for (let i = 0; i < 200; i++) if (profileSteps(river(random, 0).points).length === 0) none++;
    expect(none).toBeGreaterThanOrEqual(190);
  });
});
