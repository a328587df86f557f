import type { Knex } from "knex";

/** What people wrote beside a result, without changing or reviewing it. */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable("remarks", (t) => {
    // Made by the page, so that a remark sent twice is kept once.
    t.string("id").primary();
    t.string("reading_id").notNullable().references("readings.id");
    t.string("at").notNullable();
    t.string("person_id").notNullable().references("people.id");
    t.text("text").notNullable();
    t.index(["reading_id", "at"]);
  });
}

export async function down(): Promise<void> {
  throw new Error("A migration is never taken back: restore the backup made before it.");
}
