import { describe, expect, it } from "vitest";
import { gaussian, seededRandom } from "../quantity/random";
import { flaskTolerance, pipetteTolerance } from "../reference/glassware";
import { type DilutionPlan, type DilutionProblem, largestFactor, planDilution } from "./dilution";
import { planSeries, type SeriesProblem } from "./dilutionSeries";

const first = (problem: DilutionProblem): DilutionPlan => {
  const [plan] = planDilution(problem).plans;
  if (!plan) throw new Error("There is no plan.");
  return plan;
};
const stock = { stock: 1000, final_volume_ml: 100 };

/** Every chain of one to three steps, by brute force and without any of the planner's own code. */
function exhaustive(p: DilutionProblem): { u: number; off: number } {
  const u2 = (ml: number, tolerance: number) => (tolerance / ml) ** 2 / 6;
  let best = { u: Number.POSITIVE_INFINITY, off: Number.POSITIVE_INFINITY };
  const walk = (c: number, sum: number, held: number, depth: number) => {
    for (const pipette of p.pipettes_ml) {
      if (pipette > held || pipette < (p.smallest_ml ?? 0)) continue;
      if (depth === 1 && pipette > (p.stock_available_ml ?? Number.POSITIVE_INFINITY)) continue;
      for (const flask of p.flasks_ml) {
        if (flask <= pipette || flask / pipette > largestFactor * (1 + 1e-9)) continue;
        const next = (c * pipette) / flask;
        const u = sum + u2(pipette, pipetteTolerance(pipette)) + u2(flask, flaskTolerance(flask));
        const off = Math.abs(Math.log(next / p.target));
        if (flask >= p.final_volume_ml) {
          const nearer = off < best.off - 1e-9;
          if (nearer || (off < best.off + 1e-9 && Math.sqrt(u) < best.u))
            best = { u: Math.sqrt(u), off: Math.min(off, best.off) };
        }
        if (depth < 3) walk(next, u, flask, depth + 1);
      }
    }
  };
  walk(p.stock, 0, Number.POSITIVE_INFINITY, 1);
  return best;
}

/** The worst level of every series over at most two solutions, by brute force and without any of the planner's own code. */
function exhaustiveSeries(p: SeriesProblem): number {
  const u2 = (pipette: number, flask: number) =>
    ((pipetteTolerance(pipette) / pipette) ** 2 + (flaskTolerance(flask) / flask) ** 2) / 6;
  const steps = p.pipettes_ml.flatMap((pipette) =>
    p.flasks_ml
      .filter((flask) => flask > pipette && flask / pipette <= largestFactor)
      .map((flask) => ({ pipette, flask, share: pipette / flask, u2: u2(pipette, flask) })),
  );
  const stock = { c: p.stock, u2: 0, holds: Number.POSITIVE_INFINITY, costs: 0 };
  const made = steps.flatMap((a) => [
    { c: p.stock * a.share, u2: a.u2, holds: a.flask, costs: a.pipette },
    ...steps
      .filter((b) => b.pipette <= a.flask)
      .map((b) => ({
        c: p.stock * a.share * b.share,
        u2: a.u2 + b.u2,
        holds: b.flask,
        costs: a.pipette,
      })),
  ]);
  let best = Number.POSITIVE_INFINITY;
  const share = (sources: readonly (typeof stock)[]) => {
    const taken = sources.map(() => 0);
    const go = (level: number, worst: number): void => {
      if (worst >= best) return;
      const target = p.targets[level];
      if (target === undefined) {
        const costs = sources.map((s, i) => (s === stock ? (taken[i] ?? 0) : taken[i] ? s.costs : 0));
        const runsShort = sources.some((s, i) => (taken[i] ?? 0) > s.holds + 1e-9);
        const used = costs.reduce((sum, ml) => sum + ml, 0);
        if (!runsShort && used <= (p.stock_available_ml ?? Number.POSITIVE_INFINITY)) best = worst;
        return;
      }
      for (const [i, source] of sources.entries()) {
        for (const step of steps) {
          if (step.flask < p.final_volume_ml) continue;
          if (Math.abs((source.c * step.share) / target - 1) > 1e-9) continue;
          taken[i] = (taken[i] ?? 0) + step.pipette;
          go(level + 1, Math.max(worst, source.u2 + step.u2));
          taken[i] = (taken[i] ?? 0) - step.pipette;
        }
      }
    };
    go(0, 0);
  };
  share([stock]);
  for (const [i, a] of made.entries()) for (const b of made.slice(i)) share([stock, a, b]);
  return Math.sqrt(best);
}

