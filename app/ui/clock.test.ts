import { afterEach, describe, expect, it } from "vitest";
import { clockOffset, correctedNow, learnClock } from "./clock";

const hour = 3_600_000;
afterEach(() => learnClock(Date.now(), Date.now(), Date.now()));

describe("a device's clock", () => {
  it("that is right, or off by less than two minutes, is left alone", () => {
    const now = Date.now();
    learnClock(now + 90_000, now, now);
    expect(clockOffset()).toBe(0);
  });
  it.each([2 * hour, -2 * hour])("that is off by %d ms is corrected for, once", (off) => {
    const now = Date.now();
    learnClock(now + off, now, now);
    learnClock(now + off, now, now);
    expect(clockOffset()).toBe(off);
    expect(Math.abs(correctedNow() - (Date.now() + off))).toBeLessThan(50);
  });
  it("is not blamed for a slow network", () => {
    const now = Date.now();
    learnClock(now, now - 300_000, now);
    expect(clockOffset()).toBe(0);
  });
});
