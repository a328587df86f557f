import { addDays } from "../time/zone";
import { type Forecast, forecastOf } from "./forecast";

/** One bottle of a material, as far as ordering goes. */
export interface BottleOf {
  /** What it is called: bottles of one name stand for each other. */
  material: string;
  unit: string;
  /** What is left of it and may be used; nothing of what is out of date, withdrawn or thrown away. Null where nobody said. */
  left: number | null;
  /** What was taken of it in the time that is looked back to, and since when (ISO date). */
  taken: number;
  since: string | null;
}

/** A material that runs out soon. */
export interface RunsOut extends Forecast {
  material: string;
  unit: string;
  left: number;
}

/**
 * Materials of which all bottles together last no longer than so many days at the rate they are used; what nobody uses, and what
 * nobody said the size of, is not among them. Units: the bottles' own; days. Source: common practice. Check value: 40 taken in 28
 * days and 10 left in two bottles last 7 days: to be ordered where a delivery takes 14.
 */
export function runningOut(bottles: readonly BottleOf[], today: string, order_days: number): RunsOut[] {
  const materials = new Map<string, BottleOf[]>();
  for (const b of bottles) {
    const key = `${b.material}\n${b.unit}`;
    materials.set(key, [...(materials.get(key) ?? []), b]);
  }
  return [...materials.values()].flatMap((own): RunsOut[] => {
    const [{ material, unit } = { material: "", unit: "" }] = own;
    if (own.some((b) => b.left === null)) return [];
    const left = own.reduce((sum, b) => sum + (b.left ?? 0), 0);
    const taken = own.reduce((sum, b) => sum + b.taken, 0);
    const since = own.flatMap((b) => b.since ?? []).sort()[0] ?? null;
    const forecast = forecastOf({ left, taken, since }, today);
    return forecast && forecast.lasts_until <= addDays(today, order_days)
      ? [{ ...forecast, material, unit, left }]
      : [];
  });
}
