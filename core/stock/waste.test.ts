import { describe, expect, it } from "vitest";
import { collected, fillOf, fullShare, keepApart, wasteOfPortion } from "./waste";

describe("what a method leaves", () => {
  it("is the sample with its reagents, without the standards of a curve", () => {
    const sample = { volume_ml: 10 };
    const powder = { per_run: 1, unit: "portion" };
    const acid = { per_run: 2, unit: "mL" };
    const standard = { per_run: 40, unit: "mL", for_curve: true };
    expect(wasteOfPortion({ sample, materials: [acid, standard] })).toBe(12);
    expect(wasteOfPortion({ sample, materials: [powder] })).toBe(10);
  });
});

describe("a container", () => {
  it("is full at nine tenths, at the rate at which it was filled", () => {
    const fill = fillOf(1000, 450, "2026-03-01", "2026-03-31");
    expect(fill.share).toBe(0.45);
    // 450 mL in 30 days: 450 of the 900 left last 30 days more.
    expect(fill.forecast?.lasts_until).toBe("2026-04-30");
  });
  it("that is full is full today, and an empty one says nothing", () => {
    expect(fillOf(500, 460, "2026-03-01", "2026-03-31").forecast?.lasts_until).toBe("2026-03-31");
    expect(fillOf(500, 0, "2026-03-01", "2026-03-31").forecast).toBeNull();
    expect(fillOf(500, 500 * fullShare, "2026-03-01", "2026-03-31").share).toBe(fullShare);
  });
  it("of every stream says what must not meet in it", () => {
    for (const stream of collected) expect(keepApart[stream]).toMatch(/\.$/);
  });
});
