import type { Knex } from "knex";
import { judgeKeeping } from "../../../core/results/rules/keeping";
import { samplingReader } from "../samples/sampling.server";

/** What of a bottle's water has changed by standing, before it is measured. */
export interface Waited {
  code: string;
  filled_at: string;
  /** Of which quantities, and within how many minutes each was to be measured. */
  late: { parameter: string; keeps_min: number }[];
}

/** For which tests a bottle has waited too long at a moment; null where it has for none, or no bottle is known. */
export async function waitedTooLong(
  db: Knex,
  sample_id: string | null,
  tests: readonly { parameter: string; keeps_min: number | null }[],
  now: string,
): Promise<Waited | null> {
  if (!sample_id) return null;
  const samplingOf = await samplingReader(db, [sample_id]);
  const sampling = samplingOf(sample_id, "");
  const late = tests.flatMap(({ parameter, keeps_min }) => {
    const own = samplingOf(sample_id, parameter);
    const water = own && { collected_at: own.filled_at, measured_at: now, sampling: own };
    const kept = water && judgeKeeping(water, keeps_min).at(0);
    return keeps_min && kept && kept.severity !== "ok" ? [{ parameter, keeps_min }] : [];
  });
  return sampling && late.length > 0 ? { code: sampling.code, filled_at: sampling.filled_at, late } : null;
}
