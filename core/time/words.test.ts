import { describe, expect, it } from "vitest";
import { showDate, showTime } from "./words";

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
    expect(showDate("2026-04-12", "weekday")).toMatch(/^Sun,? 12 Apr$/);
  });
});
