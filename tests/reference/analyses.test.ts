import { describe, expect, it } from "vitest";
import { calculate } from "../../core/calculators/registry";
import { leastSquares } from "../../core/quantity/levenbergMarquardt";
import { gaussian, seededRandom } from "../../core/quantity/random";
import { carbonatePh, fixedEndPoint, granAlkalinity, inflection } from "../../core/runs/techniques/gran";
import { alkalinityParts, lowAlkalinity } from "../../core/runs/techniques/titration";

const outputs = (id: string, inputs: unknown) => {
  const answer = calculate(id, inputs);
  if ("errors" in answer) throw new Error(JSON.stringify(answer.errors));
  return answer.outputs as Record<string, number>;
};

describe("oxygen by titration", () => {
  // Source: Standard Methods 4500-O C; handbook table of check values.
  it.each([
    [{ titrant_ml: 1, normality: 0.025, sample_ml: 200 }, 1.0],
    [{ titrant_ml: 1, normality: 0.025, sample_ml: 201, bottle_ml: 300, reagents_ml: 2 }, 1.002],
    [{ titrant_ml: 8.4, normality: 0.025, sample_ml: 200 }, 8.4],
  ])("%o", (inputs, expected) => {
    expect(outputs("oxygen-titration", inputs).oxygen_mg_l).toBeCloseTo(expected, 3);
  });
});

describe("alkalinity by titration", () => {
  // Source: Standard Methods 2320 B, table 2320:II.
  it.each([
    [0, 100, { hydroxide: 0, carbonate: 0, bicarbonate: 100 }],
    [20, 100, { hydroxide: 0, carbonate: 40, bicarbonate: 60 }],
    [50, 100, { hydroxide: 0, carbonate: 100, bicarbonate: 0 }],
    [70, 100, { hydroxide: 40, carbonate: 60, bicarbonate: 0 }],
    [100, 100, { hydroxide: 100, carbonate: 0, bicarbonate: 0 }],
  ])("P %d of T %d", (p, t, parts) => {
    expect(alkalinityParts(p, t)).toEqual(parts);
  });

  it("keeps the conventional 50 000", () => {
    expect(
      outputs("alkalinity-titration", { acid_ml: 10, normality: 0.02, sample_ml: 100 }).total_mg_l_caco3,
    ).toBe(100);
    // Source: Standard Methods 2320 B 4d.
    expect(lowAlkalinity(1, 1.3, 0.02, 200)).toBeCloseTo(3.5, 10);
  });
});

describe("hardness and chloride by titration", () => {
  it("agree with their definitions", () => {
    // Source: Standard Methods 2340 C and 4500-Cl B (1 mL of 0.0141 N is 0.500 mg Cl).
    expect(outputs("hardness-titration", { titrant_ml: 12.5, sample_ml: 50 }).hardness_mg_l_caco3).toBe(250);
    expect(
      outputs("chloride-titration", { titrant_ml: 1.2, blank_ml: 0.2, normality: 0.0141, sample_ml: 100 })
        .chloride_mg_l,
    ).toBeCloseTo(5.0, 2);
  });
});

describe("un-ionised ammonia", () => {
  // Source: Emerson et al. 1975, J. Fish. Res. Board Can. 32.
  it.each([
    [8, 25, 5.37],
    [8, 20, 3.81],
    [7, 15, 0.272],
    [9, 25, 36.2],
  ])("pH %d at %d °C is %d %%", (ph, temperature_c, percent) => {
    const { fraction } = outputs("free-ammonia", { total_ammonia_mg_l_n: 1, ph, temperature_c });
    expect(Math.abs((fraction as number) * 100 - percent) / percent).toBeLessThan(0.005);
  });
});

describe("species and degrees", () => {
  it.each([
    // Source: atomic weights.
    ["species", { value: 1, from: "NH3-N", to: "NH3" }, 1.2159, 4],
    ["species", { value: 1, from: "NO3-N", to: "NO3" }, 4.4267, 3],
    ["species", { value: 1, from: "NO2-N", to: "NO2" }, 3.2845, 3],
    ["species", { value: 1, from: "PO4-P", to: "PO4" }, 3.0661, 3],
    ["species", { value: 1, from: "PO4-P", to: "P2O5" }, 2.2914, 3],
    ["species", { value: 1, from: "Si", to: "SiO2" }, 2.1393, 3],
    // Source: definitions of the degrees.
    ["hardness-units", { value: 1, from: "°dH", to: "mg/L CaCO3" }, 17.848, 3],
    ["hardness-units", { value: 1, from: "°eH", to: "mg/L CaCO3" }, 14.254, 3],
    ["hardness-units", { value: 1, from: "meq/L", to: "mg/L CaCO3" }, 50.0435, 3],
    ["hardness-units", { value: 1, from: "mmol/L", to: "°fH" }, 10.0087, 3],
  ] as const)("%s %o", (id, inputs, expected, digits) => {
    expect(outputs(id, inputs).value).toBeCloseTo(expected, digits);
  });

  it("refuses another family", () => {
    expect(calculate("species", { value: 1, from: "NO3", to: "NH3" })).toMatchObject({
      errors: [{ path: "to" }],
    });
  });
});

