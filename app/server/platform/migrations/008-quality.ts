import type { Knex } from "knex";

/**
 * What derives from what; what a result is of, with which instrument, and how sure it is; charts of controls with the history of their
 * limits; what was done about checks that were out; and the containers of waste.
 */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable("derivations", (t) => {
    t.string("derived_id").notNullable().references("readings.id");
    t.string("source_id").notNullable().references("readings.id");
    t.primary(["derived_id", "source_id"]);
    t.index(["source_id"]);
  });
  await db.schema.alterTable("readings", (t) => {
    // sample, blank, control, standard, spike
    t.string("kind").notNullable().defaultTo("sample");
    // The method or the meter: what shares its checks.
    t.string("instrument_id");
    // The bottle of a control or a standard.
    t.string("subject_code");
    // Standard uncertainty, in the unit of the value.
    t.double("uncertainty");
    // How far the two lie apart of which the value is the mean.
    t.double("pair_range");
    t.index(["instrument_id", "parameter", "measured_at"]);
    t.index(["subject_code", "parameter", "measured_at"]);
    t.index(["kind", "measured_at"]);
  });
  await db.raw(
    `update readings set instrument_id = coalesce(meter_id, (select method_id from bench_work where bench_work.id = work_id))
     where source in ('meter', 'analysis')`,
  );
  await db.schema.alterTable("rejudging_changes", (t) => {
    t.double("uncertainty");
  });
  await db.schema.createTable("control_charts", (t) => {
    t.string("id").primary();
    t.string("code").notNullable();
    t.string("parameter").notNullable();
    t.string("analyte").notNullable();
    t.string("instrument_id").notNullable();
    t.integer("version").notNullable();
    // Centre and sigma, from which results, and how.
    t.text("document").notNullable();
    t.string("at").notNullable();
    t.string("person_id").notNullable().references("people.id");
    t.string("reason").notNullable();
    t.unique(["code", "parameter", "analyte", "instrument_id", "version"]);
  });
  await db.schema.createTable("quality_actions", (t) => {
    t.string("id").primary();
    t.string("reading_id").notNullable().unique().references("readings.id");
    t.string("opened_at").notNullable();
    t.string("closed_at");
    t.text("cause");
    t.text("done");
    t.string("person_id").references("people.id");
    t.index(["closed_at"]);
  });
  await db.schema.createTable("waste_containers", (t) => {
    t.string("id").primary();
    t.string("stream").notNullable();
    t.string("code").notNullable().unique();
    t.double("size_ml").notNullable();
    t.string("begun_at").notNullable();
    t.string("closed_at");
    t.string("given_to");
    t.string("person_id").notNullable().references("people.id");
    t.index(["stream", "closed_at"]);
  });
}

export async function down(): Promise<void> {
  throw new Error("A migration is never taken back: restore the backup made before it.");
}
