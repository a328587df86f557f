import type { Knex } from "knex";
import { duplicatePrecision } from "../../../core/quality/duplicatePrecision";
import { FEWEST_PAIRS } from "../../../core/quality/uncertainty";

/** So many of the newest pairs say how well hands and instrument repeat. */
const LATELY = 60;

/** What has no true zero repeats by a difference, everything else by a share of its value. */
const withoutZero = new Set(["ph", "temperature", "redox"]);

/** How well pairs of a method or a meter repeat at a value, from those before a moment that were not taken out; undefined while there are too few. */
export async function repeatabilityOf(
  trx: Knex,
  { instrument_id, parameter, value }: { instrument_id: string; parameter: string; value: number | null },
  before: string,
): Promise<{ sd: number; n: number } | undefined> {
  if (value === null) return undefined;
  const rows: { pair_range: number; value: number }[] = await trx("readings")
    .where({ instrument_id, parameter })
    .where("measured_at", "<", before)
    .whereNotNull("pair_range")
    .whereNotNull("value")
    .whereNot("verdict", "void")
    .orderBy("measured_at", "desc")
    .limit(LATELY)
    .select("pair_range", "value");
  const byShare = !withoutZero.has(parameter);
  const pairs = rows.flatMap((r) =>
    byShare ? (r.value > 0 ? [{ a: 1, b: 1 + r.pair_range / r.value }] : []) : [{ a: 0, b: r.pair_range }],
  );
  if (pairs.length < FEWEST_PAIRS) return undefined;
  const { sd } = duplicatePrecision(pairs);
  return { sd: byShare ? sd * value : sd, n: pairs.length };
}
