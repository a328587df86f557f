import knex, { type Knex } from "knex";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { lotSchema } from "../../../../core/stock/lot";
import { whereWaterAround } from "../../results/waterAround";
import { testLot } from "../../testing/testBench";
import { openTestDatabase } from "../../testing/testDatabase";
import { openDatabase } from "../engine.server";
import { migrationSource } from ".";

let db: Knex;
beforeEach(async () => {
  db = await openDatabase(":memory:");
});
afterEach(() => db.destroy());

const plan = async (query: Knex.QueryBuilder): Promise<string> => {
  const { sql, bindings } = query.toSQL().toNative();
  const rows: { detail: string }[] = await db.raw(`explain query plan ${sql}`, bindings as string[]);
  return rows.map((row) => row.detail).join("\n");
};

describe("the schema", () => {
  it("is never taken down: what was measured would go with it", async () => {
    await expect(db.migrate.rollback({ migrationSource }, true)).rejects.toThrow("restore the backup");
  });

  it("is up to date when it is opened, and opening it again changes nothing", async () => {
    expect(await db.migrate.latest({ migrationSource })).toEqual([1, []]);
  });

  it.each([false, true])(
    "is the same in the end whichever form of 008 it came from, with the electrolyte's bottle: %s",
    async (withBottle) => {
      const older = knex({ client: "better-sqlite3", connection: ":memory:", useNullAsDefault: true });
      const known = await migrationSource.getMigrations([]);
      const before009 = { ...migrationSource, getMigrations: async () => known.slice(0, 8) };
      await older.migrate.latest({ migrationSource: before009 });
      expect(await older.schema.hasColumn("service_log", "lot_id")).toBe(false);
      if (withBottle)
        await older.schema.alterTable("service_log", (t) => t.string("lot_id").references("lots.id"));
      await older.migrate.latest({ migrationSource });
      const columns = async (d: Knex) => Object.keys(await d("service_log").columnInfo()).sort();
      expect(await columns(older)).toEqual(await columns(db));
      await older.destroy();
    },
  );

  it("refuses a record that points nowhere", async () => {
    const orphan = { lot_id: "none", version: 1, document: "{}", at: "", person_id: "none", reason: "" };
    await expect(db("lot_versions").insert(orphan)).rejects.toThrow(/FOREIGN KEY/);
  });

  it("is safe against a power cut", async () => {
    expect(await db.raw("pragma foreign_keys")).toEqual([{ foreign_keys: 1 }]);
    // 2 is FULL: a commit is on the disk before it is answered.
    expect(await db.raw("pragma synchronous")).toEqual([{ synchronous: 2 }]);
  });
});

describe("the database that tests begin with", () => {
  it("is what the migrations make: the same tables, indexes and first rows", async () => {
    const made = await openDatabase(":memory:");
    const begun = await openTestDatabase();
    const things = (db: Knex) =>
      db("sqlite_master")
        .whereNotNull("sql")
        .orderBy(["type", "name"])
        .select("type", "name", "tbl_name", "sql");
    expect(await things(begun)).toEqual(await things(made));
    const tables: string[] = await made("sqlite_master").where({ type: "table" }).pluck("name");
    for (const table of tables.filter((name) => !/^(sqlite_|knex_|program_log)/.test(name)))
      expect(await begun(table).orderBy("rowid"), table).toEqual(await made(table).orderBy("rowid"));
    const steps = (db: Knex) => db("knex_migrations").orderBy("id").pluck("name");
    expect(await steps(begun)).toEqual(await steps(made));
    await expect(
      begun("remarks").insert({ id: "x", reading_id: "no", at: "", person_id: "no", text: "" }),
    ).rejects.toThrow("FOREIGN KEY");
    await Promise.all([made.destroy(), begun.destroy()]);
  });
});

