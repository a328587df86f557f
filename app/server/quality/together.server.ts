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

/** A result came, changed or was taken out that others are held beside: those of its water are judged anew. */
export async function followTogether(
  trx: Knex,
  came: { site_id: string; parameter: string; measured_at: string; sample_id: string | null },
  finishing: Finishing,
): Promise<void> {
  const held = Object.keys(goesWith).filter((y) => goesWith[y] === came.parameter);
  if (held.length === 0) return;
  const within_ms = (await rulesInForce(trx)).rules.derived.within_min * 60_000;
  const rows: Row[] = await trx("readings")
    .where({ site_id: came.site_id, kind: "sample" })
    .whereIn("parameter", held)
    .whereIn("source", ["meter", "analysis"])
    .whereNot("verdict", "void")
    .where((q) =>
      q
        .whereBetween("measured_at", [
          shifted(came.measured_at, -within_ms),
          shifted(came.measured_at, within_ms),
        ])
        .orWhere({ sample_id: came.sample_id ?? "" }),
    )
    .select("id", "parameter", "analyte", "measured_at", "sample_id");
  const known = new Map<string, TogetherEvidence | undefined>();
  for (const row of rows) known.set(row.id, await togetherAt(trx, { ...row, site_id: came.site_id }));
  await judgeAnew(
    trx,
    rows.map((r) => r.id),
    (evidence, { id }) => {
      if (!("measured_at" in evidence)) return evidence;
      const { together: _, ...rest } = evidence as typeof evidence & { together?: TogetherEvidence };
      const together = known.get(id);
      return (together ? { ...rest, together } : rest) as typeof evidence;
    },
    `${came.parameter} of the same water`,
    finishing,
  );
}

/** What other quantities are held beside. */
export const heldBeside: ReadonlySet<string> = new Set(Object.values(goesWith));

/** As {@link followTogether}, of results that changed or were taken out; for those that nothing is held beside it does nothing. */
export async function followTogetherOf(
  trx: Knex,
  ids: readonly string[],
  finishing: Finishing,
): Promise<void> {
  if (ids.length === 0) return;
  const rows: Parameters<typeof followTogether>[1][] = await trx("readings")
    .whereIn("id", [...ids])
    .where({ kind: "sample" })
    .whereIn("parameter", [...heldBeside])
    .orderBy("id")
    .select("site_id", "parameter", "measured_at", "sample_id");
  for (const row of rows) await followTogether(trx, row, finishing);
}
