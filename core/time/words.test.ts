import { describe, expect, it } from "vitest";
import { showDate, showTime, type TimeStyle } from "./words";

describe("moments in words", () => {
  it("are written in the zone asked for", () => {
    expect(showTime("2026-04-12T23:31:00.000Z", "UTC")).toBe("23:31");
    expect(showTime("2026-04-12T23:31:00.000Z", "Europe/Berlin")).toBe("01:31");
    expect(showTime("2026-04-12T23:31:00.000Z", "Europe/Berlin", "short")).toBe("13 Apr");
    expect(showTime("2026-04-12T23:31:00.000Z", "UTC", "full")).toBe("12 Apr 2026, 23:31");
  });

  it("give every month three letters", () => {
    const months = Array.from({ length: 12 }, (_, m) =>
      showDate(`2026-${String(m + 1).padStart(2, "0")}-05`, "short"),
    );
    expect(months.every((text) => /^5 [A-Z][a-z]{2}$/.test(text))).toBe(true);
  });

  it("are never moved from their date by a zone", () => {
    expect(showDate("2026-04-12")).toBe("12 Apr 2026");
    expect(showDate("2026-04-12", "weekday")).toBe("Sun 12 Apr");
  });

  it("are none where there is no moment", () => {
    expect(() => showTime("soon", "UTC")).toThrow(RangeError);
    expect(() => showTime("2026-04-12T23:31:00.000Z", "Nowhere/Else")).toThrow(RangeError);
  });

  // Source: the words of the platform for British English (CLDR), which has September in four letters and commas of its own.
  const platform: Record<TimeStyle, Intl.DateTimeFormatOptions> = {
    clock: { hour: "2-digit", minute: "2-digit" },
    day: { day: "numeric", month: "short", year: "numeric" },
    short: { day: "numeric", month: "short" },
    weekday: { weekday: "short", day: "numeric", month: "short" },
    whole: { weekday: "short", day: "numeric", month: "short", year: "numeric" },
    both: { day: "numeric", month: "short", hour: "2-digit", minute: "2-digit" },
    full: { day: "numeric", month: "short", year: "numeric", hour: "2-digit", minute: "2-digit" },
    long: { weekday: "long", day: "numeric", month: "long" },
  };
  it.each([
    "UTC",
    "Europe/Berlin",
    "Australia/Lord_Howe",
    "Asia/Kathmandu",
    "Africa/Cairo",
    "America/St_Johns",
  ])("%s: are those of the platform through a year, also where clocks change", (zone) => {
    for (const style of Object.keys(platform) as TimeStyle[]) {
      const format = new Intl.DateTimeFormat("en-GB", {
        ...platform[style],
        hourCycle: "h23",
        timeZone: zone,
      });
      const words = (at: Date) =>
        format
          .format(at)
          .replace("Sept ", "Sep ")
          .replace(/Sept(?=,|$)/, "Sep");
      for (let at = Date.UTC(2025, 11, 31); at < Date.UTC(2027, 0, 2); at += 7.25 * 3_600_000) {
        const moment = new Date(at);
        expect(showTime(moment.toISOString(), zone, style)).toBe(
          words(moment).replace(/^([A-Z][a-z]+), /, "$1 "),
        );
      }
    }
  });
});
