import { describe, expect, it } from "vitest";
import type { Raw } from "../../methods/raw";
import { libraryMethod } from "../../simulation/runPlayer";
import type { Gathered, RunContext } from "./evaluate";
import { unsureBy } from "./unsure";

const plain: RunContext = { dilution: 1, strength: null, blank_ml: null, table: null, curve: null };

/** The parts by which the reading of a shipped method is unsure, by their names. */
function parts(
  id: string,
  value: number,
  raw: Raw,
  { context = {}, ...gathered }: Partial<Gathered> & { context?: Partial<RunContext> } = {},
  parameter?: string,
): Record<string, number> {
  const method = libraryMethod(id);
  const results =
    method.measure.technique === "strip"
      ? method.measure.pads.find((p) => p.parameter === parameter)
      : method.result;
  if (!results) throw new Error(`${id} gives no ${parameter}.`);
  const all: Gathered = {
    raw: { [results.parameter]: raw },
    drops: 0,
    volumes: { start: null, refills: [], end: null },
    points: [],
    ...gathered,
  };
  return Object.fromEntries(
    unsureBy(method, results, all, { ...plain, ...context }, value).map((part) => [part.what, part.u]),
  );
}
const titrated: Raw = { kind: "titrated" };
const number = (value: number): Raw => ({ kind: "number", value });

// Source of each: half-widths as rectangular limits, half-width / √3 (JCGM 100, 4.3.7).
const root3 = Math.sqrt(3);

