import { describe, expect, it } from "vitest";
import { calibrationValidUntil, localDate, slopeForecast } from "./validity";

describe("a calibration of the day", () => {
  it("is valid until the day ends where the organisation is", () => {
    expect(calibrationValidUntil("2026-07-01T08:12:00.000Z", "UTC")).toBe("2026-07-01T23:59:59.999Z");
    expect(calibrationValidUntil("2026-07-01T23:30:00.000Z", "Europe/Berlin")).toBe(
      "2026-07-02T21:59:59.999Z",
    );
    expect(localDate("2026-07-01T23:30:00.000Z", "Europe/Berlin")).toBe("2026-07-02");
  });
});

describe("slopeForecast", () => {
  const days = (slopes: number[]) =>
    slopes.map((slope_percent, i) => ({ at: `2026-03-0${i + 1}T08:00:00.000Z`, slope_percent }));
  it("names the day on which a steady fall reaches the limit", () => {
    expect(slopeForecast(days([97, 96.9, 96.8, 96.7]), 95)?.slice(0, 10)).toBe("2026-03-21");
  });
  it("names none for a slope that holds, or from too little history", () => {
    expect(slopeForecast(days([97, 97, 97.1, 97]), 95)).toBeNull();
    expect(slopeForecast(days([97, 96, 95.5]), 95)).toBeNull();
  });
});
