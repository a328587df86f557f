import type { Knex } from "knex";

/** Passwords and PINs; who is signed in, and in which browser. */
export async function up(db: Knex): Promise<void> {
  await db.schema.alterTable("people", (t) => {
    // Hashes with how they were made; null where there is none.
    t.string("password");
    t.string("pin");
    // The password was somebody else's choice: its owner chooses another at the next sign-in.
    t.boolean("must_change").notNullable().defaultTo(false);
    // Wrong tries since the last right one, and until when the next one waits.
    t.integer("wrong_count").notNullable().defaultTo(0);
    t.string("wait_until");
  });
  await db.schema.createTable("browsers", (t) => {
    t.string("id").primary();
    // The hash of what the browser carries.
    t.string("key").notNullable().unique();
    t.string("name").notNullable();
    // Until when PINs will do here.
    t.string("unlocked_until");
    t.integer("wrong_pins").notNullable();
    t.string("created_at").notNullable();
  });
  await db.schema.createTable("sessions", (t) => {
    t.string("key").primary();
    t.string("person_id").notNullable().references("people.id");
    t.string("browser_id").notNullable().references("browsers.id");
    t.string("how").notNullable();
    t.string("begun_at").notNullable();
    t.string("seen_at").notNullable();
    t.string("until").notNullable();
    t.index(["person_id"]);
    t.index(["browser_id"]);
    t.index(["until"]);
  });
}

export async function down(): Promise<void> {
  throw new Error("A migration is never taken back: restore the backup made before it.");
}
