import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { agreementOf } from "../judgement/agreement";
import { resolveDuplicates } from "../judgement/duplicates";

const relative = (values: readonly number[], percent: number) => ({
  meter: resolveDuplicates(values, { kind: "relative", limit: percent }).pair,
  analysis: agreementOf(
    values.map((value) => ({ kind: "value", value })),
    { kind: "relative", percent, detection_limit: null },
  ).pair,
});

// A relative limit is of the pair's mean: 40 CFR 136, relative percent difference.
describe("duplicates of meters and of analyses", () => {
  it("agree by one rule: of 1.00, 1.25 and 1.51 at 20 % it is the last two, though the first are closer", () => {
    expect(relative([1.0, 1.25, 1.51], 20)).toEqual({ meter: [1, 2], analysis: [1, 2] });
  });

  it("agree by one rule, whatever is measured", () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: 0.01, max: 100, noNaN: true }), { minLength: 2, maxLength: 4 }),
        fc.integer({ min: 1, max: 60 }),
        (values, percent) => {
          const { meter, analysis } = relative(values, percent);
          expect(meter).toEqual(analysis);
        },
      ),
    );
  });
});
