import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { methodLibrary } from "../methods/library";
import { resultsOf } from "../methods/methodWords";
import { colourWords, endPointColours, titrationColour } from "./endPoint";
import { canPractise } from "./practiceRun";
import {
  colourOn,
  developed,
  endOf,
  markSeen,
  practiceWater,
  shownOn,
  smallestDose,
  tipAt,
  turned,
} from "./practiceWater";
import { libraryMethod, RunPlayer } from "./runPlayer";

const scale = [
  { value: 0, colour: "#ffffff" },
  { value: 2, colour: "#888888" },
  { value: 4, colour: "#000000" },
];

describe("water to practise with", () => {
  it("is the same for the same seed, and another for another", () => {
    const method = libraryMethod("oxygen-drops");
    expect(practiceWater(method, "a")).toEqual(practiceWater(method, "a"));
    expect(practiceWater(method, "a").held).not.toEqual(practiceWater(method, "b").held);
  });

  it("holds of every result something that its method can show", () => {
    for (const method of methodLibrary.filter(canPractise))
      fc.assert(
        fc.property(fc.string(), (seed) => {
          const { held } = practiceWater(method, seed);
          const { measure, range } = method;
          for (const { parameter } of resultsOf(method)) {
            const steps =
              measure.technique === "strip"
                ? measure.pads.find((p) => p.parameter === parameter)?.steps
                : measure.technique === "comparator"
                  ? measure.scales.flatMap((s) => s.steps)
                  : undefined;
            const values = steps?.map((s) => s.value) ?? [range.low, range.high];
            expect(held[parameter]).toBeGreaterThan(Math.min(...values));
            expect(held[parameter]).toBeLessThan(Math.max(...values));
          }
        }),
        { seed: 11, numRuns: 40 },
      );
  });
});

describe("what is seen of it", () => {
  it("lies between the colours of the steps around a value, and is that of the end beyond a scale", () => {
    expect(colourOn(scale, 3)).toEqual({ from: "#888888", to: "#000000", share: 0.5 });
    expect(colourOn(scale, 2)).toMatchObject({ to: "#888888", share: 1 });
    expect(colourOn(scale, -1)).toMatchObject({ from: "#ffffff", share: 0 });
    expect(colourOn(scale, 9)).toMatchObject({ from: "#000000", share: 0 });
  });

  // Source: a reaction of the first order; ln 20 lifetimes make 95 %.
  it("comes on with its wait: paler before, a little darker after", () => {
    expect(developed(0, 60)).toBe(0);
    expect(developed(30, 60)).toBeCloseTo((1 - Math.sqrt(0.05)) / 0.95, 10);
    expect(developed(60, 60)).toBeCloseTo(1, 10);
    expect(developed(120, 60)).toBeCloseTo(1.05, 2);
    expect(developed(5, 0)).toBe(1);
    expect(shownOn(scale, 4, developed(30, 60))).toBeCloseTo(3.27, 2);
  });

  it("turns at the end point of a titration and nowhere else", () => {
    for (const end of [6.4, 12, 31.7]) {
      expect(turned(end, end, 1)).toBe(0.5);
      expect(turned(end - 1, end, 1)).toBeLessThan(0.06);
      expect(turned(end + 1, end, 1)).toBeGreaterThan(0.94);
    }
    const colours = endPointColours(libraryMethod("hardness-burette"));
    expect([0, 0.5, 1].map((share) => colourWords(colours, share))).toEqual([
      "wine red",
      "violet, a last red in it",
      "pure blue",
    ]);
    expect(titrationColour(colours, 0.5)).toMatchObject({ from: colours.nearly.colour, share: 0 });
    expect(titrationColour(colours, 0.25)).toMatchObject({ from: colours.before.colour, share: 0.5 });
    expect(titrationColour(colours, 1)).toMatchObject({ to: colours.after.colour, share: 1 });
    expect(
      endPointColours({ result: { ...libraryMethod("hardness-burette").result, parameter: "co2" } }),
    ).toMatchObject({ after: { words: "pink" } });
  });

  it("is a mark that goes at the limit", () => {
    expect(markSeen(80, 80)).toBe(0.5);
    expect(markSeen(88, 80)).toBeLessThan(0.03);
    expect(markSeen(60, 80)).toBeGreaterThan(0.99);
  });

  // Source: the demo's table of chloride strips, read backwards.
  it("is a tip on a capillary strip, by the strip's own table", () => {
    const { measure } = libraryMethod("chloride-capillary");
    if (measure.technique !== "capillary") throw new Error("It is a capillary.");
    expect(tipAt(measure.table, 28)).toBe(1);
    expect(tipAt(measure.table, 41.5)).toBeCloseTo(1.5, 10);
    expect(tipAt(measure.table, 590)).toBe(8);
    expect(tipAt(measure.table, 5)).toBe(0);
    expect(tipAt(measure.table, 900)).toBe(8);
  });
});

describe("what a titration takes", () => {
  it("is the method's formula the other way round", () => {
    const end = (id: string, held: number) => endOf(new RunPlayer(libraryMethod(id)).state, held);
    expect(end("oxygen-drops", 6)).toBeCloseTo(6, 10);
    expect(end("oxygen-syringe", 8.4)).toBeCloseTo(8.4, 10);
    expect(end("hardness-digits", 130)).toBe(130);
    expect(end("phosphate-photometer", 1)).toBeNull();
  });

  it("leads back to the same result, whatever the method", () => {
    for (const method of methodLibrary.filter((m) => m.measure.technique === "burette")) {
      const run = new RunPlayer(method);
      const { result, measure } = method;
      const held = practiceWater(method, method.id).held[result.parameter] ?? 0;
      const end = endOf(run.state, held) ?? 0;
      expect(end, method.id).toBeGreaterThan(10 * smallestDose(method));
      if (measure.technique === "burette") expect(end, method.id).toBeLessThan(measure.burette_ml);
    }
  });
});
