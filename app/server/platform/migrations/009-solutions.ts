import type { Knex } from "knex";

/** Recipes of the house's own, and calculations that are kept with what they belong to. */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable("recipes", (t) => {
    t.string("id").notNullable();
    t.integer("version").notNullable();
    t.text("document").notNullable();
    t.string("at").notNullable();
    t.string("person_id").notNullable().references("people.id");
    t.string("reason").notNullable();
    t.primary(["id", "version"]);
  });
  await db.schema.createTable("kept_calculations", (t) => {
    t.string("id").primary();
    t.string("calculator").notNullable();
    // What was put in, and what came of it then.
    t.text("inputs").notNullable();
    t.text("answer").notNullable();
    // What it belongs to; nothing where it stands for itself.
    t.string("subject_kind");
    t.string("subject_id");
    t.string("note").notNullable();
    t.string("at").notNullable();
    t.string("person_id").notNullable().references("people.id");
    t.index(["subject_kind", "subject_id", "id"]);
  });
}

export async function down(): Promise<void> {
  throw new Error("A migration is never taken back: restore the backup made before it.");
}
