import { describe, expect, it } from "vitest";
import { methodLibrary } from "../../methods/library";
import type { Method } from "../../methods/method";
import type { Raw } from "../../methods/raw";
import type { Found } from "../../quantity/found";
import { libraryMethod } from "../../simulation/runPlayer";
import { evaluate, type Gathered, type RunContext } from "./evaluate";

/** A shipped method with another way of measuring. */
const measuring = (id: string, change: Record<string, unknown>): Method => {
  const method = libraryMethod(id);
  return { ...method, measure: { ...method.measure, ...change } as Method["measure"] };
};

const titrated: Raw = { kind: "titrated" };
const number = (value: number): Raw => ({ kind: "number", value });
const colour = (step: number, place: "at" | "between" | "below" | "above" = "at"): Raw => ({
  kind: "colour",
  scale: 0,
  step,
  place,
});

/** One result of one replicate: of the raw reading, and whatever else was gathered. */
function evaluated(
  method: Method,
  raw: Raw,
  { context = {}, ...gathered }: Partial<Gathered> & { context?: Partial<RunContext> } = {},
  parameter = method.result.parameter,
) {
  const plain: RunContext = { dilution: 1, strength: null, blank_ml: null, table: null, curve: null };
  const nothing: Gathered = {
    raw: { [parameter]: raw },
    drops: 0,
    volumes: { start: null, refills: [], end: null },
    points: [],
  };
  const result = evaluate(method, { ...nothing, ...gathered }, { ...plain, ...context })[parameter];
  if (!result) throw new Error(`Nothing was made of ${parameter}.`);
  return result;
}
const foundIn = (...given: Parameters<typeof evaluated>): Found | string => {
  const result = evaluated(...given);
  return result.ok ? result.value.found : result.error.code;
};
const workingIn = (...given: Parameters<typeof evaluated>): string[] => {
  const result = evaluated(...given);
  return result.ok ? result.value.working : [];
};
const value = (v: number) => ({ kind: "value", value: expect.closeTo(v, 6) });
const burette = (end: number, more: object = {}) => ({ volumes: { start: 0, refills: [], end, ...more } });

describe("a photometer", () => {
  const method = libraryMethod("phosphate-photometer");

  it("gives what its display shows, times the factor of the method", () => {
    expect(foundIn(method, number(0.84))).toEqual(value(0.84));
    const asPhosphorus = measuring("phosphate-photometer", { factor: 0.3261 });
    expect(foundIn(asPhosphorus, number(1))).toEqual(value(0.3261));
    expect(workingIn(asPhosphorus, number(1))[0]).toContain("1.000 · 0.3261 = 0.3261");
  });

  it("says no more than below and above beyond the range of the method", () => {
    expect(foundIn(method, number(0.04))).toEqual({ kind: "below", limit: 0.05 });
    expect(foundIn(method, number(0.05))).toEqual(value(0.05));
    expect(foundIn(method, number(2))).toEqual(value(2));
    expect(foundIn(method, number(2.01))).toEqual({ kind: "above", limit: 2 });
    expect(foundIn(method, number(-0.01))).toEqual({ kind: "below", limit: 0.05 });
  });

  it("that shows only that it is off its scale is no number", () => {
    expect(foundIn(method, { kind: "off-scale", side: "over" })).toEqual({ kind: "above", limit: 2 });
    expect(foundIn(method, { kind: "off-scale", side: "under" })).toEqual({ kind: "below", limit: 0.05 });
  });

  it("with a dilution is multiplied after the range was looked at, not before", () => {
    const diluted = { context: { dilution: 5 } };
    // 1.8 lies within the range; five times as much was in the sample.
    expect(foundIn(method, number(1.8), diluted)).toEqual(value(9));
    expect(foundIn(method, number(2.5), diluted)).toEqual({ kind: "above", limit: 10 });
    expect(foundIn(method, number(0.01), diluted)).toEqual({ kind: "below", limit: 0.25 });
    expect(workingIn(method, number(1.8), diluted).at(-1)).toBe("times the dilution factor 5.000");
  });
});

