import type { Knex } from "knex";

/**
 * A sample is a thing of its own: known from the moment its bottle is filled, or received without a visit; results point to it.
 * Batches that go to a laboratory; where a site lies; rounds that are planned.
 */
export async function up(db: Knex): Promise<void> {
  await samples(db);
  await db.schema.alterTable("bench_work", (t) => {
    // The sample it measures; null where the water bears no registered name.
    t.string("sample_id");
    t.index(["sample_id"]);
  });
  await db.schema.alterTable("readings", (t) => {
    t.string("sample_id");
    t.index(["sample_id"]);
  });
  await pointToSamples(db);
  await db.schema.createTable("batches", (t) => {
    t.string("id").primary().references("bench_work.id");
    t.string("laboratory").notNullable();
    t.string("made_at").notNullable();
    t.string("received_at");
    t.integer("samples").notNullable();
    // Tests for which no result has come.
    t.integer("awaited").notNullable();
    t.integer("gaps").notNullable();
    t.string("status").notNullable();
    t.index(["made_at", "id"]);
  });
  await db.schema.createTable("batch_samples", (t) => {
    t.string("batch_id").notNullable().references("batches.id");
    t.string("sample_id").notNullable().references("samples.id");
    // What the way to the laboratory says of it.
    t.text("findings").notNullable();
    t.primary(["batch_id", "sample_id"]);
    t.index(["sample_id"]);
  });
  await db.schema.createTable("lab_mappings", (t) => {
    t.string("laboratory_key").primary();
    t.text("mapping").notNullable();
    t.string("at").notNullable();
  });
  await db.schema.alterTable("sites", (t) => {
    // Coordinates, distance along the water, branch, how to reach it, the well: one document.
    t.text("place").notNullable().defaultTo("{}");
  });
  await db.schema.createTable("bottle_types", (t) => {
    t.string("id").notNullable();
    t.integer("version").notNullable();
    t.text("document").notNullable();
    t.string("person_id").notNullable().references("people.id");
    t.string("at").notNullable();
    t.primary(["id", "version"]);
  });
  await db.schema.createTable("visit_templates", (t) => {
    t.string("id").notNullable();
    t.integer("version").notNullable();
    t.string("name").notNullable();
    t.text("document").notNullable();
    t.string("person_id").notNullable().references("people.id");
    t.string("at").notNullable();
    t.primary(["id", "version"]);
  });
  await db.schema.createTable("rounds", (t) => {
    t.string("id").primary();
    t.string("on_date").notNullable();
    t.string("name").notNullable();
    t.string("person_id").notNullable().references("people.id");
    // The sites in their order, what is to be done at each, and the labels that were printed for it.
    t.text("stops").notNullable();
    t.string("made_at").notNullable();
    t.index(["on_date", "id"]);
  });
}

async function samples(db: Knex): Promise<void> {
  await db.schema.createTable("samples_of_all_kinds", (t) => {
    t.string("id").primary();
    t.string("code").notNullable();
    t.string("code_key").notNullable();
    // Null when it was received without a visit.
    t.string("visit_id").references("bench_work.id");
    t.string("site_id").notNullable().references("sites.id");
    t.string("person_id").notNullable().references("people.id");
    t.string("type_id").notNullable();
    t.string("type_name").notNullable();
    t.string("collected_at").notNullable();
    t.string("keeps_until").notNullable();
    t.string("status").notNullable();
    t.string("verdict").notNullable();
    t.text("findings").notNullable();
    // Tests that are wanted of it, and of those that are not done the moment by which the first must be; null when none is.
    t.text("wanted").notNullable();
    t.string("waits_until");
    t.text("document").notNullable();
  });
  await db.raw(
    `insert into samples_of_all_kinds (id, code, code_key, visit_id, site_id, person_id, type_id, type_name, collected_at,
       keeps_until, status, verdict, findings, wanted, waits_until, document)
     select id, code, code_key, visit_id, site_id, person_id, type_id, type_name, collected_at,
       keeps_until, 'kept', verdict, findings, '[]', null, document from samples`,
  );
  await db.schema.dropTable("samples");
  await db.schema.renameTable("samples_of_all_kinds", "samples");
  await db.schema.alterTable("samples", (t) => {
    t.index(["visit_id"], "samples_visit");
    t.index(["site_id", "collected_at"], "samples_site_collected");
    t.index(["collected_at", "id"], "samples_collected");
    t.index(["code_key"], "samples_code");
    t.index(["waits_until", "id"], "samples_waits");
  });
}

/** Results of bottles that a visit filled say now of which. */
async function pointToSamples(db: Knex): Promise<void> {
  await db.raw(
    `update readings set sample_id = (select max(s.id) from samples s join bench_work w on w.visit_id = s.visit_id
       where w.id = readings.work_id and s.code_key = readings.sample_key)
     where work_id in (select id from bench_work where visit_id is not null)`,
  );
  await db.raw(
    `update bench_work set sample_id = (select max(r.sample_id) from readings r where r.work_id = bench_work.id)
     where visit_id is not null`,
  );
}

export async function down(): Promise<void> {
  throw new Error("A migration is never taken back: restore the backup made before it.");
}
