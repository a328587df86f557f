import fc from "fast-check";
import { describe, expect, it } from "vitest";
import {
  alkalinityByTitration,
  alkalinityParts,
  chlorideByTitration,
  effectiveSample,
  hardnessByTitration,
  lowAlkalinity,
  oxygenByTitration,
} from "./titration";

describe("dissolved oxygen by iodine", () => {
  it("is 1 mg/L for each mL of 0.0250 N in 200 mL of water", () => {
    // Source: Standard Methods 4500-O C, 5a.
    expect(oxygenByTitration(1, 0.025, 200)).toBeCloseTo(1, 12);
    expect(oxygenByTitration(8.15, 0.025, 200)).toBeCloseTo(8.15, 12);
    // Half the water shows half the oxygen for the same titrant twice as strong in it.
    expect(oxygenByTitration(8.15, 0.025, 100)).toBeCloseTo(16.3, 12);
  });

  it("counts the water that the reagents pushed out of the bottle", () => {
    // Source: Standard Methods 4500-O C, 4: 200 · 300 / (300 − 2) = 201 mL hold 200 mL of the water.
    expect(effectiveSample(201, 300, 2)).toBeCloseTo(199.66, 2);
    expect(effectiveSample((200 * 300) / 298, 300, 2)).toBeCloseTo(200, 9);
    expect(effectiveSample(100)).toBe(100);
    expect(effectiveSample(100, undefined, 2)).toBe(100);
  });
});

describe("alkalinity by acid", () => {
  it("is the acid in mg of calcium carbonate", () => {
    // Source: Standard Methods 2320 B, 5a: A · N · 50 000 / mL.
    expect(alkalinityByTitration(10, 0.02, 100)).toBeCloseTo(100, 12);
    expect(alkalinityByTitration(3.3, 0.0204, 50)).toBeCloseTo(67.32, 9);
  });

  it("of little takes the second end point 0.30 pH further into account", () => {
    // Source: Standard Methods 2320 B, 5b: (2B − C) · N · 50 000 / mL.
    expect(lowAlkalinity(1, 1.3, 0.02, 200)).toBeCloseTo(3.5, 12);
    // Twice the acid for 0.30 pH more: all of it was for the water, none for the alkalinity.
    expect(lowAlkalinity(1, 2, 0.02, 200)).toBe(0);
  });

  it.each([
    // Source: Standard Methods 2320, table 2320:II, one line each.
    ["P = 0", 0, 100, { hydroxide: 0, carbonate: 0, bicarbonate: 100 }],
    ["P < T/2", 20, 100, { hydroxide: 0, carbonate: 40, bicarbonate: 60 }],
    ["P = T/2", 50, 100, { hydroxide: 0, carbonate: 100, bicarbonate: 0 }],
    ["P > T/2", 70, 100, { hydroxide: 40, carbonate: 60, bicarbonate: 0 }],
    ["P = T", 100, 100, { hydroxide: 100, carbonate: 0, bicarbonate: 0 }],
  ])("has its parts where %s", (_, p, t, parts) => {
    expect(alkalinityParts(p, t)).toEqual(parts);
  });

  it("has no part below nothing where half the whole cannot be written", () => {
    expect(alkalinityParts(3e-323, 5.4e-323).bicarbonate).toBe(0);
  });

  it("has parts that are never negative and make up the whole", () => {
    const mg = fc.double({ min: 0, max: 1000, noNaN: true });
    fc.assert(
      fc.property(mg, mg, (p, t) => {
        const { hydroxide, carbonate, bicarbonate } = alkalinityParts(Math.min(p, t), t);
        expect(Math.min(hydroxide, carbonate, bicarbonate)).toBeGreaterThanOrEqual(0);
        expect(hydroxide + carbonate + bicarbonate).toBeCloseTo(t, 6);
      }),
    );
  });
});

describe("hardness and chloride", () => {
  it("are what the titrant took above the blank", () => {
    // Source: Standard Methods 2340 C, 4.
    expect(hardnessByTitration(12.5, 0, 1, 50)).toBeCloseTo(250, 12);
    expect(hardnessByTitration(12.6, 0.1, 1, 50)).toBeCloseTo(250, 12);
    // Source: Standard Methods 4500-Cl B, 5: 1.00 mL of 0.0141 N is 500 µg.
    expect(chlorideByTitration(1.2, 0.2, 0.0141, 100)).toBeCloseTo(4.998, 3);
    expect(chlorideByTitration(10, 0.2, 0.0141, 100)).toBeCloseTo(48.98, 2);
  });

  it("are nothing where the blank took as much", () => {
    expect(hardnessByTitration(0.2, 0.2, 1, 50)).toBe(0);
    expect(chlorideByTitration(0.2, 0.2, 0.0141, 100)).toBe(0);
  });
});
