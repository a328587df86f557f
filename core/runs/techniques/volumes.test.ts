import { describe, expect, it } from "vitest";
import { err, ok } from "../../quantity/result";
import { lessBack, volumeAtFirst, volumeUsed } from "./volumes";

const used = (volumes: Parameters<typeof volumeUsed>[0]) => {
  const found = volumeUsed(volumes);
  return found.ok ? found.value : found.error.code;
};

describe("what a burette gave", () => {
  it("is the last reading less the first", () => {
    expect(used({ start: 0.35, refills: [], end: 12.4 })).toBeCloseTo(12.05, 9);
    expect(used({ start: 4, refills: [], end: 4 })).toBe(0);
  });

  it("goes on over each refill", () => {
    expect(used({ start: 0, refills: [{ before: 9.6, after: 0.2 }], end: 1.4 })).toBeCloseTo(10.8, 9);
    const twice = [
      { before: 24.5, after: 0.5 },
      { before: 24.9, after: 0.1 },
    ];
    expect(used({ start: 0.1, refills: twice, end: 3.1 })).toBeCloseTo(24.4 + 24.4 + 3, 9);
  });

  it("is not there before both ends are read", () => {
    expect(used({ start: null, refills: [], end: 3 })).toBe("not-read");
    expect(used({ start: 0, refills: [], end: null })).toBe("not-read");
  });

  it("never runs backwards, before a refill or after it", () => {
    expect(used({ start: 5, refills: [], end: 4.9 })).toBe("backwards");
    expect(used({ start: 5, refills: [{ before: 4, after: 0 }], end: 3 })).toBe("backwards");
    expect(used({ start: 0, refills: [{ before: 9, after: 2 }], end: 1 })).toBe("backwards");
    // Figures that are the same as read may differ in the computer's last digit.
    expect(used({ start: 0.1 + 0.2, refills: [], end: 0.3 })).toBeCloseTo(0, 9);
  });
});

describe("a first end point on the way", () => {
  it("is counted from where the burette began", () => {
    expect(volumeAtFirst({ start: 0.5, first: 2.1, refills: [], end: 9 })).toBeCloseTo(1.6, 9);
  });
  it("may be missing", () => {
    expect(volumeAtFirst({ start: 0.5, refills: [], end: 9 })).toBeNull();
    expect(volumeAtFirst({ start: 0.5, first: null, refills: [], end: 9 })).toBeNull();
    expect(volumeAtFirst({ start: null, first: 2, refills: [], end: 9 })).toBeNull();
    // Read at zero: there was one, and nothing was needed to reach it.
    expect(volumeAtFirst({ start: 0, first: 0, refills: [], end: 9 })).toBe(0);
  });
});

describe("an end point that was passed and brought back", () => {
  it("takes off what was added back", () => {
    expect(lessBack(ok(10.8), { back_ml: 0.4 })).toEqual({ ok: true, value: expect.closeTo(10.4, 9) });
    expect(lessBack(ok(3), { back_ml: 3 })).toEqual({ ok: true, value: 0 });
  });
  it("changes nothing where nothing was", () => {
    for (const overshot of [null, undefined, { back_ml: null }, { back_ml: 0 }])
      expect(lessBack(ok(7), overshot)).toEqual({ ok: true, value: 7 });
  });
  it("is never more than was given", () => {
    expect(lessBack(ok(3), { back_ml: 3.1 })).toMatchObject({ ok: false, error: { code: "backwards" } });
  });
  it("keeps what was wrong before", () => {
    expect(lessBack(err("not-read", "…"), { back_ml: 1 })).toMatchObject({ error: { code: "not-read" } });
  });
});
