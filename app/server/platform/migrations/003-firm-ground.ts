import { createHash } from "node:crypto";
import type { Knex } from "knex";
import { pack } from "../pack.server";

/**
 * Three times instead of one; an event kept once; documents by content; head tables so that no page scans history;
 * re-judgings that can be repeated; versions of the program that brought the schema up to date.
 */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable("program_log", (t) => {
    t.string("version").notNullable();
    t.string("migration").notNullable();
    t.string("at").notNullable();
  });
  await journal(db);
  await benchWork(db);
  await lotsAndChecks(db);
  await readings(db);
  await calibrations(db);
  await rejudgings(db);
  await db.schema.alterTable("sites", (t) => {
    t.string("zone");
  });
  await db.schema.alterTable("service_log", (t) => {
    // When what was in force of the sensor ended by it; null when it ended nothing.
    t.string("ends_at");
  });
  await db.schema.createTable("retired_methods", (t) => {
    t.string("id").primary();
    t.string("at").notNullable();
    t.string("person_id").notNullable().references("people.id");
    t.text("reason").notNullable();
  });
}

export async function down(): Promise<void> {
  throw new Error("A migration is never taken back: restore the backup made before it.");
}

const hash = (text: string) => createHash("sha256").update(text).digest("base64url");

/** Rows of a table in the order of a key, a few hundred at a time. */
async function eachPage<T extends Record<string, unknown>>(
  db: Knex,
  table: string,
  key: string,
  work: (rows: T[]) => Promise<void>,
): Promise<void> {
  let after: unknown = null;
  for (;;) {
    const query = db(table).orderBy(key).limit(500);
    if (after !== null) query.where(key, ">", after as string);
    const rows: T[] = await query;
    if (rows.length === 0) return;
    await work(rows);
    after = rows.at(-1)?.[key];
  }
}

/** The head is the queue of writers; entries of bench events point to the events and keep their hash. */
async function journal(db: Knex): Promise<void> {
  await db.schema.createTable("journal_head", (t) => {
    t.integer("id").primary();
    t.integer("seq").notNullable();
    t.string("hash").notNullable();
  });
  const last = await db("journal").orderBy("seq", "desc").first("seq", "hash");
  await db("journal_head").insert({ id: 1, seq: last?.seq ?? 0, hash: last?.hash ?? "0".repeat(64) });
  await db.schema.alterTable("journal", (t) => {
    // Which events of a piece of bench work an entry seals: the first and the last, by their number.
    t.integer("events_from");
    t.integer("events_to");
    t.dropIndex(["subject_kind", "subject_id"]);
  });
  await db.raw(
    "create index journal_of_things on journal (subject_kind, subject_id) where subject_kind <> 'bench-work'",
  );
}

interface EventRow extends Record<string, unknown> {
  id: string;
  work_id: string;
  seq: number;
  type: string;
  at: string;
  received_at: string;
  person_id: string;
  payload: string;
}

/** Finished work keeps its events packed in one row; open work keeps them as rows, without what the columns say. */
async function benchWork(db: Knex): Promise<void> {
  await db.schema.renameTable("evidence_calibrations", "documents");
  await db.schema.alterTable("bench_events", (t) => {
    t.string("claimed_at");
  });
  await db.schema.alterTable("bench_work", (t) => {
    t.string("method_id");
    t.string("last_type").notNullable().defaultTo("started");
    t.string("last_at").notNullable().defaultTo("");
    t.integer("event_count").notNullable().defaultTo(0);
    t.binary("packed");
    t.index(["kind", "status", "started_at"]);
    t.index(["kind", "method_id", "started_at"]);
    t.index(["kind", "started_at"]);
  });
  const documents = new Map<string, string>();
  await eachPage<{ id: string; status: string }>(db, "bench_work", "id", async (works) => {
    for (const work of works) {
      const rows: EventRow[] = await db("bench_events").where({ work_id: work.id }).orderBy("seq");
      const events = rows.map((row) => {
        const { id: _id, at: _at, by: _by, type: _type, ...rest } = JSON.parse(row.payload);
        return { ...row, method: rest.method?.id ?? null, payload: withReferences(rest, documents) };
      });
      await keep(db, documents);
      const last = events.at(-1);
      const first = events[0];
      const ended = work.status !== "open";
      await db("bench_work")
        .where({ id: work.id })
        .update({
          method_id: first?.method ?? null,
          last_type: last?.type ?? "started",
          last_at: last?.at ?? "",
          event_count: events.length,
          packed: ended
            ? pack(events.map((e) => [e.id, e.type, e.at, null, e.received_at, e.person_id, e.payload]))
            : null,
        });
      if (ended) await db("bench_events").where({ work_id: work.id }).delete();
      else {
        for (const e of events) {
          await db("bench_events")
            .where({ id: e.id })
            .update({ payload: JSON.stringify(e.payload) });
        }
      }
    }
  });
}

