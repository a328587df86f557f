import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { formatNumber } from "./format";
import { inHouseNumbers, withHouseNumbers } from "./houseNumbers";

describe("the numbers of a paper", () => {
  it.each([
    ["7.42 ± 0.05", "7,42 ± 0,05"],
    ["pH 7.42.", "pH 7,42."],
    ["−4.6 mV (limit 15)", "−4,6 mV (limit 15)"],
    ["<0.03 mg/L, 98.4 %", "<0,03 mg/L, 98,4 %"],
    ["12\u2009890.0 µS/cm", "12\u2009890,0 µS/cm"],
    ["0.01–0.05", "0,01–0,05"],
  ])("%s is %s with a comma", (text, expected) => {
    expect(inHouseNumbers(text, "comma")).toBe(expected);
    expect(inHouseNumbers(text, "point")).toBe(text);
  });

  it.each([
    "Brintel 0.2.0",
    "27 Nov 2026, 13:40",
    "pond-2.5.csv",
    "10.1000/182",
    "B7.31a",
    "sha256 9f.12",
    "1.2.3.4",
    "in 3 parts. 4 lines",
  ])("%s is no number and stays", (text) => {
    expect(inHouseNumbers(text, "comma")).toBe(text);
  });

  it("are all found, whatever they are", () => {
    fc.assert(
      fc.property(
        fc.double({ min: -1e7, max: 1e7, noNaN: true }),
        fc.integer({ min: 1, max: 5 }),
        (value, decimals) => {
          const text = `It reads ${formatNumber(value, decimals)} mg/L.`;
          expect(inHouseNumbers(text, "comma")).toBe(text.replace(/\.(?=\d)/, ","));
        },
      ),
    );
  });

  it("are changed everywhere in a paper, and nothing else is", () => {
    const paper = { title: "Pond", rows: [["7.4", "5"]], points: [7.4], none: null, at: undefined };
    expect(withHouseNumbers(paper, "comma")).toEqual({ ...paper, rows: [["7,4", "5"]] });
    expect(withHouseNumbers(paper, "point")).toBe(paper);
  });
});
