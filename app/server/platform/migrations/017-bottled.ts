import type { Knex } from "knex";

/** Results whose water was taken before it was measured are found by when that was; there are few of them beside those that were read in place. */
export async function up(db: Knex): Promise<void> {
  await db.raw(
    "create index readings_of_bottles on readings (site_id, parameter, collected_at) where collected_at is not null",
  );
}

export async function down(): Promise<void> {
  throw new Error("A migration is never taken back: restore the backup made before it.");
}
