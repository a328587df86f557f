import type { Knex } from "knex";

/** Files that were brought in hold results, lots or methods; what came of one is known, so that it can be taken out again. */
export async function up(db: Knex): Promise<void> {
  await db.schema.alterTable("imports", (t) => {
    // results, lots, methods
    t.string("kind").notNullable().defaultTo("results");
    // The ids of what came of it, as JSON; results are found by their work instead.
    t.text("brought");
  });
}

export async function down(): Promise<void> {
  throw new Error("A migration is never taken back: restore the backup made before it.");
}
