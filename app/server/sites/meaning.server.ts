import { speciesNamed } from "../../../core/methods/methodWords";
import { foundOf } from "../../../core/quantity/found";
import { type LimitSet, type Meaning, meaningsOf } from "../../../core/rules/limitSets";
import type { ReadingRow } from "../results/readings.server";
import { limitSetIds } from "./limitSetIds";

type Reported = Pick<ReadingRow, "parameter" | "analyte" | "unit" | "value" | "low" | "high" | "shown">;

/** What a reading in the ledger found: its ends where it has some, else its one value; null when it has no result. */
export function foundBy({ value, low, high }: Reported) {
  if (low !== null || high !== null) {
    return foundOf(low ?? Number.NEGATIVE_INFINITY, high ?? Number.POSITIVE_INFINITY);
  }
  return value === null ? null : foundOf(value, value);
}

/** What a reading means by the limits it was read by when it was written, each with the set's id; nothing where those were not kept. */
export function meaningsKept(
  reading: Reported & Pick<ReadingRow, "limit_sets">,
  sets: readonly LimitSet[],
): (Meaning & { id: string })[] {
  const found = foundBy(reading);
  const { parameter, analyte, unit, limit_sets } = reading;
  if (!found || limit_sets === null) return [];
  const ids = limitSetIds(limit_sets);
  const quantity = { parameter, unit, species: speciesNamed(parameter, analyte) };
  return sets
    .filter((s) => ids.includes(s.id))
    .flatMap((set) => meaningsOf(quantity, found, [set]).map((m) => ({ ...m, id: set.id })));
}

/** The first limit that a reading does not keep, in a few words and in full; null when it keeps all that it can be held against. */
export function beyond(
  reading: Reported,
  sets: readonly LimitSet[],
): { short: string; words: string } | null {
  const found = foundBy(reading);
  if (!found) return null;
  const { parameter, analyte, unit } = reading;
  const broken = meaningsOf({ parameter, unit, species: speciesNamed(parameter, analyte) }, found, sets).find(
    (m) => m.kept === false,
  );
  return broken ? { short: broken.short, words: `${broken.words} ${broken.set}` } : null;
}
