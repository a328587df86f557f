import { describe, expect, it } from "vitest";
import { atLeast, atMost, within } from "./compare";
import {
  formatNumber,
  formatQuantity,
  formatSigned,
  formatSignificant,
  formatWithUncertainty,
} from "./format";
import { convert } from "./unit";

describe("numbers as they are shown", () => {
  it("carry a true minus sign, and none on a rounded zero", () => {
    expect(formatNumber(-4.62, 1)).toBe("−4.6");
    expect(formatNumber(-0.04, 1)).toBe("0.0");
    expect(formatNumber(Number.NaN, 1)).toBe("–");
  });
  it("carry thin spaces from five digits on", () => {
    expect(formatNumber(-12890.04, 1)).toBe("−12\u202f890.0");
    expect(formatNumber(1413, 0)).toBe("1413");
  });
  it("carry their unit and sign", () => {
    expect(formatQuantity(7.018, "pH")).toBe("pH 7.02");
    expect(formatQuantity(-4.6, "mV")).toBe("−4.6 mV");
    expect(formatSigned(0.04, 2)).toBe("+0.04");
    expect(formatSigned(-0.001, 2)).toBe("0.00");
  });
  it("round to significant figures", () => {
    expect(formatSignificant(1.2159, 3)).toBe("1.22");
    expect(formatSignificant(12890, 3)).toBe("12\u202f900");
    expect(formatSignificant(0.000123, 2)).toBe("0.00012");
    expect(formatSignificant(0, 3)).toBe("0");
  });
  // Source: GUM 7.2.6: two figures of the uncertainty, and the value to the same place.
  it.each([
    [0.0248337, 0.0000301, "0.024834 ± 0.000030"],
    [1002.7, 0.836, "1002.70 ± 0.84"],
    [8.01, 0.0996, "8.01 ± 0.10"],
    [12345, 320, "12\u202f345 ± 320"],
    [0.025, 0, "0.02500"],
  ])("with their uncertainty: %f, %f", (value, uncertainty, text) => {
    expect(formatWithUncertainty(value, uncertainty)).toBe(text);
  });
});

describe("units", () => {
  it("convert within a quantity only", () => {
    expect(convert(1.32, "mS/cm", "µS/cm")).toBeCloseTo(1320, 9);
    expect(convert(1, "mV", "°C")).toBeUndefined();
  });
});

describe("limits", () => {
  it("are met by a sum that binary arithmetic makes a hair too large", () => {
    expect(atMost(0.1 + 0.2, 0.3)).toBe(true);
    expect(atLeast(0.3 - 0.1, 0.2)).toBe(true);
    expect(within(0.3000001, 0, 0.3)).toBe(false);
  });
});
