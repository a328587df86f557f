import { describe, expect, it } from "vitest";
import { elapsedDays, isZone, localDate, zoneNames } from "./local";
import { addDays, dayEnd, dayStart, daysBetween, localMoment, localTime, momentReader } from "./zone";

/** The platform's own words for the local date and time of a moment: what the day arithmetic is held against. */
const oracle = (zone: string) => {
  const format = new Intl.DateTimeFormat("en-CA", {
    timeZone: zone,
    year: "numeric",
    month: "2-digit",
    day: "2-digit",
  });
  return (ms: number) => format.format(new Date(ms));
};

const zones = [
  "UTC",
  "Europe/Berlin",
  "Pacific/Auckland",
  "Africa/Cairo",
  "America/Santiago",
  "Australia/Lord_Howe",
  "Asia/Beirut",
  "America/St_Johns",
  "Asia/Kathmandu",
  "Pacific/Apia",
];

describe("days of a zone, held against Intl on every day of 2026", () => {
  it.each(zones)("%s: each day begins and ends where its date changes", (zone) => {
    const dateAt = oracle(zone);
    for (let date = "2026-01-01"; date <= "2026-12-31"; date = addDays(date, 1)) {
      const [start, end] = [Date.parse(dayStart(date, zone)), Date.parse(dayEnd(date, zone))];
      expect([dateAt(start - 1), dateAt(start), dateAt(end), dateAt(end + 1)], `${zone} ${date}`).toEqual([
        addDays(date, -1),
        date,
        date,
        addDays(date, 1),
      ]);
      expect(localDate(new Date(start).toISOString(), zone)).toBe(date);
      expect(localDate(new Date(end).toISOString(), zone)).toBe(date);
    }
  });
});

describe("many moments of a zone, read by days that were worked out once", () => {
  it.each(zones)("%s: the same as one by one, on every day of 2026, also where clocks change", (zone) => {
    const read = momentReader(zone);
    for (let date = "2026-01-01"; date < "2027-01-01"; date = addDays(date, 1)) {
      for (const clock of ["00:00", "02:30", "09:05", "23:59"])
        expect(read(date, clock), `${date} ${clock}`).toBe(localMoment(date, clock, zone));
    }
  });
});

describe("days and zones", () => {
  it("begins a day whose midnight does not exist with its first moment", () => {
    // Cairo's clocks go from 00:00 to 01:00 on 24 April 2026. Source: IANA database.
    expect(dayStart("2026-04-24", "Africa/Cairo")).toBe("2026-04-23T22:00:00.000Z");
  });

  it("has days of 23, 25 and 23.5 hours", () => {
    const hours = (date: string, zone: string) =>
      elapsedDays(dayStart(date, zone), dayStart(addDays(date, 1), zone)) * 24;
    expect(hours("2026-03-29", "Europe/Berlin")).toBe(23);
    expect(hours("2026-10-25", "Europe/Berlin")).toBe(25);
    expect(hours("2026-10-04", "Australia/Lord_Howe")).toBe(23.5);
  });

  it("counts days by the calendar", () => {
    expect(addDays("2026-02-28", 1)).toBe("2026-03-01");
    expect(daysBetween("2026-02-28", "2026-03-01")).toBe(1);
    expect(daysBetween("2026-03-30", "2026-03-28")).toBe(-2);
  });

  it("finds the moment of a local hour, in summer and in winter", () => {
    expect(localTime("2026-07-01", 17, "Europe/Berlin")).toBe("2026-07-01T15:00:00.000Z");
    expect(localTime("2026-12-01", 17, "Europe/Berlin")).toBe("2026-12-01T16:00:00.000Z");
  });

  it("knows zones by name and refuses what is none", () => {
    expect(["UTC", "Europe/Berlin", "Asia/Beirut"].every(isZone)).toBe(true);
    expect(["", "Lord_Howe", "Mars/Base", "<script>"].some(isZone)).toBe(false);
    expect(zoneNames()[0]).toBe("UTC");
    expect(new Set(zoneNames()).size).toBe(zoneNames().length);
    expect(zoneNames().length).toBeGreaterThan(300);
  });
});