describe("a photometer with a curve", () => {
  const method = libraryMethod("phosphate-curve");

  it("goes back from the absorbance to the concentration", () => {
    // (0.212 − 0.002) / 0.21
    expect(foundIn(method, number(0.212))).toEqual(value(1));
    expect(foundIn(method, number(0.002))).toEqual({ kind: "below", limit: 0.03 });
  });

  it("makes an absorbance of a percentage of the light", () => {
    const byLight = measuring("phosphate-curve", { signal: "percent-transmittance" });
    // Source: A = −log10 T; 61.376 % of the light is 0.212 A.
    expect(foundIn(byLight, number(61.376))).toEqual({ kind: "value", value: expect.closeTo(1, 4) });
    expect(workingIn(byLight, number(61.376))[0]).toContain("log10");
    expect(foundIn(byLight, number(0))).toBe("no-light");
  });

  it("goes by the curve of the day where there is one, and never beyond its top standard", () => {
    const curve = [0, 1, 2, 3].map((concentration) => ({
      concentration,
      // Twice as steep as the method's own curve.
      signal: 0.01 + 0.42 * concentration + (concentration % 2 ? 0.0004 : -0.0004),
    }));
    const found = foundIn(method, number(0.85), { context: { curve } });
    expect(found).toEqual({ kind: "value", value: expect.closeTo(2, 2) });
    expect(foundIn(method, number(1.5), { context: { curve } })).toEqual({ kind: "above", limit: 3 });
    expect(foundIn(method, number(0.01), { context: { curve } })).toMatchObject({ kind: "below" });
    expect(workingIn(method, number(0.85), { context: { curve } })[0]).toContain("4 standards up to 3.000");
  });
});

describe("a colour", () => {
  const strip = libraryMethod("nitrite-nitrate-strip");
  const nitrate = (raw: Raw) => foundIn(strip, raw, {}, "nitrate");

  it("is a step, what lies between two, or beyond an end", () => {
    expect(nitrate(colour(3))).toEqual({ kind: "value", value: 5 });
    expect(nitrate(colour(3, "between"))).toEqual({ kind: "interval", low: 5, high: 10 });
    expect(nitrate(colour(6, "above"))).toEqual({ kind: "above", limit: 50 });
    expect(nitrate(colour(2, "below"))).toEqual({ kind: "below", limit: 2 });
  });

  it("of the step 0 is less than the first step that is not", () => {
    expect(nitrate(colour(0))).toEqual({ kind: "below", limit: 1 });
    expect(nitrate(colour(0, "below"))).toEqual({ kind: "below", limit: 1 });
    expect(nitrate(colour(0, "between"))).toEqual({ kind: "interval", low: 0, high: 1 });
  });

  it("that the scale does not have is refused", () => {
    expect(nitrate(colour(7))).toBe("no-such-step");
    expect(nitrate(colour(6, "between"))).toBe("no-such-step");
    expect(foundIn(libraryMethod("ph-vial"), { ...colour(2), scale: 1 } as Raw)).toBe("no-such-scale");
  });

  it("is read pad by pad, each with its own scale", () => {
    const both = evaluate(
      strip,
      {
        raw: { nitrite: colour(1), nitrate: colour(1) },
        drops: 0,
        volumes: { start: null, refills: [], end: null },
        points: [],
      },
      { dilution: 1, strength: null, blank_ml: null, table: null, curve: null },
    );
    expect(both.nitrite).toMatchObject({ value: { found: { value: 0.15 } } });
    expect(both.nitrate).toMatchObject({ value: { found: { value: 1 } } });
    // What was not read yet is not there.
    const one = { raw: { nitrite: colour(1) }, drops: 0, points: [] };
    const context = { dilution: 1, strength: null, blank_ml: null, table: null, curve: null };
    expect(
      Object.keys(evaluate(strip, { ...one, volumes: { start: null, refills: [], end: null } }, context)),
    ).toEqual(["nitrite"]);
  });

  it("is named by what is printed beside it", () => {
    const printed = measuring("ph-vial", {
      scales: [
        {
          name: "card",
          steps: [
            { value: 2.26, colour: "#ffffff", printed: "10 NO3" },
            { value: 5.65, colour: "#aa0000" },
          ],
        },
      ],
    });
    expect(workingIn(printed, colour(0))[0]).toBe("card: like the step 10 NO3 (2.260 pH)");
    expect(workingIn(printed, colour(0, "between"))[0]).toBe("card: between the steps 2.26 and 5.65 pH");
    expect(workingIn(printed, colour(1, "above"))[0]).toBe("card: darker than the step 5.65 pH");
    expect(workingIn(printed, colour(0, "below"))[0]).toContain("lighter than");
  });
});

