import type { Knex } from "knex";

/** Visits to sites, the samples they bring home, and the bench work that was begun from them. */
export async function up(db: Knex): Promise<void> {
  await db.schema.alterTable("bench_work", (t) => {
    // The visit from which the work was begun; null at a bench without one.
    t.string("visit_id");
    t.index(["visit_id"]);
  });
  await db.schema.createTable("visits", (t) => {
    t.string("id").primary().references("bench_work.id");
    t.string("site_id").notNullable().references("sites.id");
    t.string("person_id").notNullable().references("people.id");
    t.string("arrived_at").notNullable();
    t.string("left_at").notNullable();
    t.string("verdict").notNullable();
    // What was planned and not done, by name.
    t.text("missing").notNullable();
    t.text("findings").notNullable();
    // Air, look, clarity, well: what was found, as the visit has it.
    t.text("document").notNullable();
    t.index(["site_id", "arrived_at"]);
    t.index(["arrived_at"]);
  });
  await db.schema.createTable("samples", (t) => {
    t.string("id").primary();
    t.string("code").notNullable();
    t.string("code_key").notNullable();
    t.string("visit_id").notNullable().references("visits.id");
    t.string("site_id").notNullable().references("sites.id");
    t.string("person_id").notNullable().references("people.id");
    t.string("type_id").notNullable();
    t.string("type_name").notNullable();
    t.string("collected_at").notNullable();
    // Until when the water in it may be analysed.
    t.string("keeps_until").notNullable();
    t.string("verdict").notNullable();
    t.text("findings").notNullable();
    t.text("document").notNullable();
    t.index(["visit_id"]);
    t.index(["site_id", "collected_at"]);
    t.index(["collected_at", "id"]);
    t.index(["code_key"]);
  });
}

export async function down(): Promise<void> {
  throw new Error("A migration is never taken back: restore the backup made before it.");
}