describe("the dilution planner", () => {
  it("takes the larger volume where both give the target", () => {
    const glass = { pipettes_ml: [1, 10], flasks_ml: [100, 1000] };
    expect(first({ ...stock, ...glass, target: 10 }).steps).toEqual([{ pipette_ml: 10, flask_ml: 1000 }]);
  });

  // Source: ASTM E969, E288 and the GUM, worked by hand: √((0.02/10)² + (0.08/100)²) / √6.
  it("says the uncertainty of 10 mL in 100 mL", () => {
    const plan = first({ ...stock, target: 100, pipettes_ml: [10], flasks_ml: [100] });
    expect(plan.relative_uncertainty).toBeCloseTo(Math.sqrt(0.002 ** 2 + 0.0008 ** 2) / Math.sqrt(6), 12);
    expect(plan).toMatchObject({ concentration: 100, stock_used_ml: 10 });
  });

  it("agrees with an exhaustive search on 200 random problems", () => {
    const random = seededRandom(2026);
    const pick = <T>(from: readonly T[], n: number) => [...from].sort(() => random() - 0.5).slice(0, n);
    for (let i = 0; i < 200; i++) {
      const pipettes_ml = pick([1, 2, 3, 4, 5, 10, 15, 20, 25, 50], 2 + Math.floor(random() * 4));
      const flasks_ml = pick([10, 25, 50, 100, 200, 250, 500, 1000], 1 + Math.floor(random() * 3));
      const ways = pick(
        pipettes_ml.flatMap((p) => flasks_ml.map((f) => f / p)),
        3,
      ).filter((f) => f > 1 && f <= 100);
      // Half of the targets can be made exactly, half are anything.
      const target =
        random() < 0.5
          ? 1000 / ways.slice(0, 1 + Math.floor(random() * 3)).reduce((a, b) => a * b, 1)
          : 10 ** (3 - 4 * random());
      const problem = {
        stock: 1000,
        target,
        pipettes_ml,
        flasks_ml,
        // Every other problem asks for more than the smallest flask holds, or has little of the stock.
        final_volume_ml: i % 2 ? 10 : (pick([50, 100, 200, 250], 1)[0] as number),
        ...(i % 4 === 0 && { stock_available_ml: 4, smallest_ml: 2 }),
      };
      const truth = exhaustive(problem);
      const { plans } = planDilution(problem);
      if (truth.u === Number.POSITIVE_INFINITY) {
        expect(plans).toEqual([]);
        continue;
      }
      expect(plans[0]?.relative_uncertainty).toBeCloseTo(truth.u, 12);
      expect(Math.abs(Math.log((plans[0]?.concentration ?? 0) / target))).toBeCloseTo(truth.off, 8);
    }
  });

  it("gives an uncertainty that draws at random confirm within 5 %", () => {
    const random = seededRandom(7);
    const triangular = (a: number) => a * (random() + random() - 1);
    const plan = first({
      ...stock,
      target: 0.5,
      pipettes_ml: [1, 5, 10],
      flasks_ml: [100, 200, 1000],
      stock_relative_uncertainty: 0.002,
    });
    expect(plan.steps.length).toBeGreaterThan(1);
    const draws = Array.from({ length: 40_000 }, () =>
      plan.steps.reduce(
        (c, s) =>
          (c * (s.pipette_ml + triangular(pipetteTolerance(s.pipette_ml)))) /
          (s.flask_ml + triangular(flaskTolerance(s.flask_ml))),
        1000 * (1 + 0.002 * gaussian(random)),
      ),
    );
    const mean = draws.reduce((a, b) => a + b, 0) / draws.length;
    const sd = Math.sqrt(draws.reduce((s, d) => s + (d - mean) ** 2, 0) / (draws.length - 1));
    expect(Math.abs(sd / mean / plan.relative_uncertainty - 1)).toBeLessThan(0.05);
  });

  it("shows what is no worse in every respect: less stock or fewer steps cost certainty", () => {
    const { plans } = planDilution({
      ...stock,
      target: 10,
      pipettes_ml: [1, 10],
      flasks_ml: [100, 1000],
    });
    for (const [i, a] of plans.entries())
      for (const b of plans.slice(i + 1)) {
        expect(b.relative_uncertainty).toBeGreaterThanOrEqual(a.relative_uncertainty);
        expect(b.stock_used_ml < a.stock_used_ml || b.steps.length < a.steps.length).toBe(true);
      }
    expect(plans.at(-1)?.stock_used_ml).toBe(1);
  });

  it("adds the error of a piece that is taken twice", () => {
    const plan = first({ ...stock, target: 10, pipettes_ml: [10], flasks_ml: [100] });
    expect(plan.steps).toHaveLength(2);
    expect(plan.relative_uncertainty_same_pieces).toBeCloseTo(Math.SQRT2 * plan.relative_uncertainty, 12);
  });

  it("keeps to the smallest volume, the stock there is, and a factor of 100 a step", () => {
    const glass = { pipettes_ml: [1, 2, 10], flasks_ml: [100, 1000] };
    expect(first({ ...stock, ...glass, target: 1 }).steps).toHaveLength(2);
    const none = planDilution({ ...stock, ...glass, target: 20, smallest_ml: 5, most_steps: 1 });
    expect(none.exact).toBe(false);
    expect(first({ ...stock, ...glass, target: 10, stock_available_ml: 1 }).stock_used_ml).toBe(1);
    expect(planDilution({ ...stock, ...glass, target: 10, stock_available_ml: 0.5 }).plans).toEqual([]);
  });

  it("takes the odd volume with a piston pipette, and says what comes nearest without one", () => {
    const glass = { pipettes_ml: [10], flasks_ml: [100] };
    const near = planDilution({ ...stock, ...glass, target: 37 });
    expect(near.exact).toBe(false);
    expect(near.plans[0]?.concentration).toBe(100);
    const pistons = [{ low_ml: 1, high_ml: 5, error_percent: 0.6 }];
    const odd = planDilution({ ...stock, ...glass, target: 37, pistons });
    expect(odd.exact).toBe(true);
    expect(odd.plans[0]?.steps).toEqual([
      { pipette_ml: expect.closeTo(3.7, 9), flask_ml: 100, piston: true },
    ]);
    expect(odd.plans[0]?.relative_uncertainty).toBeGreaterThan(0.006 / Math.sqrt(6));
  });
});

