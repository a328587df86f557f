import type { Knex } from "knex";

/** So many results before say what is usual, and at least so many are needed. */
const [usualFrom, usualLeast] = [20, 3];

/** Between which values a site gave something before; null while too little is known. */
export async function usualBefore(
  trx: Knex,
  siteId: string,
  analyte: { parameter: string; analyte: string },
  before: string,
): Promise<{ low: number; high: number } | null> {
  const rows: { value: number }[] = await trx("readings")
    .where({ site_id: siteId, parameter: analyte.parameter, analyte: analyte.analyte, kind: "sample" })
    .where("measured_at", "<", before)
    .whereNotNull("value")
    .whereNot({ verdict: "void" })
    .orderBy("measured_at", "desc")
    .limit(usualFrom)
    .select("value");
  const values = rows.map((r) => r.value);
  return values.length < usualLeast ? null : { low: Math.min(...values), high: Math.max(...values) };
}