function withReferences(
  rest: Record<string, unknown>,
  documents: Map<string, string>,
): Record<string, unknown> {
  const refs: Record<string, string> = {};
  const plain: Record<string, unknown> = {};
  for (const [name, value] of Object.entries(rest)) {
    const text = JSON.stringify(value);
    if (text !== undefined && text.length >= 300 && name !== "capture") {
      const key = hash(text);
      documents.set(key, text);
      refs[name] = key;
    } else plain[name] = value;
  }
  return Object.keys(refs).length ? { ...plain, refs } : plain;
}

async function keep(db: Knex, documents: Map<string, string>): Promise<void> {
  const rows = [...documents].map(([key, document]) => ({ key, document }));
  for (let from = 0; from < rows.length; from += 100) {
    await db("documents")
      .insert(rows.slice(from, from + 100))
      .onConflict("key")
      .ignore();
  }
  documents.clear();
}

/** What a lot is asked for often stands in columns; a check that rests on a withdrawn lot counts no longer. */
async function lotsAndChecks(db: Knex): Promise<void> {
  await db.schema.alterTable("lots", (t) => {
    t.integer("poured").notNullable().defaultTo(0);
    t.string("good_until").notNullable().defaultTo("9999-12-31");
    t.string("withdrawn_since");
    t.boolean("emptied").notNullable().defaultTo(false);
    t.index(["kind", "good_until"]);
    t.index(["good_until"]);
  });
  const day = 86_400_000;
  for (const row of await db("lots").select("id", "document")) {
    const lot = JSON.parse(row.document);
    const open = lot.opened_on
      ? new Date(Date.parse(lot.opened_on) + lot.shelf_life_open_days * day).toISOString().slice(0, 10)
      : lot.expires_on;
    const poured = await db("pours").where({ lot_id: row.id }).count({ n: "*" }).first();
    await db("lots")
      .where({ id: row.id })
      .update({
        poured: Number(poured?.n ?? 0),
        good_until: Math.min(open, lot.expires_on),
        withdrawn_since: lot.withdrawn ? (lot.withdrawn.since ?? "") : null,
      });
  }
  await db.schema.alterTable("checks", (t) => {
    t.boolean("counts").notNullable().defaultTo(true);
    t.boolean("settled").notNullable().defaultTo(false);
    t.index(["meter_id", "measurand", "passed", "counts", "at"], "checks_last_good");
  });
  const settled = db("rejudgings").where({ kind: "check" }).select("subject_id");
  await db("checks").where({ passed: true }).orWhereIn("work_id", settled).update({ settled: true });
  await db.raw("create index checks_unsettled on checks (at) where settled = false");
}

interface OldReading extends Record<string, unknown> {
  id: string;
  sample: string;
  taken_at: string;
  findings: string;
}

const oldIndexes = [
  ["taken_at"],
  ["site_id", "parameter", "taken_at"],
  ["site_id", "taken_at"],
  ["meter_id", "parameter", "taken_at"],
  ["meter_id", "taken_at"],
  ["parameter", "taken_at"],
  ["parameter", "analyte"],
  ["verdict", "taken_at"],
  ["value"],
];

/** When a reading was measured: the last portion or read that counts, as its evidence says. */
function measuredAt(document: Record<string, unknown>, finished: string): string {
  type Portion = { at: string };
  type Replicate = { read_at: string | null; discarded: boolean };
  const pair = ((document.outcome as { pair?: number[] | null })?.pair ?? null) as number[] | null;
  const portions = (document.portions as Portion[] | undefined) ?? [];
  const used = pair ? pair.flatMap((i) => portions[i]?.at ?? []) : portions.map((p) => p.at);
  const reads = ((document.replicates as Replicate[] | undefined) ?? []).flatMap((r) =>
    r.discarded || !r.read_at ? [] : [r.read_at],
  );
  return [...used, ...reads].sort().at(-1) ?? finished;
}

