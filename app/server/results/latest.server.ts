import type { Knex } from "knex";

interface Measured {
  id: string;
  site_id: string;
  parameter: string;
  analyte: string;
  measured_at: string;
}

/** Keeps the newest reading of each parameter of a site at hand, so that no page looks through history for it. */
export async function noteLatest(
  trx: Knex,
  { id, site_id, parameter, analyte, measured_at }: Measured,
): Promise<void> {
  await trx("latest_readings")
    .insert({ site_id, parameter, analyte, reading_id: id, measured_at })
    .onConflict(["site_id", "parameter", "analyte"])
    .merge(["reading_id", "measured_at"])
    .where("latest_readings.measured_at", "<=", measured_at);
}

/** Before everything that can be measured. */
const never = "";

/**
 * A reading that was taken out is no longer the newest of its water: the one before it is. Where there is none it stays as
 * what was measured there, but whatever comes next takes its place.
 */
export async function forgetLatest(
  trx: Knex,
  { id, site_id, parameter, analyte }: Omit<Measured, "measured_at">,
): Promise<void> {
  const before: { id: string; measured_at: string } | undefined = await trx("readings")
    .where({ site_id, parameter, analyte, kind: "sample" })
    .whereNot("verdict", "void")
    .orderBy("measured_at", "desc")
    .first("id", "measured_at");
  await trx("latest_readings")
    .where({ site_id, parameter, analyte, reading_id: id })
    .update({ reading_id: before?.id ?? id, measured_at: before?.measured_at ?? never });
}

/** Everything that was ever measured, for the ledger's filter. */
export const knownParameters = (db: Knex): Promise<{ parameter: string; analyte: string }[]> =>
  db("latest_readings").distinct("parameter", "analyte").orderBy("analyte");
