import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { stretched, thinned } from "./thinned";

describe("many values on a small screen", () => {
  it("are all drawn while they are few, and by their extremes when they are many", () => {
    expect(thinned([3, 1, 2], 2)).toEqual([0, 1, 2]);
    expect(thinned([0, 9, 1, 2, 8, 3], 2)).toEqual([0, 1, 3, 4]);
    expect(thinned([0, 9, 1, 2, 8, 3], 2, (i) => i === 2)).toEqual([0, 1, 2, 3, 4]);
  });
  it("never lose their lowest or highest, nor what must be seen, however many", () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ noNaN: true }), { minLength: 1, maxLength: 500 }),
        fc.nat(499),
        (values, must) => {
          const drawn = thinned(values, 20, (i) => i === must);
          expect(drawn.length).toBeLessThanOrEqual(41);
          const seen = drawn.map((i) => values[i] as number);
          expect(Math.min(...seen)).toBe(Math.min(...values));
          expect(Math.max(...seen)).toBe(Math.max(...values));
          if (must < values.length) expect(drawn).toContain(must);
          expect(drawn).toEqual([...drawn].sort((a, b) => a - b));
        },
      ),
    );
  });
});

describe("the stretch in view", () => {
  const all = { from: 0, to: 100 };
  it("comes closer and goes wider about its middle, and moves by half of itself", () => {
    const half = stretched(all, "closer", 100);
    expect(half).toEqual({ from: 25, to: 75 });
    expect(stretched(half, "wider", 100)).toEqual(all);
    expect(stretched(half, "earlier", 100)).toEqual({ from: 0, to: 50 });
    expect(stretched(half, "later", 100)).toEqual({ from: 50, to: 100 });
    expect(stretched(half, "all", 100)).toEqual(all);
  });
  it("never leaves the series, and never holds less than a picture", () => {
    expect(stretched({ from: 0, to: 50 }, "earlier", 100)).toEqual({ from: 0, to: 50 });
    expect(stretched({ from: 80, to: 100 }, "later", 100)).toEqual({ from: 80, to: 100 });
    expect(stretched({ from: 40, to: 52 }, "closer", 100)).toEqual({ from: 40, to: 52 });
    expect(stretched({ from: 0, to: 5 }, "closer", 5)).toEqual({ from: 0, to: 5 });
    expect(stretched({ from: 60, to: 100 }, "wider", 100)).toEqual({ from: 20, to: 100 });
  });
});