describe("a capillary strip", () => {
  const method = libraryMethod("chloride-capillary");
  const read = (v: number): Raw => ({ kind: "divisions", value: v });

  it("goes by the table of the lot, and by the method's where the lot has none", () => {
    expect(foundIn(method, read(2.5))).toEqual(value(73));
    const table = [
      { division: 2, value: 60 },
      { division: 3, value: 100 },
    ];
    expect(foundIn(method, read(2.5), { context: { table } })).toEqual(value(80));
    expect(workingIn(method, read(2.5), { context: { table } })[0]).toBe("2.5 divisions by the lot's table");
    expect(foundIn(method, read(3.5), { context: { table } })).toEqual({ kind: "above", limit: 100 });
  });
});

describe("a burette", () => {
  it("gives oxygen of the water that was in the bottle", () => {
    const method = libraryMethod("oxygen-burette");
    // 8.15 · 0.025 · 8000 / (201 · 298 / 300)
    expect(foundIn(method, titrated, burette(8.15))).toEqual(value((8.15 * 0.025 * 8000) / 199.66));
    // A titrant that was standardised a little weaker finds a little less.
    const weaker = { ...burette(8.15), context: { strength: 0.0244 } };
    expect(foundIn(method, titrated, weaker)).toEqual(value((8.15 * 0.0244 * 8000) / 199.66));
  });

  it("gives alkalinity above the blank of the day, with its parts where pH 8.3 was read too", () => {
    const method = libraryMethod("alkalinity-burette");
    expect(foundIn(method, titrated, burette(10))).toEqual(value(100));
    expect(foundIn(method, titrated, { ...burette(10), context: { blank_ml: 0.1 } })).toEqual(value(99));
    expect(workingIn(method, titrated, burette(10, { first: 2 })).at(-1)).toBe(
      "hydroxide 0, carbonate 40.00, bicarbonate 60.00 mg/L CaCO3",
    );
    expect(workingIn(method, titrated, burette(10))).toHaveLength(2);
  });

  it("gives hardness and chloride by their own formulas", () => {
    // 12.5 mL of 1 mg/mL, for the sample of the method.
    const hardness = libraryMethod("hardness-burette");
    const sample = hardness.measure.technique === "burette" ? hardness.measure.sample_ml : 0;
    const blank = hardness.measure.technique === "burette" ? hardness.measure.blank_ml : 0;
    const context = { strength: 1 };
    expect(foundIn(hardness, titrated, { ...burette(12.5), context })).toEqual(
      value(((12.5 - blank) * 1000) / sample),
    );
    expect(foundIn(libraryMethod("chloride-burette"), titrated, burette(10.2))).toEqual(
      value((10 * 0.0141 * 35_450) / 100),
    );
  });

  it("that was overshot and brought back counts what the sample took", () => {
    const method = libraryMethod("alkalinity-burette");
    const overshot = { back_ml: 0.4 };
    expect(foundIn(method, titrated, { ...burette(10.4), overshot })).toEqual(value(100));
    expect(workingIn(method, titrated, { ...burette(10.4), overshot })[0]).toBe(
      "10.40 mL given, 0.40 mL added back",
    );
    expect(foundIn(method, titrated, { ...burette(0.3), overshot })).toBe("backwards");
  });

  it("that is not read at both ends says so", () => {
    expect(foundIn(libraryMethod("oxygen-burette"), titrated)).toBe("not-read");
  });

  it("that took no more than its blank finds less than the method can", () => {
    expect(foundIn(libraryMethod("chloride-burette"), titrated, burette(0.1))).toEqual({
      kind: "below",
      limit: 1.5,
    });
  });
});

