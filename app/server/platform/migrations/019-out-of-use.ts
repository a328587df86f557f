import type { Knex } from "knex";

/** A meter that is broken or given away, and a site that is sampled no more: who said so, when and why; null while they are in use. */
export async function up(db: Knex): Promise<void> {
  for (const table of ["meters", "sites"])
    await db.schema.alterTable(table, (t) => {
      t.text("out_of_use");
    });
}

export async function down(): Promise<void> {
  throw new Error("A migration is never taken back: restore the backup made before it.");
}
