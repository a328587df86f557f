import { describe, expect, it } from "vitest";
import { formulaParts } from "./formula";

/** What is set low in brackets. */
const marked = (text: string) =>
  formulaParts(text)
    .map((p) => (p.low ? `[${p.text}]` : p.text))
    .join("");

describe("formulas in a text", () => {
  it.each([
    ["Nitrate as NO3-N", "Nitrate as NO[3]-N"],
    ["Phosphate as P2O5, then as PO4-P", "Phosphate as P[2]O[5], then as PO[4]-P"],
    ["101 mg/L CaCO3", "101 mg/L CaCO[3]"],
    ["Thiosulfate (Na2S2O3) 0.025 N", "Thiosulfate (Na[2]S[2]O[3]) 0.025 N"],
  ])("%s", (plain, set) => expect(marked(plain)).toBe(set));

  it.each(["BP-1125", "B7-098 and E1", "lot NO3X-2", "SB-O2", "pH 7.02", "PO-77", "4.4267 of NO34", ""])(
    "leaves what is no formula: %s",
    (text) => expect(marked(text)).toBe(text),
  );
});
