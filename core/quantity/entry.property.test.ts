import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { readEntry } from "./entry";
import { formatNumber } from "./format";

const decimal = fc.tuple(fc.integer({ min: -999_999, max: 999_999 }), fc.integer({ min: 0, max: 4 }));

describe("what is shown can be typed back", () => {
  it("for any number with up to four decimals, its true minus sign and thin spaces included", () => {
    fc.assert(
      fc.property(decimal, ([digits, decimals]) => {
        const value = digits / 10 ** decimals;
        const entry = readEntry(formatNumber(value, decimals), "mV");
        expect(entry.kind).toBe("value");
        expect(entry.kind === "value" && entry.value).toBeCloseTo(value === 0 ? 0 : value, 9);
      }),
    );
  });

  it("with a decimal comma, unless exactly three digits follow it and no 0 leads", () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 99 }),
        fc.integer({ min: 1, max: 4 }),
        fc.nat(9999),
        (whole, length, tail) => {
          const fraction = String(tail).padStart(4, "0").slice(0, length);
          const entry = readEntry(`${whole},${fraction}`, "mV");
          if (length === 3 && whole > 0) expect(entry.kind).toBe("ambiguous");
          else expect(entry.kind === "value" && entry.value).toBeCloseTo(Number(`${whole}.${fraction}`), 9);
        },
      ),
    );
  });

  it("never throws and never invents a number, whatever is typed", () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 30 }), (text) => {
        const entry = readEntry(text, "pH");
        if (entry.kind === "value") expect(Number.isFinite(entry.value)).toBe(true);
        if (entry.kind === "invalid") expect(entry.message).not.toBe("");
        if (!/\d/.test(text)) expect(entry.kind).toBe("invalid");
      }),
      { numRuns: 2000 },
    );
  });

  it("keeps a censored value on its side and an interval in its order", () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 9999 }), fc.integer({ min: 1, max: 9999 }), (a, b) => {
        const [low, high] = [Math.min(a, b) / 100, Math.max(a, b) / 100];
        expect(readEntry(`<${low.toFixed(2)}`, "mg/L")).toMatchObject({ kind: "less-than", value: low });
        expect(readEntry(`>${high.toFixed(2)}`, "mg/L")).toMatchObject({ kind: "greater-than", value: high });
        const interval = readEntry(`${low.toFixed(2)}-${high.toFixed(2)}`, "mg/L");
        if (low < high) expect(interval).toMatchObject({ kind: "interval", low, high });
        else expect(interval.kind).toBe("invalid");
      }),
    );
  });
});
