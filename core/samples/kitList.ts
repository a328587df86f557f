import { counted } from "../quantity/format";
import { measurandFacts } from "../quantity/measurand";
import type { VisitPlan } from "./visitEvents";

/** Spares for what breaks, tears or is dropped. Source: common practice: two. */
const spares = 2;

/**
 * What is taken along for visits, the last used first: it lies at the bottom. Source: common practice. Check value: a visit with an
 * oxygen pair takes gloves, goggles and a waste bottle.
 */
export function kitList(plans: readonly VisitPlan[]): string[] {
  const some = (of: (plan: VisitPlan) => boolean) => plans.some(of);
  const bottles = plans.flatMap((p) => p.bottles);
  const byName = new Map<string, number>();
  for (const b of bottles) byName.set(b.name, (byName.get(b.name) ?? 0) + (b.pair ? 2 : 1));
  const filters = bottles.filter((b) => b.filter).length;
  const tests = [...new Set(plans.flatMap((p) => p.methods.map((m) => m.name)))];
  const read = [...new Set(plans.flatMap((p) => p.measurands))];
  const cold = some((p) => p.bottles.some((b) => b.cold));
  const hazard = some((p) => p.bottles.some((b) => b.caution !== null) || p.methods.length > 0);
  const well = some((p) => p.well !== null);
  const list: (string | false)[] = [
    "Waste bag, towel, brush and rinse water for the gear",
    hazard && "Waste bottle for what was used up",
    cold && "Cooler with fresh ice, and a thermometer in it",
    some((p) => p.clarity) && "Disc with its line, or the tube",
    ...tests.map((name) => `${name}: its kit, as on the pack list`),
    filters > 0 && `${counted(filters + spares, "filter")} and a syringe`,
    ...[...byName].map(([name, n]) => `${name}: ${counted(n, "bottle")}, labels on`),
    well && "Dip probe or tape, bucket and clock, pump with its power, long purge line",
    some((p) => p.air) && "Air thermometer",
    read.length > 0 &&
      `Meters for ${read.map((m) => measurandFacts[m].word).join(", ")}, with spare batteries`,
    read.length > 0 && "Check standard for the control, wash bottle with pure water",
    "Pole, or a jar on a line, where the bank is steep",
    "Printed cards, pencil, charged phone",
    hazard ? "Gloves and goggles on top, with the safety sheets" : "Gloves on top",
  ];
  return list.filter((item) => item !== false);
}
