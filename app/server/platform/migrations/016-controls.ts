import type { Knex } from "knex";

/** The controls that were ever measured, each with its newest results, are found without looking through all of them. */
export async function up(db: Knex): Promise<void> {
  await db.raw(
    "create index readings_of_controls on readings (subject_code, parameter, analyte, instrument_id, measured_at) where kind = 'control'",
  );
}

export async function down(): Promise<void> {
  throw new Error("A migration is never taken back: restore the backup made before it.");
}