async function readings(db: Knex): Promise<void> {
  await db.schema.alterTable("readings", (t) => {
    for (const columns of oldIndexes) t.dropIndex(columns);
  });
  await db.schema.alterTable("readings", (t) => {
    t.renameColumn("taken_at", "measured_at");
  });
  await db.schema.alterTable("readings", (t) => {
    t.string("collected_at");
    t.string("finished_at").notNullable().defaultTo("");
    t.string("sample_key").notNullable().defaultTo("");
  });
  await db.schema.alterTable("reading_evidence", (t) => {
    t.binary("packed");
  });
  const objections = (text: string) =>
    JSON.stringify((JSON.parse(text) as { severity: string }[]).filter((f) => f.severity !== "ok"));
  await eachPage<OldReading & { measured_at: string }>(db, "readings", "id", async (rows) => {
    for (const row of rows) {
      const stored = await db("reading_evidence").where({ reading_id: row.id }).first("document");
      const { taken_at: finished = row.measured_at, ...document } = stored ? JSON.parse(stored.document) : {};
      const measured_at = measuredAt(document, finished);
      await db("readings")
        .where({ id: row.id })
        .update({
          measured_at,
          finished_at: finished,
          collected_at: null,
          sample_key: row.sample.toLowerCase(),
          findings: objections(row.findings),
        });
      await db("reading_evidence")
        .where({ reading_id: row.id })
        .update({ packed: pack({ ...document, measured_at, finished_at: finished, collected_at: null }) });
    }
  });
  const judgements: { reading_id: string; seq: number; findings: string }[] = await db(
    "reading_judgements",
  ).select("reading_id", "seq", "findings");
  for (const { reading_id, seq, findings } of judgements) {
    await db("reading_judgements")
      .where({ reading_id, seq })
      .update({ findings: objections(findings) });
  }
  await db.raw("alter table reading_evidence drop column document");
  await db.schema.alterTable("readings", (t) => {
    t.index(["measured_at", "id"]);
    t.index(["site_id", "measured_at", "id"]);
    t.index(["site_id", "parameter", "measured_at"]);
    t.index(["meter_id", "parameter", "measured_at"]);
    t.index(["meter_id", "measured_at", "id"]);
    t.index(["parameter", "measured_at", "id"]);
    t.index(["verdict", "measured_at", "id"]);
    t.index(["value", "id"]);
    t.index(["sample_key", "id"]);
  });
  await db.schema.createTable("latest_readings", (t) => {
    t.string("site_id").notNullable().references("sites.id");
    t.string("parameter").notNullable();
    t.string("analyte").notNullable();
    t.string("reading_id").notNullable().references("readings.id");
    t.string("measured_at").notNullable();
    t.primary(["site_id", "parameter", "analyte"]);
  });
  const newest = db("readings")
    .groupBy("site_id", "parameter", "analyte")
    .max("measured_at as newest")
    .select("site_id", "parameter", "analyte")
    .as("n");
  const latest = await db("readings")
    .join(newest, (on) => {
      on.on("n.site_id", "readings.site_id")
        .andOn("n.parameter", "readings.parameter")
        .andOn("n.analyte", "readings.analyte")
        .andOn("n.newest", "readings.measured_at");
    })
    .select(
      "readings.id",
      "readings.site_id",
      "readings.parameter",
      "readings.analyte",
      "readings.measured_at",
    );
  for (const { id, ...rest } of latest) {
    await db("latest_readings")
      .insert({ ...rest, reading_id: id })
      .onConflict(["site_id", "parameter", "analyte"])
      .ignore();
  }
}

async function calibrations(db: Knex): Promise<void> {
  await db.schema.alterTable("calibrations", (t) => {
    t.binary("packed");
  });
  await eachPage<{ id: string; result: string; findings: string }>(db, "calibrations", "id", async (rows) => {
    for (const { id, result, findings } of rows) {
      await db("calibrations")
        .where({ id })
        .update({ packed: pack({ result: JSON.parse(result), findings: JSON.parse(findings) }) });
    }
  });
  await db.raw("alter table calibrations drop column result");
  await db.raw("alter table calibrations drop column findings");
}

/** A re-judging is prepared in pages beside the readings, becomes current at once, and can be asked for again. */
async function rejudgings(db: Knex): Promise<void> {
  await db.schema.alterTable("rejudgings", (t) => {
    t.string("subject_version").notNullable().defaultTo("");
    t.string("reach_from").notNullable().defaultTo("");
    t.integer("seen").notNullable().defaultTo(0);
    t.integer("total");
    t.text("error");
  });
  await db.schema.createTable("rejudging_changes", (t) => {
    t.string("rejudging_id").notNullable().references("rejudgings.id");
    t.string("reading_id").notNullable().references("readings.id");
    t.integer("based_on").notNullable();
    t.double("value");
    t.string("shown");
    t.string("verdict").notNullable();
    t.string("grade");
    t.text("check_evidence");
    t.text("findings").notNullable();
    t.integer("rules_version").notNullable();
    t.binary("evidence");
    t.string("calibration_key");
    t.primary(["rejudging_id", "reading_id"]);
  });
  await db.schema.alterTable("readings", (t) => {
    t.integer("judgements").notNullable().defaultTo(1);
  });
  const counts = await db("reading_judgements")
    .groupBy("reading_id")
    .havingRaw("max(seq) > 1")
    .select("reading_id")
    .max("seq as n");
  for (const { reading_id, n } of counts)
    await db("readings").where({ id: reading_id }).update({ judgements: n });
}