describe("lists that are filtered or sorted", () => {
  const readings = () => db("readings").limit(20);
  it.each<[string, () => Knex.QueryBuilder]>([
    ["the newest readings", () => readings().orderBy("measured_at", "desc")],
    ["the readings of a site", () => readings().where({ site_id: "s" }).orderBy("measured_at", "desc")],
    ["the readings of a meter", () => readings().where({ meter_id: "m" }).orderBy("measured_at", "desc")],
    ["the held readings", () => readings().where({ verdict: "held" }).orderBy("measured_at", "desc")],
    [
      "the readings of a day",
      () => readings().where("measured_at", ">=", "2026-04-12").where("measured_at", "<=", "2026-04-13"),
    ],
    [
      "a meter's calibrations",
      () => db("calibrations").where({ meter_id: "m" }).orderBy("finished_at", "desc").limit(24),
    ],
    ["today's calibrations", () => db("calibrations").where("finished_at", ">=", "2026-04-12")],
    ["open bench work", () => db("bench_work").where({ status: "open" }).orderBy("started_at")],
    ["the events of bench work", () => db("bench_events").where({ work_id: "w" }).orderBy("seq")],
    ["the uses of a lot", () => db("lot_uses").where({ lot_id: "l" }).where("at", ">=", "2026")],
    ["what a lot was made from", () => db("lot_uses").where({ into_lot_id: "l" })],
    ["the bottles of a piece of work", () => db("lot_uses").where({ work_id: "w" })],
    ["the readings of a sample", () => db("readings").where({ work_id: "w" })],
    [
      "the readings a check speaks of",
      () =>
        db("readings").where({ meter_id: "m", parameter: "ph" }).where("measured_at", ">", "2026").limit(9),
    ],
    ["a meter's checks", () => db("checks").where({ meter_id: "m", measurand: "ph" }).orderBy("at", "desc")],
    ["today's checks", () => db("checks").where("at", ">=", "2026-04-12")],
    ["what was done to a meter", () => db("service_log").where({ meter_id: "m" }).orderBy("on_date", "desc")],
    ["the work of a visit", () => db("bench_work").where({ visit_id: "v" })],
    [
      "the visits to a site",
      () => db("bench_work").where({ kind: "visit", site_id: "s" }).orderBy("started_at", "desc").limit(40),
    ],
    [
      "the newest visits",
      () => db("bench_work").where({ kind: "visit" }).orderBy("started_at", "desc").limit(40),
    ],
    ["the newest samples", () => db("samples").orderBy("collected_at", "desc").limit(60)],
    [
      "the samples that wait",
      () => db("samples").whereNotNull("waits_until").orderBy("waits_until").limit(40),
    ],
    ["a sample by its code", () => db("samples").where({ code_key: "a" })],
    ["the results of a sample", () => db("readings").where({ sample_id: "s" })],
    ["the work of a sample", () => db("bench_work").where({ sample_id: "s" })],
    ["the newest batches", () => db("batches").orderBy("made_at", "desc").orderBy("id", "desc").limit(40)],
    ["the batches of a sample", () => db("batch_samples").where({ sample_id: "s" })],
    [
      "the rounds ahead",
      () => db("rounds").where("on_date", ">=", "2026-04-12").orderBy("on_date").limit(20),
    ],
    ["the samples of a visit", () => db("samples").where({ visit_id: "v" })],
    ["re-judgings that wait", () => db("rejudgings").where({ status: "confirmed" })],
    [
      "the journal of one thing",
      () =>
        db("journal")
          .whereRaw("subject_kind = 'lot' and subject_kind <> 'bench-work'")
          .where({ subject_id: "l" }),
    ],
  ])("%s come from an index, without a sort", async (_name, query) => {
    const steps = await plan(query());
    expect(steps).toMatch(/USING (COVERING )?INDEX/);
    expect(steps).not.toContain("TEMP B-TREE");
    expect(steps).not.toMatch(/^SCAN \w+$/m);
  });

  it("of what is of one water come from two indexes, each bounded on both sides", async () => {
    const site = db("readings").where({ site_id: "s", parameter: "ph" }).select("id");
    const steps = await plan(whereWaterAround(site, "2026-04-12T08:00:00.000Z", 60));
    expect(steps).toContain(
      "readings_of_bottles (site_id=? AND parameter=? AND collected_at>? AND collected_at<?)",
    );
    expect(steps).toContain("(site_id=? AND parameter=? AND measured_at>? AND measured_at<?)");
  });
});

