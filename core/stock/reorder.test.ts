import { describe, expect, it } from "vitest";
import { type BottleOf, runningOut } from "./reorder";

const bottle = (over: Partial<BottleOf> = {}): BottleOf => ({
  material: "Nitrate tests",
  unit: "tests",
  left: 5,
  taken: 20,
  since: "2026-10-30",
  ...over,
});
const today = "2026-11-27";

describe("what is to be ordered", () => {
  it("is what all bottles of a material together last for, at the rate they are used", () => {
    const [found, ...others] = runningOut([bottle(), bottle()], today, 14);
    expect(found).toMatchObject({
      material: "Nitrate tests",
      left: 10,
      per_week: 10,
      lasts_until: "2026-12-04",
    });
    expect(others).toEqual([]);
  });
  it("is said on the last day that leaves time for a delivery, and not a day sooner", () => {
    expect(runningOut([bottle(), bottle()], today, 7)).toHaveLength(1);
    expect(runningOut([bottle(), bottle()], today, 6)).toEqual([]);
  });
  it("counts a new bottle that nobody opened yet", () => {
    expect(runningOut([bottle(), bottle({ left: 100, taken: 0, since: null })], today, 14)).toEqual([]);
  });
  it("is never what nobody uses, or what nobody said the size of", () => {
    expect(runningOut([bottle({ taken: 0, since: null, left: 0 })], today, 365)).toEqual([]);
    expect(runningOut([bottle(), bottle({ left: null })], today, 365)).toEqual([]);
  });
  it("keeps materials of different names apart", () => {
    expect(
      runningOut([bottle({ left: 1 }), bottle({ material: "Starch", left: 100 })], today, 14).map(
        (m) => m.material,
      ),
    ).toEqual(["Nitrate tests"]);
  });
});
