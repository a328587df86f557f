import type { Knex } from "knex";

/** Files of results that were brought in, and how the columns of such a file were understood. */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable("imports", (t) => {
    t.string("id").primary();
    t.string("at").notNullable();
    t.string("person_id").notNullable().references("people.id");
    t.string("name").notNullable();
    t.string("sha256").notNullable();
    // The file, until it was taken over or put away; packed.
    t.binary("content");
    t.integer("lines").notNullable();
    t.text("mapping").notNullable();
    // looked, taken, undone
    t.string("status").notNullable();
    t.integer("taken");
    t.string("settled_at");
    t.index(["sha256"]);
    t.index(["at"]);
  });
  await db.schema.createTable("import_mappings", (t) => {
    // The head of the file, as one text.
    t.string("head").primary();
    t.text("mapping").notNullable();
    t.string("at").notNullable();
  });
}

export async function down(): Promise<void> {
  throw new Error("A migration is never taken back: restore the backup made before it.");
}