/** A database as it was before a migration, into which rows may be put that have no more than what matters. */
async function databaseBefore(number: string) {
  const old = await openDatabase(":memory:", { migrate: false });
  const before = (await migrationSource.getMigrations([])).filter((m) => m.name < number);
  await old.migrate.latest({ migrationSource: { ...migrationSource, getMigrations: async () => before } });
  await old.raw("pragma foreign_keys = off");
  const row = async (table: string, values: Record<string, unknown>) => {
    const columns: { name: string; notnull: number; type: string; dflt_value: unknown }[] = await old.raw(
      `pragma table_info(${table})`,
    );
    const needed = columns
      .filter((c) => c.notnull && c.dflt_value === null && !(c.name in values))
      .map((c) => [c.name, /int|float|bool/i.test(c.type) ? 0 : ""]);
    await old(table).insert({ ...Object.fromEntries(needed), ...values });
  };
  return { old, row };
}

describe("a database of the first release", () => {
  it("takes its lots along, each good until its printed date or its days after opening", async () => {
    const { old, row } = await databaseBefore("003");
    const lot = testLot("ph-buffer", "technical-7", 7, { code: "B7", opened_on: "2026-04-01" });
    const { size: _s, portion: _p, unit: _u, place: _l, hazards: _h, discarded: _d, ...first } = lot;
    const document = JSON.stringify({ ...first, bottle_ml: null, portion_ml: null });
    await row("lots", { id: "l", code: "B7", kind: "ph-buffer", document });
    await old.migrate.latest({ migrationSource });
    expect(await old("lots").first("good_until", "used")).toEqual({ good_until: "2026-06-30", used: 0 });
    await old.destroy();
  });
});

describe("a database of before samples were things", () => {
  it("keeps its samples, and its results point to them", async () => {
    const { old, row } = await databaseBefore("005");
    await row("bench_work", { id: "v", kind: "visit", visit_id: null });
    await row("bench_work", { id: "w", kind: "analysis", visit_id: "v" });
    await row("bench_work", { id: "x", kind: "analysis", visit_id: null });
    await row("visits", { id: "v" });
    await row("samples", { id: "s", code: "BP-1", code_key: "bp-1", visit_id: "v", keeps_until: "2026" });
    await row("readings", { id: "r", work_id: "w", sample: "BP-1", sample_key: "bp-1" });
    await row("readings", { id: "q", work_id: "x", sample: "BP-1", sample_key: "bp-1" });
    await old.migrate.latest({ migrationSource });
    expect(await old("samples").first("id", "status", "wanted", "waits_until", "keeps_until")).toEqual({
      id: "s",
      status: "kept",
      wanted: "[]",
      waits_until: null,
      keeps_until: "2026",
    });
    expect(await old("readings").orderBy("id").select("id", "sample_id")).toEqual([
      { id: "q", sample_id: null },
      { id: "r", sample_id: "s" },
    ]);
    expect(await old("bench_work").where({ id: "w" }).first("sample_id")).toEqual({ sample_id: "s" });
    await old.destroy();
  });
});

describe("a database of before everything on the shelf was a lot", () => {
  it("counts what was poured as used, in mL, and its lots have the fields of today", async () => {
    const { old, row } = await databaseBefore("007");
    const lot = testLot("ph-buffer", "technical-7", 7, { code: "B7" });
    const { size: _s, portion: _p, unit: _u, place: _l, hazards: _h, discarded: _d, ...before } = lot;
    const document = JSON.stringify({ ...before, bottle_ml: 500, portion_ml: 25 });
    await row("bench_work", { id: "w", kind: "calibration" });
    await row("lots", { id: "l", code: "B7", kind: "ph-buffer", document, poured: 2, good_until: "2027" });
    await row("lot_versions", { lot_id: "l", version: 1, document });
    for (const station of [0, 1]) await row("pours", { lot_id: "l", work_id: "w", station, at: "2026" });
    await old.migrate.latest({ migrationSource });
    const stored = await old("lots").first("document", "used");
    expect(lotSchema.parse(JSON.parse(stored.document))).toEqual({ ...lot, size: 500, portion: 25 });
    expect(stored.used).toBe(50);
    expect(lotSchema.safeParse(JSON.parse((await old("lot_versions").first()).document)).success).toBe(true);
    expect(await old("lot_uses").orderBy("slot").select("lot_id", "role", "slot", "amount", "at")).toEqual(
      ["0", "1"].map((slot) => ({ lot_id: "l", role: "standard", slot, amount: 25, at: "2026" })),
    );
    await old.destroy();
  });
});