describe("a calibration series", () => {
  const glass = { pipettes_ml: [1, 2, 5, 10, 20, 25], flasks_ml: [50, 100, 200, 250, 500, 1000] };
  it("is made straight from the stock where that can be", () => {
    const plan = planSeries({
      ...stock,
      pipettes_ml: [1, 2, 5],
      flasks_ml: [100],
      targets: [10, 20, 50],
    });
    expect(plan?.intermediates).toEqual([]);
    expect(plan?.levels.map((l) => l.step.pipette_ml)).toEqual([1, 2, 5]);
    expect(plan?.stock_used_ml).toBe(8);
  });
  it("of six levels with twelve pieces goes over one or two solutions, each level exactly at its target", () => {
    const targets = [0.05, 0.1, 0.25, 0.5, 1, 2];
    const plan = planSeries({ ...stock, ...glass, targets });
    expect(plan?.levels.map((l) => l.target)).toEqual(targets);
    for (const level of plan?.levels ?? []) {
      const source = level.from === null ? 1000 : plan?.intermediates[level.from]?.concentration;
      expect((source ?? 0) * (level.step.pipette_ml / level.step.flask_ml)).toBeCloseTo(level.target, 9);
    }
    expect(plan?.intermediates.length).toBeGreaterThan(0);
    const taken = (i: number) =>
      (plan?.levels ?? []).filter((l) => l.from === i).reduce((sum, l) => sum + l.step.pipette_ml, 0);
    for (const [i, s] of (plan?.intermediates ?? []).entries())
      expect(taken(i)).toBeLessThanOrEqual(s.steps.at(-1)?.flask_ml ?? 0);
    // The worst level is no worse than the best way to make it alone would allow by much.
    const alone = first({ ...stock, ...glass, target: 0.05 }).relative_uncertainty;
    expect(plan?.worst_relative_uncertainty).toBeGreaterThanOrEqual(alone - 1e-12);
  });
  it("agrees with an exhaustive search on 60 random problems, with little of the stock too", () => {
    const random = seededRandom(5);
    const pick = <T>(from: readonly T[], n: number) => [...from].sort(() => random() - 0.5).slice(0, n);
    let made = 0;
    for (let i = 0; i < 60; i++) {
      const pipettes_ml = pick([1, 2, 4, 5, 10, 25, 50], 2 + Math.floor(random() * 2));
      const flasks_ml = pick([50, 100, 250, 500], 1 + Math.floor(random() * 2));
      const factors = pipettes_ml
        .flatMap((p) => flasks_ml.map((f) => f / p))
        .filter((f) => f > 1 && f <= largestFactor);
      const factor = () => factors[Math.floor(random() * factors.length)] ?? 2;
      const targets = Array.from(
        { length: 2 + Math.floor(random() * 2) },
        () => 1000 / factor() / (random() < 0.7 ? factor() : 1),
      );
      const problem = {
        stock: 1000,
        targets,
        pipettes_ml,
        flasks_ml,
        final_volume_ml: random() < 0.5 ? 50 : 100,
        ...(random() < 0.4 && { stock_available_ml: 10 }),
      };
      const truth = exhaustiveSeries(problem);
      const plan = planSeries(problem);
      const said = JSON.stringify(problem);
      expect(plan === null, said).toBe(truth === Number.POSITIVE_INFINITY);
      if (!plan) continue;
      made++;
      expect(plan.worst_relative_uncertainty, said).toBeCloseTo(truth, 12);
    }
    expect(made).toBeGreaterThan(30);
  });
  it("makes a solution twice where one flask of it is too little", () => {
    const plan = planSeries({
      stock: 1000,
      targets: [0.4, 10, 1],
      pipettes_ml: [1, 25],
      flasks_ml: [50, 500],
      final_volume_ml: 25,
      stock_available_ml: 10,
    });
    expect(plan?.intermediates.map((i) => i.concentration)).toEqual([20, 20]);
    expect(plan?.stock_used_ml).toBe(2);
  });
  it("is none where a level cannot be reached, and is left when it is stopped", () => {
    expect(planSeries({ ...stock, ...glass, targets: [1, 0.123] })).toBeNull();
    const seen: number[] = [];
    planSeries(
      { ...stock, ...glass, targets: [0.05, 2] },
      { stop: () => true, onProgress: (s) => seen.push(s) },
    );
    expect(seen).toEqual([1]);
  });
});
