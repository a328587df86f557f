import type { Knex } from "knex";
import type { TogetherEvidence } from "../../../core/results/qualityEvidence";
import { goesWith } from "../../../core/results/together";
import type { Finishing } from "../bench/benchWork.server";
import { judgeAnew } from "../results/judgeAnew.server";
import { rulesInForce } from "../rules/rules.server";

/** So many of the newest pairs say how two quantities go together; older ones belong to another state of the water. */
const LATELY = 30;

interface Row {
  id: string;
  parameter: string;
  analyte: string;
  unit: string;
  value: number;
  measured_at: string;
  sample_id: string | null;
}

/** Results of a site that say something of its water: samples with a number that nobody holds back. One in four may be off: the line is robust. */
const soundOf = (trx: Knex, site_id: string, parameter: string) =>
  trx("readings")
    .where({ site_id, parameter, kind: "sample" })
    .whereNotNull("value")
    .whereIn("verdict", ["sound", "qualified"])
    .select("id", "parameter", "analyte", "unit", "value", "measured_at", "sample_id") as Knex.QueryBuilder<
    object,
    Row[]
  >;

const distance = (a: Row, b: Pick<Row, "measured_at">) =>
  Math.abs(Date.parse(a.measured_at) - Date.parse(b.measured_at));

/** Which of some results was of the same water: of the same bottle, or nearest in time within some minutes. */
function beside(
  rows: readonly Row[],
  own: Pick<Row, "measured_at" | "sample_id">,
  within_ms: number,
): Row | undefined {
  const same = rows.filter(
    (r) => (own.sample_id && r.sample_id === own.sample_id) || distance(r, own) <= within_ms,
  );
  return same.sort((a, b) => distance(a, own) - distance(b, own))[0];
}

const shifted = (at: string, ms: number) => new Date(Date.parse(at) + ms).toISOString();

/** What was measured beside a result, and the newest pairs of the two at its site before it; undefined where nothing was. */
export async function togetherAt(
  trx: Knex,
  own: { site_id: string; parameter: string; analyte: string; measured_at: string; sample_id: string | null },
): Promise<TogetherEvidence | undefined> {
  const other = goesWith[own.parameter];
  if (!other) return undefined;
  const within_ms = (await rulesInForce(trx)).rules.derived.within_min * 60_000;
  const near = await soundOf(trx, own.site_id, other)
    .where((q) =>
      q
        .whereBetween("measured_at", [
          shifted(own.measured_at, -within_ms),
          shifted(own.measured_at, within_ms),
        ])
        .orWhere({ sample_id: own.sample_id ?? "" }),
    )
    .limit(LATELY);
  const found = beside(near, own, within_ms);
  if (!found) return undefined;
  const before = await soundOf(trx, own.site_id, own.parameter)
    .where({ analyte: own.analyte })
    .where("measured_at", "<", own.measured_at)
    .orderBy("measured_at", "desc")
    .limit(LATELY);
  const oldest = before.at(-1);
  const others = oldest
    ? await soundOf(trx, own.site_id, other)
        .whereBetween("measured_at", [shifted(oldest.measured_at, -within_ms), own.measured_at])
        .orderBy("measured_at", "desc")
        // A meter may be read many times for each test: more than this is looked at no further.
        .limit(20 * LATELY)
    : [];
  const pairs = before.flatMap((y): [number, number][] => {
    const x = beside(others, y, within_ms);
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
    .where({ site_id, kind: "sample" })
    .whereIn(
      "parameter",
      Object.keys(goesWith).filter((y) => goesWith[y] === parameter),
    )
    .whereIn("source", ["meter", "analysis"])
    .whereNot("verdict", "void")
    .orderBy("id")
    .select("id", "site_id", "parameter", "analyte", "measured_at", "sample_id");

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
    .select("site_id", "parameter", "measured_at", "sample_id");
  if (came.length === 0) return;
  const within_ms = (await rulesInForce(trx)).rules.derived.within_min * 60_000;
  for (const { site_id, parameter, measured_at, sample_id } of came) {
    const rows: HeldBeside[] = await heldOf(trx, site_id, parameter).where((q) =>
      q
        .whereBetween("measured_at", [shifted(measured_at, -within_ms), shifted(measured_at, within_ms)])
        .orWhere({ sample_id: sample_id ?? "" }),
    );
    await holdBeside(trx, rows, parameter, finishing);
  }
}
