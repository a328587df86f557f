import type { Knex } from "knex";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { openDatabase } from "../sqlite.server";
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
    ["the uses of a lot", () => db("pours").where({ lot_id: "l" })],
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
});
