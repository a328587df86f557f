import type { Knex } from "knex";

/** People, sites, instruments, lots, rules; bench work as events; calibrations, checks, readings and the journal. */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable("people", (t) => {
    t.string("id").primary();
    t.string("name").notNullable().unique();
    t.string("role").notNullable();
    t.boolean("active").notNullable().defaultTo(true);
    t.string("created_at").notNullable();
  });
  await db.schema.createTable("sites", (t) => {
    t.string("id").primary();
    t.string("name").notNullable().unique();
    t.string("water").notNullable();
    t.integer("position").notNullable();
    t.text("expected").notNullable();
    t.text("limit_sets").notNullable();
    t.float("altitude_m");
    t.string("created_at").notNullable();
  });
  await db.schema.createTable("meters", (t) => {
    t.string("id").primary();
    t.string("code").notNullable().unique();
    t.string("name").notNullable();
    t.string("place").notNullable();
    t.boolean("has_cable").notNullable();
    t.text("channels").notNullable();
    t.string("created_at").notNullable();
  });
  await db.schema.createTable("sensors", (t) => {
    t.string("id").primary();
    t.string("meter_id").notNullable().references("meters.id");
    t.string("measurand").notNullable();
    t.string("code").notNullable();
    t.string("installed_on").notNullable();
    t.string("retired_on");
    t.index(["meter_id", "measurand"]);
  });
  await db.schema.createTable("service_log", (t) => {
    t.string("id").primary();
    t.string("meter_id").notNullable().references("meters.id");
    t.string("sensor_id").references("sensors.id");
    t.string("on_date").notNullable();
    t.string("kind").notNullable();
    t.text("note").notNullable();
    t.string("person_id").notNullable().references("people.id");
    t.string("created_at").notNullable();
    t.index(["meter_id", "on_date"]);
  });
  await db.schema.createTable("simulated_devices", (t) => {
    t.string("meter_id").primary().references("meters.id");
    t.text("state").notNullable();
    t.float("device_s").notNullable();
    t.string("synced_at").notNullable();
    t.float("speed").notNullable();
    t.boolean("follows").notNullable();
  });
  await db.schema.createTable("lots", (t) => {
    t.string("id").primary();
    t.string("code").notNullable().unique();
    t.string("kind").notNullable();
    t.integer("version").notNullable();
    t.text("document").notNullable();
    t.string("updated_at").notNullable();
  });
  await db.schema.createTable("lot_versions", (t) => {
    t.string("lot_id").notNullable().references("lots.id");
    t.integer("version").notNullable();
    t.text("document").notNullable();
    t.string("at").notNullable();
    t.string("person_id").notNullable().references("people.id");
    t.text("reason").notNullable();
    t.primary(["lot_id", "version"]);
  });
  await db.schema.createTable("house_rules", (t) => {
    t.integer("version").primary();
    t.text("document").notNullable();
    t.string("at").notNullable();
    t.text("reason").notNullable();
    t.string("person_id");
  });
  await db.schema.createTable("limit_sets", (t) => {
    t.string("id").primary();
    t.text("document").notNullable();
    t.string("at").notNullable();
    t.string("person_id").notNullable().references("people.id");
  });
  await db.schema.createTable("bench_work", (t) => {
    t.string("id").primary();
    t.string("kind").notNullable();
    t.string("title");
    // An analysis needs no meter.
    t.string("meter_id").references("meters.id");
    t.string("site_id").references("sites.id");
    t.string("person_id").notNullable().references("people.id");
    t.string("status").notNullable();
    t.string("started_at").notNullable();
    t.string("finished_at");
    t.integer("rules_version").notNullable().references("house_rules.version");
    t.index(["status", "started_at"]);
    t.index(["meter_id", "status"]);
  });
  // The methods that ship are part of the program; these are the organisation's own, every version of them.
  await db.schema.createTable("methods", (t) => {
    t.string("id").notNullable();
    t.integer("version").notNullable();
    t.text("document").notNullable();
    t.string("reason").notNullable();
    t.string("at").notNullable();
    t.string("person_id").notNullable().references("people.id");
    t.primary(["id", "version"]);
  });
  await db.schema.createTable("bench_events", (t) => {
    t.string("id").primary();
    t.string("work_id").notNullable().references("bench_work.id");
    t.integer("seq").notNullable();
    t.string("type").notNullable();
    t.string("at").notNullable();
    t.string("received_at").notNullable();
    t.string("person_id").notNullable().references("people.id");
    t.text("payload").notNullable();
    t.unique(["work_id", "seq"]);
  });
  await db.schema.createTable("pours", (t) => {
    t.string("lot_id").notNullable().references("lots.id");
    t.string("work_id").notNullable().references("bench_work.id");
    t.integer("station").notNullable();
    t.string("at").notNullable();
    t.primary(["lot_id", "work_id", "station"]);
    t.index(["work_id"]);
  });
  await db.schema.createTable("calibrations", (t) => {
    t.string("id").primary();
    t.string("work_id").notNullable().references("bench_work.id");
    t.string("meter_id").notNullable().references("meters.id");
    t.string("sensor_id").notNullable();
    t.string("measurand").notNullable();
    t.string("finished_at").notNullable();
    t.string("valid_until").notNullable();
    t.string("verdict").notNullable();
    t.string("basis").notNullable();
    t.text("headline").notNullable();
    t.float("trend");
    t.float("low");
    t.float("high");
    t.text("coefficients").notNullable();
    t.text("result").notNullable();
    t.text("findings").notNullable();
    t.integer("rules_version").notNullable().references("house_rules.version");
    t.string("person_id").notNullable().references("people.id");
    t.index(["meter_id", "measurand", "finished_at"]);
    t.index(["meter_id", "finished_at"]);
    t.index(["finished_at"]);
    t.index(["work_id"]);
  });
  await db.schema.createTable("checks", (t) => {
    t.string("id").primary();
    t.string("work_id").notNullable().references("bench_work.id");
    t.string("meter_id").notNullable().references("meters.id");
    t.string("measurand").notNullable();
    t.string("moment").notNullable();
    t.string("at").notNullable();
    t.string("last_good_at").notNullable();
    t.boolean("passed").notNullable();
    t.text("outcome").notNullable();
    t.string("person_id").notNullable().references("people.id");
    t.index(["meter_id", "measurand", "at"]);
    t.index(["at"]);
    t.index(["work_id"]);
  });
  await db.schema.createTable("readings", (t) => {
    t.string("id").primary();
    t.string("work_id").notNullable().references("bench_work.id");
    t.string("source").notNullable();
    t.string("parameter").notNullable();
    /** How the parameter is called, and with what it was measured where that is no meter. */
    t.string("analyte").notNullable();
    t.string("method");
    t.string("site_id").notNullable().references("sites.id");
    t.string("meter_id").references("meters.id");
    t.string("calibration_id").references("calibrations.id");
    t.string("sample").notNullable();
    t.float("value");
    t.float("measured_value");
    /** A result that is not one number, as it is written; and its ends. */
    t.string("shown");
    t.float("low");
    t.float("high");
    t.integer("decimals").notNullable();
    t.string("unit").notNullable();
    t.float("temperature_c");
    t.string("verdict").notNullable();
    t.string("grade");
    t.text("check_evidence");
    t.text("findings").notNullable();
    t.integer("rules_version").notNullable().references("house_rules.version");
    t.string("taken_at").notNullable();
    t.string("person_id").notNullable().references("people.id");
    t.index(["taken_at"]);
    t.index(["work_id"]);
    t.index(["site_id", "parameter", "taken_at"]);
    t.index(["site_id", "taken_at"]);
    t.index(["meter_id", "parameter", "taken_at"]);
    t.index(["meter_id", "taken_at"]);
    t.index(["parameter", "taken_at"]);
    t.index(["parameter", "analyte"]);
    t.index(["calibration_id"]);
    t.index(["verdict", "taken_at"]);
    t.index(["value"]);
  });
  // Apart from the readings, whose rows are rewritten when they are judged anew: this is the bulk, and it seldom changes.
  await db.schema.createTable("evidence_calibrations", (t) => {
    t.string("key").primary();
    t.text("document").notNullable();
  });
  await db.schema.createTable("reading_evidence", (t) => {
    t.string("reading_id").primary().references("readings.id");
    t.string("calibration_key").references("evidence_calibrations.key");
    t.text("document").notNullable();
  });
  await db.schema.createTable("reading_judgements", (t) => {
    t.string("reading_id").notNullable().references("readings.id");
    t.integer("seq").notNullable();
    t.string("at").notNullable();
    t.float("value");
    t.string("verdict").notNullable();
    t.text("findings").notNullable();
    t.integer("rules_version").notNullable();
    t.text("cause").notNullable();
    t.string("rejudging_id");
    t.primary(["reading_id", "seq"]);
  });
  await db.schema.createTable("rejudgings", (t) => {
    t.string("id").primary();
    t.string("kind").notNullable();
    t.string("subject_id").notNullable();
    t.text("cause").notNullable();
    t.integer("rules_version").notNullable().references("house_rules.version");
    t.string("status").notNullable();
    t.integer("readings");
    t.integer("changed");
    t.string("person_id").notNullable().references("people.id");
    t.string("requested_at").notNullable();
    t.string("finished_at");
    t.index(["status"]);
    t.index(["kind", "subject_id"]);
  });
  await db.schema.createTable("journal", (t) => {
    t.integer("seq").primary();
    t.string("at").notNullable();
    t.string("person_id").notNullable();
    t.string("action").notNullable();
    t.string("subject_kind").notNullable();
    t.string("subject_id").notNullable();
    t.text("before");
    t.text("after");
    t.text("reason");
    t.string("previous_hash").notNullable();
    t.string("hash").notNullable();
    t.index(["subject_kind", "subject_id"]);
  });
}

export async function down(db: Knex): Promise<void> {
  for (const table of [
    "journal",
    "rejudgings",
    "reading_judgements",
    "reading_evidence",
    "evidence_calibrations",
    "readings",
    "checks",
    "calibrations",
    "pours",
    "bench_events",
    "bench_work",
    "limit_sets",
    "methods",
    "house_rules",
    "lot_versions",
    "lots",
    "simulated_devices",
    "service_log",
    "sensors",
    "meters",
    "sites",
    "people",
  ]) {
    await db.schema.dropTable(table);
  }
}
