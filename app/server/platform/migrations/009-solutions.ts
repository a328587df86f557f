import type { Knex } from "knex";

/**
 * Recipes of the house's own, calculations that are kept with what they belong to, the house's own detection limits, and how two observers
 * see one colour.
 */
export async function up(db: Knex): Promise<void> {
  // Some databases came by the bottle of an electrolyte with 008, which was given out in two forms; all have it from here on.
  if (!(await db.schema.hasColumn("service_log", "lot_id"))) {
    await db.schema.alterTable("service_log", (t) => {
      t.string("lot_id").references("lots.id");
    });
  }
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
  await db.schema.alterTable("readings", (t) => {
    // By whose limits it was read when it was written, as a list of their ids; null where nobody kept it.
    t.text("limit_sets");
  });
  await db.schema.createTable("detection_limits", (t) => {
    t.string("id").primary();
    t.string("method_id").notNullable();
    t.string("parameter").notNullable();
    t.double("value").notNullable();
    t.string("unit").notNullable();
    // Standard deviation and ids of the replicates, and what they were of.
    t.text("document").notNullable();
    t.string("at").notNullable();
    t.string("person_id").notNullable().references("people.id");
    t.index(["method_id", "parameter", "id"]);
  });
  await db.schema.createTable("second_looks", (t) => {
    t.string("work_id").notNullable().references("bench_work.id");
    t.integer("replicate").notNullable();
    t.string("step").notNullable();
    t.string("at").notNullable();
    t.string("method_id").notNullable();
    t.string("first_id").notNullable().references("people.id");
    // As the second one was called: somebody who helps need not be known here.
    t.string("observer").notNullable();
    // What the second saw less what the first saw, in steps of the scale.
    t.double("difference").notNullable();
    t.primary(["work_id", "replicate", "step"]);
    t.index(["at"]);
  });
}

export async function down(): Promise<void> {
  throw new Error("A migration is never taken back: restore the backup made before it.");
}
