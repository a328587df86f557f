import fc from "fast-check";
import { describe, expect, it } from "vitest";
import {
  carbonatePh,
  derivativeOf,
  fixedEndPoint,
  granAlkalinity,
  inflection,
  type TitrationPoint,
} from "./gran";

/** A titration of 100 mL of carbonate water, meq/L and mmol/L, with acid of 0.02 N, at these volumes. */
const titrated = (alkalinity: number, total: number, volumes: readonly number[]): TitrationPoint[] =>
  volumes.map((ml) => ({
    ml,
    ph: carbonatePh((alkalinity * 0.1 - 0.02 * ml) / (100 + ml), ((total / 1000) * 100) / (100 + ml)),
  }));
const every = (from: number, to: number, step: number) =>
  Array.from({ length: Math.round((to - from) / step) + 1 }, (_, i) => from + i * step);
const found = (points: readonly TitrationPoint[], sample = 100) => {
  const result = granAlkalinity(sample, 0.02, points);
  return result.ok ? result.value : result.error.code;
};
const of = (points: readonly TitrationPoint[]) => {
  const result = found(points);
  if (typeof result === "string") throw new Error(result);
  return result;
};

describe("the pH of carbonate water", () => {
  it("is that of the charge balance", () => {
    // Source: 2 meq/L and 2.2 mmol/L by hand: pH = pK1 + log(2/0.2).
    expect(carbonatePh(0.002, 0.0022)).toBeCloseTo(7.35, 1);
    // Pure water, and water that holds nothing but strong acid.
    expect(carbonatePh(0, 0)).toBeCloseTo(7, 2);
    expect(carbonatePh(-0.001, 0)).toBeCloseTo(3, 3);
  });

  it("falls with more carbon dioxide and rises with more alkalinity", () => {
    const small = fc.double({ min: 0.0002, max: 0.006, noNaN: true });
    fc.assert(
      fc.property(small, small, (alkalinity, total) => {
        expect(carbonatePh(alkalinity, total * 1.1)).toBeLessThan(carbonatePh(alkalinity, total) + 1e-9);
        expect(carbonatePh(alkalinity * 1.1, total)).toBeGreaterThan(carbonatePh(alkalinity, total) - 1e-9);
      }),
    );
  });
});

describe("alkalinity from a curve", () => {
  it("is found of the whole curve where points lie on both sides", () => {
    const { equivalence_ml, alkalinity_mg_l_caco3, method, residual_ph, points_used } = of(
      titrated(2, 2.2, every(0, 14, 1)),
    );
    expect(method).toBe("whole-curve");
    expect(equivalence_ml).toBeCloseTo(10, 2);
    // Source: 2 meq/L · 50.04 mg/meq.
    expect(alkalinity_mg_l_caco3).toBeCloseTo(100.1, 0);
    expect(residual_ph).toBeLessThan(0.001);
    expect(points_used).toBe(15);
  });

  it("is found of the acid's own branch where that is all there is", () => {
    const result = of(titrated(2, 2.2, every(11, 15, 0.5)));
    expect(result.method).toBe("gran-straight");
    expect(result.residual_ph).toBeNull();
    expect(result.equivalence_ml).toBeCloseTo(10, 1);
  });

  it("is found of a few points short of it, the bicarbonate that is left taken out", () => {
    const points = titrated(2, 2.2, [9.9, 10.05, 10.2, 10.35]);
    expect(points.filter((p) => p.ph <= 4).length).toBeLessThan(3);
    const result = of(points);
    expect(result.method).toBe("gran-bicarbonate");
    expect(result.equivalence_ml).toBeCloseTo(10, 1);
  });

  it("does not hang on the order in which points were written down, or on one that stands twice", () => {
    const points = titrated(3, 3.1, every(0, 19, 1));
    const whole = of(points).equivalence_ml;
    expect(of([...points].reverse()).equivalence_ml).toBeCloseTo(whole, 6);
    const [first] = points;
    if (!first) throw new Error("There are points.");
    expect(of([...points, first]).equivalence_ml).toBeCloseTo(whole, 3);
  });

  it("of the acid's branch is twice as much by acid that is twice as strong", () => {
    const points = titrated(2, 2.2, every(11, 15, 0.5));
    const once = of(points);
    const stronger = granAlkalinity(100, 0.04, points);
    expect(stronger.ok && stronger.value).toEqual({
      ...once,
      alkalinity_mg_l_caco3: expect.closeTo(2 * once.alkalinity_mg_l_caco3, 9),
    });
  });

  it("says what is missing", () => {
    expect(found(titrated(2, 2.2, [0, 5]))).toBe("too-few");
    expect(found(titrated(2, 2.2, every(0, 8, 1)))).toBe("no-acid-branch");
    expect(found([])).toBe("too-few");
  });

  it("that is no carbonate's is not fitted as one", () => {
    // A straight fall of pH: no water does this.
    const straight = every(0, 14, 1).map((ml) => ({ ml, ph: 8 - 0.35 * ml }));
    const result = found(straight);
    expect(typeof result === "string" ? result : result.method).not.toBe("whole-curve");
  });
});

describe("other end points", () => {
  const points = [
    { ml: 8, ph: 5.9 },
    { ml: 9, ph: 4.9 },
    { ml: 10, ph: 3.9 },
    { ml: 11, ph: 3.6 },
    { ml: 12, ph: 3.4 },
  ];

  it("lie where the curve passes a pH", () => {
    expect(fixedEndPoint(points, 4.5)).toEqual({ ok: true, value: expect.closeTo(9.4, 9) });
    expect(fixedEndPoint([...points].reverse(), 4.5)).toEqual(fixedEndPoint(points, 4.5));
    expect(fixedEndPoint(points, 4.9)).toEqual({ ok: true, value: expect.closeTo(9, 9) });
    expect(fixedEndPoint(points, 3)).toMatchObject({ error: { code: "not-reached" } });
    // It began below: it has never passed it.
    expect(fixedEndPoint(points, 6.5)).toMatchObject({ error: { code: "not-reached" } });
    expect(fixedEndPoint([], 4.5)).toMatchObject({ error: { code: "not-reached" } });
  });

  it("lie where it falls most for each mL", () => {
    expect(derivativeOf(points).map((d) => [d.ml, Number(d.slope.toFixed(6))])).toEqual([
      [8.5, 1],
      [9.5, 1],
      [10.5, 0.3],
      [11.5, 0.2],
    ]);
    const at = inflection(points);
    expect(at.ok && at.value).toBeGreaterThan(8.5);
    expect(at.ok && at.value).toBeLessThan(10.5);
    expect(inflection(points.slice(0, 3))).toMatchObject({ error: { code: "too-few" } });
  });

  it("of a symmetrical fall lie in its middle", () => {
    const fall = every(8, 12, 0.5).map((ml) => ({ ml, ph: 4.5 - 1.2 * Math.tanh(2 * (ml - 10)) }));
    const at = inflection(fall);
    expect(at.ok && at.value).toBeCloseTo(10, 2);
  });

  it("with two readings at one volume are numbers all the same", () => {
    const twice = [...points, { ml: 10, ph: 3.95 }];
    for (const result of [inflection(twice), fixedEndPoint(twice, 4.5)])
      expect(result.ok && Number.isFinite(result.value)).toBe(true);
  });
});
