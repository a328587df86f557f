import { describe, expect, it } from "vitest";
import { arrivalFindings } from "./arrival";

describe("the temperature on receipt", () => {
  // Common practice: at most 6 °C, microbiology below 10 °C.
  it.each([
    [6, 6, null],
    [6.1, 6, "warm-on-arrival"],
    [10, 10, null],
    [10.1, 10, "warm-on-arrival"],
    [-2, 6, null],
    [null, 6, "arrival-not-measured"],
    [30, null, null],
    [null, null, null],
  ])("%s °C where %s °C is allowed: %s", (measured, allowed, rule) => {
    const [found, ...more] = arrivalFindings(measured, allowed);
    expect(found?.rule ?? null).toBe(rule);
    expect(more).toEqual([]);
    if (found) expect([found.severity, found.action !== ""]).toEqual(["qualify", true]);
  });

  it("is said with both figures", () => {
    expect(arrivalFindings(9.4, 6)[0]).toMatchObject({ measured: "9.4 °C", limit: "6 °C" });
  });
});
