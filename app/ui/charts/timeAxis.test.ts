import { describe, expect, it } from "vitest";
import { timeAxis, timeMarks } from "./timeAxis";

const at = (text: string) => Date.parse(text);
const iso = (marks: number[]) => marks.map((m) => new Date(m).toISOString());

describe("the marks of an axis of time", () => {
  it("stand at whole hours of the zone within a day", () => {
    expect(iso(timeMarks(at("2026-11-26T05:10:00Z"), at("2026-11-26T10:20:00Z"), "Asia/Kolkata"))).toEqual([
      "2026-11-26T05:30:00.000Z",
      "2026-11-26T06:30:00.000Z",
      "2026-11-26T07:30:00.000Z",
      "2026-11-26T08:30:00.000Z",
      "2026-11-26T09:30:00.000Z",
    ]);
  });

  it("stand at noon over days, so that a change of the clocks names no other day", () => {
    const { label, min, max } = timeAxis(
      at("2026-10-22T08:00:00Z"),
      at("2026-10-27T08:00:00Z"),
      "Europe/London",
    );
    const marks = timeMarks(at("2026-10-22T08:00:00Z"), at("2026-10-27T08:00:00Z"), "Europe/London");
    expect(marks.map(label)).toEqual(["22 Oct", "23 Oct", "24 Oct", "25 Oct", "26 Oct"]);
    expect(min).toBeLessThan(at("2026-10-22T08:00:00Z"));
    expect(max).toBeGreaterThan(at("2026-10-27T08:00:00Z"));
  });

  it("are never many, however long the time", () => {
    for (const days of [0.01, 0.3, 2, 9, 40, 200, 900, 2000]) {
      const from = at("2020-01-01T00:00:00Z");
      const marks = timeMarks(from, from + days * 86_400_000, "UTC");
      expect(marks.length).toBeLessThanOrEqual(10);
      expect(marks.every((m) => m >= from && m <= from + days * 86_400_000)).toBe(true);
    }
  });

  it("leave a single moment room on both sides", () => {
    const one = at("2026-11-26T05:10:00Z");
    const { min, max } = timeAxis(one, one, "UTC");
    expect(one - min).toBeCloseTo(max - one, 0);
    expect(max - min).toBeGreaterThan(80_000_000);
  });
});