describe("a reading is unsure by", () => {
  it("the last digit of a display", () => {
    expect(parts("phosphate-photometer", 0.8, number(0.8))).toEqual({
      "last digit of the display": expect.closeTo(0.005 / root3, 9),
    });
    // Of an absorbance, by what the curve makes of it.
    expect(parts("phosphate-curve", 1, number(0.212))).toEqual({
      "last digit of the display": expect.closeTo(0.0005 / 0.21 / root3, 9),
    });
  });

  it("half the way to the farther neighbour of a colour", () => {
    const at = (step: number): Raw => ({ kind: "colour", scale: 0, step, place: "at" });
    // Steps 0, 1, 2, 5, 10, 20, 50: beside 5 lie 2 and 10.
    expect(parts("nitrite-nitrate-strip", 5, at(3), {}, "nitrate")).toEqual({
      "between two steps of colour": expect.closeTo(2.5 / root3, 9),
    });
    expect(parts("nitrite-nitrate-strip", 50, at(6), {}, "nitrate")).toEqual({
      "between two steps of colour": expect.closeTo(15 / root3, 9),
    });
    expect(parts("nitrite-nitrate-strip", 50, at(9), {}, "nitrate")).toEqual({});
  });

  it("half a division of a capillary, as steep as its table is there", () => {
    const read = (value: number): Raw => ({ kind: "divisions", value });
    // Divisions of 0.2: a tenth of the way from 28 to 55, or of that from 415 to 590.
    expect(parts("chloride-capillary", 38.8, read(1.4))).toEqual({
      "half a division": expect.closeTo((0.1 * 27) / root3, 9),
    });
    expect(parts("chloride-capillary", 520, read(7.6))).toEqual({
      "half a division": expect.closeTo((0.1 * 175) / root3, 9),
    });
    const table = [
      { division: 1, value: 30 },
      { division: 2, value: 80 },
    ];
    expect(parts("chloride-capillary", 50, read(1.4), { context: { table } })).toEqual({
      "half a division": expect.closeTo((0.1 * 50) / root3, 9),
    });
    expect(parts("chloride-capillary", 590, { kind: "off-scale", side: "over" })).toEqual({});
  });

  it("both readings of a burette, half a drop, and the sample's volume", () => {
    const volumes = { start: 0, refills: [], end: 10 };
    expect(parts("alkalinity-burette", 100, titrated, { volumes })).toEqual({
      "burette, read twice": expect.closeTo((Math.SQRT2 * 0.02 * 10) / root3, 9),
      "half a drop at the end point": expect.closeTo((0.025 * 10) / root3, 9),
      "sample volume": expect.closeTo(0.5 / root3, 9),
    });
  });

  it("more for each mL where a blank is taken away, or where something was added back", () => {
    const volumes = { start: 0, refills: [], end: 10 };
    const drop = (more: Parameters<typeof parts>[3], value: number) =>
      parts("alkalinity-burette", value, titrated, { volumes, ...more })["half a drop at the end point"];
    // 8 of the 10 mL are the sample's, either way: 100 mg/L are 12.5 for each of them.
    expect(drop({ context: { blank_ml: 2 } }, 100)).toBeCloseTo((0.025 * 12.5) / root3, 9);
    expect(drop({ overshot: { back_ml: 2 } }, 100)).toBeCloseTo((0.025 * 12.5) / root3, 9);
    // Nothing left: nothing to be unsure of in proportion.
    expect(parts("alkalinity-burette", 0, titrated, { volumes, context: { blank_ml: 10 } })).toEqual({});
    expect(parts("alkalinity-burette", 0, titrated)).toEqual({});
  });

  it("whole drops and half a drop more", () => {
    const { measure } = libraryMethod("oxygen-drops");
    const each = measure.technique === "drops" ? measure.per_drop : 0;
    expect(parts("oxygen-drops", 7, titrated, { drops: 7 })).toEqual({
      "whole drops only": expect.closeTo(each / 2 / root3, 9),
      "half a drop at the end point": expect.closeTo(each / 2 / root3, 9),
      "sample volume": expect.closeTo(0.035 / root3, 9),
    });
  });

  it("how far gone and back again lie apart", () => {
    const depths: Raw = { kind: "depths", disappears: 180, reappears: 170 };
    expect(parts("secchi-disc", 175, depths)).toEqual({
      "between gone and back": expect.closeTo(5 / root3, 9),
    });
    const turned: Raw = { kind: "depths", disappears: 170, reappears: 180 };
    expect(parts("secchi-disc", 175, turned)).toEqual(parts("secchi-disc", 175, depths));
    expect(parts("transparency-tube", 43, { kind: "height", value: 43, bottom: false })).toEqual({
      "last division": expect.closeTo(0.5 / root3, 9),
    });
  });

  it("the curve of the day, the more the fewer its standards", () => {
    const curve = (n: number) =>
      Array.from({ length: n }, (_, i) => ({
        concentration: (3 * i) / (n - 1),
        signal: 0.002 + (0.21 * 3 * i) / (n - 1) + (i % 2 ? 0.002 : -0.002),
      }));
    const by = (n: number) =>
      parts("phosphate-curve", 1.5, number(0.317), { context: { curve: curve(n) } })["curve of the day"] ?? 0;
    expect(by(4)).toBeGreaterThan(by(10));
    expect(by(10)).toBeGreaterThan(0);
    // Two standards are a straight line whatever was wrong with them: nothing can be said.
    expect(parts("phosphate-curve", 1.5, number(0.317), { context: { curve: curve(2) } })).toEqual({});
  });
});

it("what is another in each replicate is told apart from what all of them share", () => {
  const method = libraryMethod("phosphate-curve");
  const gathered: Gathered = {
    raw: { [method.result.parameter]: number(0.317) },
    drops: 0,
    volumes: { start: null, refills: [], end: null },
    points: [],
  };
  const curve = [0, 1, 2, 3].map((c) => ({
    concentration: c,
    signal: 0.002 + 0.21 * c + (c % 2 ? 0.001 : 0),
  }));
  const each = (context: RunContext) =>
    unsureBy(method, method.result, gathered, context, 1.5).map((p) => p.each);
  expect(each(plain)).toEqual([true]);
  expect(each({ ...plain, curve })).toEqual([false]);
});
