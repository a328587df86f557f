import type { Knex } from "knex";

/** Plans of several tests at once: one is open at a time, the others are kept. */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable("bench_plans", (t) => {
    t.string("id").primary();
    t.text("document").notNullable();
    t.string("person_id").notNullable().references("people.id");
    t.string("started_at").notNullable();
    t.string("ended_at");
    t.index(["ended_at", "started_at"]);
  });
}

export async function down(db: Knex): Promise<void> {
  await db.schema.dropTable("bench_plans");
}
