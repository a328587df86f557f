import type { Knex } from "knex";

/** What derives from what, so that a change of one is followed to the other. */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable("derivations", (t) => {
    t.string("derived_id").notNullable().references("readings.id");
    t.string("source_id").notNullable().references("readings.id");
    t.primary(["derived_id", "source_id"]);
    t.index(["source_id"]);
  });
}

export async function down(): Promise<void> {
  throw new Error("A migration is never taken back: restore the backup made before it.");
}
