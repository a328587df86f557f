import type { Method } from "../methods/method";

/** A bottle that may be taken along for a material. */
export interface PackBottle {
  code: string;
  name: string;
  place: string;
  /** What is left in it, in its own unit, and for how many uses; null where nobody can say. */
  left: number | null;
  unit: string;
  uses_left: number | null;
}

/** What is needed of one material, and what to take for it. */
export interface PackRow {
  material: string;
  /** Runs it is for, spares among them, and how much that is. */
  runs: number;
  amount: number;
  unit: string;
  /** Whether its lot is named with each run. */
  lot: boolean;
  take: PackBottle[];
  /** Whether the bottles do not reach, as far as one knows. */
  short: boolean;
}

/** A spare run for every five, at least one. Source: common practice. Check value: 6 runs take 2 spares. */
export const spareRuns = (runs: number): number => Math.max(1, Math.ceil(runs / 5));

interface Planned {
  method: Pick<Method, "materials" | "replicates">;
  /** At how many stops it is run. */
  stops: number;
}

/**
 * What to take along for planned tests: every material once, with spares, from as few bottles as reach, in the order in
 * which they are offered: heat spoils what is carried about for nothing. `bottlesOf` gives the good ones of a material.
 */
export function packList(
  planned: readonly Planned[],
  bottlesOf: (material: string) => readonly PackBottle[],
): PackRow[] {
  const needs = new Map<string, Omit<PackRow, "take" | "short">>();
  for (const { method, stops } of planned) {
    const runs = stops * method.replicates;
    const withSpares = runs + spareRuns(runs);
    for (const { name, per_run, unit, lot, for_curve } of method.materials) {
      const key = `${name} ${unit}`;
      const before = needs.get(key);
      // One curve serves all tests of a trip.
      const times = for_curve ? 1 : withSpares;
      needs.set(key, {
        material: name,
        unit,
        lot: lot || (before?.lot ?? false),
        runs: (before?.runs ?? 0) + times,
        amount: (before?.amount ?? 0) + per_run * times,
      });
    }
  }
  return [...needs.values()].map((need) => ({ ...need, ...taken(need, bottlesOf(need.material)) }));
}

/** As few bottles as cover a need; what nobody can count is taken to be enough. */
function taken(need: Pick<PackRow, "runs" | "amount" | "unit">, bottles: readonly PackBottle[]) {
  const take: PackBottle[] = [];
  let missing = 1;
  for (const bottle of bottles) {
    if (missing <= 1e-9) break;
    take.push(bottle);
    missing -=
      bottle.unit === need.unit && bottle.left !== null
        ? bottle.left / need.amount
        : bottle.uses_left === null
          ? 1
          : bottle.uses_left / need.runs;
  }
  return { take, short: missing > 1e-9 };
}
