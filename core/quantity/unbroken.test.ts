import { describe, expect, it } from "vitest";
import { unbroken } from "./unbroken";

/** The pieces between which a line may end. */
const pieces = (text: string) => unbroken(text).split(" ");

describe("a number and what follows it", () => {
  it("stay on one line: a unit, a month, what is counted", () => {
    expect(pieces("Conductivity 718 µS/cm")).toEqual(["Conductivity", "718\u00a0µS/cm"]);
    expect(pieces("0 mL left, at this rate until Tue 1 Dec")).toContain("0\u00a0mL");
    expect(pieces("0 mL left, at this rate until Tue 1 Dec")).toContain("1\u00a0Dec");
    expect(pieces("slope 100.0 %, offset −8.0 mV")).toEqual([
      "slope",
      "100.0\u00a0%,",
      "offset",
      "−8.0\u00a0mV",
    ]);
    expect(pieces("Calibrate 6 meters")).toEqual(["Calibrate", "6\u00a0meters"]);
  });

  it("may be parted where the word is long, and words are left alone", () => {
    expect(pieces("4 calibrations")).toEqual(["4", "calibrations"]);
    for (const text of ["Order or prepare:", "P-2 and K-718-09 today", "C-1 M-1 P-1"]) {
      expect(unbroken(text)).toBe(text);
    }
  });

  it("are not changed again", () => {
    const once = unbroken("12.4 mg/L at 20 °C");
    expect(unbroken(once)).toBe(once);
  });
});
