import { describe, expect, it } from "vitest";
import { guessDateOrder, readWrittenDay, readWrittenMoment } from "./written";

describe("a date that somebody wrote", () => {
  it.each([
    ["12.04.2026 14:05", "day-first", "2026-04-12T12:05:00.000Z"],
    ["04/12/2026", "month-first", "2026-04-11T22:00:00.000Z"],
    ["2026-04-12 14:05:30", "year-first", "2026-04-12T12:05:00.000Z"],
    ["2026-04-12T14:05:00+02:00", "day-first", "2026-04-12T12:05:00.000Z"],
    ["2026-04-31", "year-first", null],
    ["2026-04-12 25:00", "year-first", null],
    ["yesterday", "year-first", null],
  ] as const)("%s, %s, in Berlin is %s", (text, order, expected) => {
    expect(readWrittenMoment(text, order, "Europe/Berlin")).toBe(expected);
  });

  it("is a day by itself", () => {
    expect(readWrittenDay("12.4.2026", "day-first")).toBe("2026-04-12");
    expect(readWrittenDay("31.04.2026", "day-first")).toBeNull();
    expect(readWrittenDay("2026-04-12", "day-first")).toBeNull();
  });

  it("says in which order it is written, where it can be told", () => {
    expect(guessDateOrder(["13.04.2026", "12.04.2026"])).toBe("day-first");
    expect(guessDateOrder(["04/13/2026"])).toBe("month-first");
    expect(guessDateOrder(["2026-04-13", "soon"])).toBe("year-first");
    // Both would do.
    expect(guessDateOrder(["04/05/2026"])).toBe("day-first");
    expect(guessDateOrder([])).toBe("year-first");
  });
});
