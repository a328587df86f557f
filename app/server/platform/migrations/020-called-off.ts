import type { Knex } from "knex";

/** A round that is not gone: who called it off, when and why; null while it stands. */
export async function up(db: Knex): Promise<void> {
  await db.schema.alterTable("rounds", (t) => {
    t.text("called_off");
  });
}

export async function down(): Promise<void> {
  throw new Error("A migration is never taken back: restore the backup made before it.");
}
