import type { Knex } from "knex";

/** Keys by which other programs read: who gave one to what, until when it held. The key itself is kept nowhere. */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable("api_keys", (t) => {
    t.string("id").primary();
    // What it is for, in the words of whoever made it.
    t.string("name").notNullable();
    t.string("key_hash").notNullable().unique();
    // Its first letters, so that one that lies around can be told from others.
    t.string("begins").notNullable();
    t.string("made_at").notNullable();
    t.string("person_id").notNullable().references("people.id");
    t.string("used_at");
    t.string("ended_at");
  });
}

export async function down(): Promise<void> {
  throw new Error("A migration is never taken back: restore the backup made before it.");
}