describe("what is counted", () => {
  it("is drops of so much each, less those added back", () => {
    const method = measuring("oxygen-drops", { per_drop: 1 });
    expect(foundIn(method, titrated, { drops: 7 })).toEqual(value(7));
    expect(foundIn(method, titrated, { drops: 7, context: { dilution: 2 } })).toEqual(value(14));
    expect(foundIn(method, titrated, { drops: 9, overshot: { back_ml: 2 } })).toEqual(value(7));
    expect(workingIn(method, titrated, { drops: 9, overshot: { back_ml: 2 } })[0]).toBe(
      "9 drops, 2 added back",
    );
    expect(foundIn(method, titrated, { drops: 1, overshot: { back_ml: 2 } })).toBe("backwards");
  });

  it("is units of a syringe's scale, over its refills", () => {
    const refilled = { volumes: { start: 0, refills: [{ before: 9.6, after: 0.2 }], end: 1.4 } };
    expect(foundIn(libraryMethod("oxygen-syringe"), titrated, refilled)).toEqual(value(10.8));
  });

  it("is digits of a counter times their multiplier", () => {
    expect(foundIn(measuring("hardness-digits", { multiplier: 1.25 }), number(140))).toEqual(value(175));
    expect(foundIn(libraryMethod("hardness-digits"), titrated)).toBe("wrong-kind");
  });
});

describe("a curve of pH", () => {
  // From 8 down to 3.4, passing 4.5 halfway between 9 and 10 mL.
  const points = [
    [0, 8],
    [3, 6.9],
    [6, 6.4],
    [8, 5.9],
    [9, 5.0],
    [10, 4.0],
    [11, 3.6],
    [12, 3.4],
  ].map(([ml = 0, ph = 0]) => ({ ml, ph }));
  const method = (by: "gran" | "inflection" | "fixed") => measuring("alkalinity-curve", { evaluate: by });

  it("ends at the pH of the method, between the points beside it", () => {
    expect(foundIn(method("fixed"), titrated, { points })).toEqual(value(95));
    expect(workingIn(method("fixed"), titrated, { points })[0]).toBe("fixed end point: end point 9.50 mL");
  });

  it("ends where it is steepest", () => {
    const found = foundIn(method("inflection"), titrated, { points });
    expect(found).toMatchObject({ kind: "value" });
    expect(typeof found === "object" && found.kind === "value" && found.value).toBeGreaterThan(85);
    expect(typeof found === "object" && found.kind === "value" && found.value).toBeLessThan(105);
  });

  it("goes by Gran's function, and says by which points", () => {
    expect(workingIn(method("gran"), titrated, { points })[0]).toMatch(/^Gran \(.* points\): end point/);
    expect(foundIn(method("gran"), titrated, { points: points.slice(0, 4) })).toBe("no-acid-branch");
  });

  it("goes by the strength of the lot where one was standardised", () => {
    const stronger = { points, context: { strength: 0.022 } };
    expect(foundIn(method("fixed"), titrated, stronger)).toEqual(value(104.5));
  });

  it("that has not come far enough says so", () => {
    expect(foundIn(method("fixed"), titrated, { points: points.slice(0, 4) })).toBe("not-reached");
  });
});

describe("what is seen", () => {
  it("is the mean of gone and back again", () => {
    const depths: Raw = { kind: "depths", disappears: 180, reappears: 170 };
    expect(foundIn(libraryMethod("secchi-disc"), depths)).toEqual(value(175));
  });

  it("is clearer than the tube is long where its bottom is still seen", () => {
    const tube = libraryMethod("transparency-tube");
    expect(foundIn(tube, { kind: "height", value: 60, bottom: true })).toEqual({ kind: "above", limit: 60 });
    expect(foundIn(tube, { kind: "height", value: 43, bottom: false })).toEqual(value(43));
  });

  it("is doses of so much each", () => {
    expect(foundIn(libraryMethod("turbidity-column"), number(7))).toEqual(value(35));
    expect(foundIn(libraryMethod("turbidity-column"), titrated)).toBe("wrong-kind");
  });
});

it("what is read in another way than the technique knows is refused, whatever the technique", () => {
  const odd: Raw = { kind: "depths", disappears: 1, reappears: 1 };
  const counted = ["burette", "syringe", "drops", "ph-endpoint", "visual"];
  const others = methodLibrary.filter((m) => !counted.includes(m.measure.technique));
  expect(others.length).toBeGreaterThan(10);
  for (const method of others) {
    const { measure } = method;
    const parameter =
      measure.technique === "strip" ? (measure.pads[0]?.parameter ?? "") : method.result.parameter;
    expect([method.id, foundIn(method, odd, {}, parameter)]).toEqual([method.id, "wrong-kind"]);
  }
});
