import { describe, expect, it } from "vitest";
import { readEntry } from "./entry";

describe("readEntry", () => {
  it.each([
    ["7.02", "pH", 7.02],
    ["7,4", "pH", 7.4],
    ["0,166", "mg/L", 0.166],
    ["-0,050", "mV", -0.05],
    ["  -4.6 ", "mV", -4.6],
    ["−4.6", "mV", -4.6],
    ["1.32 mS", "µS/cm", 1320],
    ["1.32 mS/cm", "µS/cm", 1320],
    ["12,890.5", "µS/cm", 12890.5],
    ["1,320,000", "µS/cm", 1320000],
    ["101.3 kPa", "hPa", 1013],
    ["20 °C", "°C", 20],
    ["20 C", "°C", 20],
    ["7.1 pH", "pH", 7.1],
    ["0,1766 V", "mV", 176.6],
    [".5", "mg/L", 0.5],
  ] as const)("understands %s in %s as %d", (text, unit, value) => {
    const entry = readEntry(text, unit);
    expect(entry.kind).toBe("value");
    expect(entry.kind === "value" && entry.value).toBeCloseTo(value, 9);
  });

  it("keeps the decimals as typed in what it says it understood", () => {
    expect(readEntry("7,40", "pH")).toMatchObject({ understood: "7.40 pH" });
    expect(readEntry("-4.6", "mV")).toMatchObject({ understood: "−4.6 mV" });
  });

  it("asks when a comma can be read two ways", () => {
    expect(readEntry("1,320", "µS/cm")).toMatchObject({ kind: "ambiguous", choices: [1320, 1.32] });
  });

  it("knows censored, approximate and interval values", () => {
    expect(readEntry("<0.03", "mg/L")).toMatchObject({ kind: "less-than", value: 0.03 });
    expect(readEntry("> 12", "mg/L")).toMatchObject({ kind: "greater-than", value: 12 });
    expect(readEntry("~8", "pH")).toMatchObject({ kind: "approximate", value: 8 });
    expect(readEntry("0.2-0.5", "mg/L")).toMatchObject({ kind: "interval", low: 0.2, high: 0.5 });
    expect(readEntry("0,2 – 0,5", "mg/L")).toMatchObject({ kind: "interval", low: 0.2, high: 0.5 });
  });

  it.each([
    ["", "pH", "Type a value."],
    ["seven", "pH", "not a number"],
    ["7.0.2", "pH", "not a number"],
    ["7 mV", "pH", "“mV” does not fit here. This entry is in pH."],
    ["7 furlongs", "pH", "not a unit"],
    ["0.5-0.2", "mg/L", "smaller to a larger"],
  ] as const)("refuses “%s” in %s with a sentence", (text, unit, words) => {
    const entry = readEntry(text, unit);
    expect(entry.kind).toBe("invalid");
    expect(entry.kind === "invalid" && entry.message).toContain(words);
  });
});
