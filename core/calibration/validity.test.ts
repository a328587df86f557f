import { describe, expect, it } from "vitest";
import { defaultHouseRules } from "../rules/houseRules";
import { rulesWith } from "../testing/sessions";
import { localDate } from "../time/local";
import { calibrationValidUntil, limitForecast, sensorTrend } from "./validity";

describe("a calibration of the day", () => {
  it("is valid until the day ends where the organisation is", () => {
    expect(calibrationValidUntil("ph", "2026-07-01T08:12:00.000Z", defaultHouseRules)).toBe(
      "2026-07-01T23:59:59.999Z",
    );
    expect(
      calibrationValidUntil("ph", "2026-07-01T23:30:00.000Z", {
        ...defaultHouseRules,
        zone: "Europe/Berlin",
      }),
    ).toBe("2026-07-02T21:59:59.999Z");
    expect(localDate("2026-07-01T23:30:00.000Z", "Europe/Berlin")).toBe("2026-07-02");
  });
});

describe("how often to calibrate", () => {
  const until = (measurand: "oxygen" | "temperature", interval: "outing" | "day" | "week-with-daily-check") =>
    calibrationValidUntil(
      measurand,
      "2026-07-01T08:00:00.000Z",
      rulesWith("calibration", { interval }),
    ).slice(0, 10);
  it("is a house rule: the day of use, or a week with a check each day", () => {
    expect([
      until("oxygen", "day"),
      until("oxygen", "outing"),
      until("oxygen", "week-with-daily-check"),
    ]).toEqual(["2026-07-01", "2026-07-01", "2026-07-07"]);
  });
  it("does not concern what is only looked at from time to time", () => {
    expect(until("temperature", "day")).toBe("2026-12-27");
  });
});

describe("limitForecast", () => {
  const days = (values: number[]) =>
    values.map((value, i) => ({ at: `2026-03-0${i + 1}T08:00:00.000Z`, value }));
  it("names the day on which a steady fall or rise reaches its limit", () => {
    expect(limitForecast(days([97, 96.9, 96.8, 96.7]), [95, 102])?.slice(0, 10)).toBe("2026-03-21");
    expect(limitForecast(days([1, 1.5, 2, 2.5]), [-5, 5])?.slice(0, 10)).toBe("2026-03-09");
  });
  it("names none for a figure that holds, from too little history, or without a limit on that side", () => {
    expect(limitForecast(days([97, 97, 97.1, 97]), [95, 102])).toBeNull();
    expect(limitForecast(days([97, 96, 95.5]), [95, 102])).toBeNull();
    expect(limitForecast(days([97, 96, 95, 94]), [null, 102])).toBeNull();
  });
  it("leaves out what no sensor can be: a pair of buffers that was swapped", () => {
    const values = [97, 96.9, -98, 96.8, 96.7].map((value, i) => ({
      at: `2026-03-0${i + 1}T08:00:00.000Z`,
      value,
    }));
    const trend = sensorTrend("ph", values, defaultHouseRules);
    expect(trend.history.map((h) => h.value)).toEqual([97, 96.9, 96.8, 96.7]);
    expect(trend.forecast).not.toBeNull();
    expect(trend.limits).toEqual([95, 102]);
  });
});