describe("duplicates", () => {
  it.each([
    // Source: common practice: oxygen within 0.6 mg/L; relative difference of at most 20 %.
    [{ a: 7.9, b: 8.5, rule: { absolute: 0.6 } }, true],
    [{ a: 7.9, b: 8.6, rule: { absolute: 0.6 } }, false],
    [{ a: 9, b: 11, rule: { relative_percent: 20 } }, true],
    [{ a: 9, b: 11.2, rule: { relative_percent: 20 } }, false],
    // Below five times the detection limit the absolute difference counts.
    [{ a: 0.03, b: 0.06, rule: { relative_percent: 20, detection_limit: 0.03 } }, true],
    [{ a: 0.03, b: 0.07, rule: { relative_percent: 20, detection_limit: 0.03 } }, false],
  ])("%o", (inputs, accepted) => {
    expect(outputs("duplicates", inputs).accepted).toBe(accepted);
  });
});

describe("least squares of curved models", () => {
  it("agrees with NIST StRD Misra1a", () => {
    // Source: NIST Statistical Reference Datasets, Misra1a; b1 = 238.94212918, b2 = 5.5015643181e-4.
    const y = [
      10.07, 14.73, 17.94, 23.93, 29.61, 35.18, 40.02, 44.82, 50.76, 55.05, 61.01, 66.4, 75.47, 81.78,
    ];
    const x = [77.6, 114.9, 141.1, 190.8, 239.9, 289, 332.8, 378.4, 434.8, 477.3, 536.8, 593.1, 689.1, 760];
    const fit = leastSquares(
      ([b1 = 0, b2 = 0]) => x.map((v, i) => b1 * (1 - Math.exp(-b2 * v)) - (y[i] as number)),
      [500, 0.0001],
    );
    expect(fit.parameters[0]).toBeCloseTo(238.94212918, 4);
    expect(fit.parameters[1]).toBeCloseTo(5.5015643181e-4, 9);
    expect(fit.sumOfSquares).toBeCloseTo(0.12455138894, 8);
  });
});

/** A titration of carbonate water by its equilibria: charge balance at every volume, closed to the air. */
function titrate(
  alkalinity: number,
  total: number,
  sampleMl: number,
  normality: number,
  volumes: number[],
  noise: () => number,
) {
  return volumes.map((ml) => {
    const dilution = sampleMl / (sampleMl + ml);
    const left = alkalinity * dilution - (normality * ml) / (sampleMl + ml);
    return { ml, ph: carbonatePh(left, total * dilution) + noise() };
  });
}

describe("Gran alkalinity", () => {
  it("finds the alkalinity of simulated carbonate waters within 0.5 %, with noise of 0.01 pH", () => {
    const random = seededRandom(2320);
    for (let i = 0; i < 200; i++) {
      const alkalinity = 0.0004 + 0.0046 * random();
      const total = alkalinity * (0.97 + 0.15 * random());
      const end = (alkalinity * 100) / 0.02;
      const volumes = Array.from({ length: 26 }, (_, k) => (end * 1.35 * k) / 25);
      const points = titrate(alkalinity, total, 100, 0.02, volumes, () => 0.01 * gaussian(random));
      const found = granAlkalinity(100, 0.02, points);
      if (!found.ok) throw new Error(found.error.message);
      expect(Math.abs(found.value.equivalence_ml / end - 1), `${alkalinity} ${total}`).toBeLessThan(0.005);
      expect(found.value.method).toBe("whole-curve");
    }
  });

  it("draws the straight line where only the acid branch was measured", () => {
    const volumes = [11, 11.4, 11.8, 12.2, 12.6, 13, 13.4];
    const points = titrate(0.002, 0.0021, 100, 0.02, volumes, () => 0);
    const found = granAlkalinity(100, 0.02, points);
    expect(found).toMatchObject({ ok: true, value: { method: "gran-straight" } });
    expect(found.ok && Math.abs(found.value.equivalence_ml / 10 - 1)).toBeLessThan(0.005);
  });

  it("takes the bicarbonate out where points are few below pH 4", () => {
    const points = titrate(0.002, 0.0021, 100, 0.02, [9.7, 9.9, 10.1, 10.3, 10.5], () => 0);
    const found = granAlkalinity(100, 0.02, points);
    expect(found).toMatchObject({ ok: true, value: { method: "gran-bicarbonate" } });
    expect(found.ok && Math.abs(found.value.equivalence_ml / 10 - 1)).toBeLessThan(0.02);
  });

  it("says what is missing", () => {
    const early = titrate(0.002, 0.0021, 100, 0.02, [0, 2, 4, 6], () => 0);
    expect(granAlkalinity(100, 0.02, early)).toMatchObject({ ok: false, error: { code: "no-acid-branch" } });
  });

  it("agrees with the fixed end point and the steepest place of the same curve", () => {
    const volumes = Array.from({ length: 61 }, (_, k) => k * 0.2);
    const points = titrate(0.002, 0.0021, 100, 0.02, volumes, () => 0);
    const [fixed, steep] = [fixedEndPoint(points, 4.5), inflection(points)];
    expect(fixed.ok && Math.abs(fixed.value - 10)).toBeLessThan(0.1);
    expect(steep.ok && Math.abs(steep.value - 10)).toBeLessThan(0.15);
  });
});

describe("stagger", () => {
  it("gives the two-minute stagger of a 5- and a 3-minute tube", () => {
    // Source: common practice.
    const task = (wait_s: number) => ({ hands_before_s: 0, wait_s, hands_after_s: 0, exact: true });
    expect(outputs("stagger", { tasks: [task(300), task(180)], align: "together" })).toMatchObject({
      start_s: [0, 120],
      makespan_s: 300,
      serial_s: 480,
      lower_bound_s: 300,
    });
  });
});
