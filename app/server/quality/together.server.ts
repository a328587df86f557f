import type { Knex } from "knex";
import { checkKinds } from "../../../core/bench/resultKinds";
import type { TogetherEvidence } from "../../../core/results/qualityEvidence";
import { goesWith } from "../../../core/results/together";
import type { Finishing } from "../bench/benchWork.server";
import { judgeAnew } from "../results/judgeAnew.server";
import { shifted, waterAt, whereWaterAround } from "../results/waterAround";
import { rulesInForce } from "../rules/rules.server";

/** So many of the newest pairs say how two quantities go together; older ones belong to another state of the water. */
const LATELY = 30;

interface Row {
  id: string;
  parameter: string;
  analyte: string;
  unit: string;
  value: number;
  collected_at: string | null;
  measured_at: string;
  sample_id: string | null;
}

/** Results of a site that say something of its water: samples with a number that nobody holds back. One in four may be off: the line is robust. */
const soundOf = (trx: Knex, site_id: string, parameter: string): Knex.QueryBuilder =>
  trx("readings")
    .where({ site_id, parameter })
    .whereNotIn("kind", [...checkKinds])
    .whereNotNull("value")
    .whereIn("verdict", ["sound", "qualified"])
    .select("id", "parameter", "analyte", "unit", "value", "collected_at", "measured_at", "sample_id");

type OfWater = Pick<Row, "collected_at" | "measured_at" | "sample_id">;

const minutesApart = (a: OfWater, b: OfWater) =>
  Math.abs(Date.parse(waterAt(a)) - Date.parse(waterAt(b))) / 60_000;

/** Which of some results was of the same water: of the same bottle before others, then the nearest, then what was measured first. */
function beside(rows: readonly Row[], own: OfWater, within_min: number): Row | undefined {
  const other = (r: Row) => Number(!(own.sample_id && r.sample_id === own.sample_id));
  return rows
    .filter((r) => minutesApart(r, own) <= within_min)
    .sort(
      (a, b) =>
        other(a) - other(b) ||
        minutesApart(a, own) - minutesApart(b, own) ||
        a.measured_at.localeCompare(b.measured_at) ||
        a.id.localeCompare(b.id),
    )[0];
}

/** What was measured beside a result, and the newest pairs of the two at its site before it; undefined where nothing was. */
export async function togetherAt(
  trx: Knex,
  own: OfWater & { site_id: string; parameter: string; analyte: string },
): Promise<TogetherEvidence | undefined> {
  const other = goesWith[own.parameter];
  if (!other) return undefined;
  const { within_min } = (await rulesInForce(trx)).rules.derived;
  const near: Row[] = await whereWaterAround(soundOf(trx, own.site_id, other), waterAt(own), within_min);
  const found = beside(near, own, within_min);
  if (!found) return undefined;
  const before: Row[] = await soundOf(trx, own.site_id, own.parameter)
    .where({ analyte: own.analyte })
    .where("measured_at", "<", own.measured_at)
    .orderBy("measured_at", "desc")
    .limit(LATELY);
  const [oldest] = before.map(waterAt).sort();
  const others: Row[] = oldest
    ? await soundOf(trx, own.site_id, other)
        .whereBetween("measured_at", [shifted(oldest, -within_min), own.measured_at])
        .orderBy("measured_at", "desc")
        // A meter may be read many times for each test: more than this is looked at no further.
        .limit(20 * LATELY)
    : [];
  const pairs = before.flatMap((y): [number, number][] => {
    const x = beside(others, y, within_min);
    return x ? [[x.value, y.value]] : [];
  });
  const { id, parameter, analyte, value, unit } = found;
  return { with: { reading_id: id, parameter, analyte, value, unit }, pairs };
}

/** What other quantities are held beside. */
export const heldBeside: ReadonlySet<string> = new Set(Object.values(goesWith));

/** A result that is held beside another of its water. */
export type HeldBeside = Parameters<typeof togetherAt>[1] & { id: string };

/** The results of a site that are held beside a quantity. */
export const heldOf = (trx: Knex, site_id: string, parameter: string): Knex.QueryBuilder =>
  trx("readings")
    .where({ site_id })
    .whereNotIn("kind", [...checkKinds])
    .whereIn(
      "parameter",
      Object.keys(goesWith).filter((y) => goesWith[y] === parameter),
    )
    .whereIn("source", ["meter", "analysis"])
    .whereNot("verdict", "void")
    .orderBy("id")
    .select("id", "site_id", "parameter", "analyte", "collected_at", "measured_at", "sample_id");

/** Holds results beside what there is of a quantity now; those for which it changes nothing stay as they are. */
export async function holdBeside(
  trx: Knex,
  rows: readonly HeldBeside[],
  parameter: string,
  finishing: Finishing,
): Promise<void> {
  const known = new Map<string, TogetherEvidence | undefined>();
  for (const row of rows) known.set(row.id, await togetherAt(trx, row));
  await judgeAnew(
    trx,
    rows.map((r) => r.id),
    (evidence, { id }) => {
      if (!("measured_at" in evidence)) return evidence;
      const { together: _, ...rest } = evidence as typeof evidence & { together?: TogetherEvidence };
      const together = known.get(id);
      return (together ? { ...rest, together } : rest) as typeof evidence;
    },
    `${parameter} of the same water`,
    finishing,
  );
}

/** Results came, changed or were taken out: what is held beside them is judged anew. For those that nothing is held beside it does nothing. */
export async function followTogether(trx: Knex, ids: readonly string[], finishing: Finishing): Promise<void> {
  const came: Omit<HeldBeside, "id" | "analyte">[] = await trx("readings")
    .whereIn("id", [...ids])
    .where({ kind: "sample" })
    .whereIn("parameter", [...heldBeside])
    .orderBy("id")
    .select("site_id", "parameter", "collected_at", "measured_at", "sample_id");
  if (came.length === 0) return;
  const { within_min } = (await rulesInForce(trx)).rules.derived;
  for (const one of came) {
    const held = heldOf(trx, one.site_id, one.parameter);
    const rows: HeldBeside[] = await whereWaterAround(held, waterAt(one), within_min);
    await holdBeside(trx, rows, one.parameter, finishing);
  }
}
