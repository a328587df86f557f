import { copyFileSync, mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import type { Knex } from "knex";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { verifyJournal } from "../app/server/bench/verifyJournal.server";
import { findDevice, memoryAt } from "../app/server/devices/devices.server";
import { openDatabase } from "../app/server/platform/engine.server";
import { unpack } from "../app/server/platform/pack.server";
import { meterReadingsOfWork } from "../app/server/results/readings.server";
import { loadAlong } from "../app/server/sites/alongWater.server";
import { lotHistory } from "../app/server/stock/lots.server";
import { openTestDatabase } from "../app/server/testing/testDatabase";
import { sensorTrend } from "../core/calibration/validity";
import { seededRandom } from "../core/quantity/random";
import { defaultHouseRules } from "../core/rules/houseRules";
import { storyEnd } from "../scripts/lib/testDemo.mjs";
import { multiplyDemo } from "./bulk";
import { loadDemo } from "./load";
import { must, nitrateOf } from "./story";

const now = new Date(storyEnd);
const folder = mkdtempSync(join(tmpdir(), "brintel-demo-"));
let db: Knex;
beforeAll(async () => {
  const loaded = process.env.BRINTEL_TEST_DEMO;
  if (loaded) {
    // Whoever ran other steps before has loaded them: for the same moment, in another process.
    copyFileSync(loaded, join(folder, "demo.sqlite"));
    db = await openDatabase(join(folder, "demo.sqlite"));
  } else {
    db = await openTestDatabase();
    await loadDemo(db, now);
  }
});
afterAll(async () => {
  await db.destroy();
  rmSync(folder, { recursive: true });
});

const ofMeter = (
  code: string,
  measurand = "ph",
): Promise<{ at: string; value: number; verdict: string; packed: Buffer }[]> =>
  db("calibrations")
    .join("meters", "meters.id", "calibrations.meter_id")
    .where({ code, measurand })
    .orderBy("finished_at")
    .select("finished_at as at", "trend as value", "verdict", "packed");

/** What a calibration keeps, as text to look into. */
const textOf = (row: { packed: Buffer } | undefined) => JSON.stringify(row && unpack(row.packed));

describe("the demo's twelve weeks", () => {
  it("are the same each time they are loaded for the same day", async () => {
    const again = await openTestDatabase();
    await loadDemo(again, now);
    const values = (d: Knex) =>
      d("readings").orderBy(["measured_at", "parameter", "value"]).select("value", "verdict", "measured_at");
    expect(await values(again)).toEqual(await values(db));
    await again.destroy();
  });

  it("tell of a probe that ages towards its limit", async () => {
    const p2 = await ofMeter("P-2");
    expect(p2.length).toBeGreaterThan(30);
    expect(p2[0]?.value).toBeGreaterThan((p2.at(-1)?.value ?? 0) + 2);
    expect(sensorTrend("ph", p2.slice(-24), defaultHouseRules).forecast).not.toBeNull();
    const membrane = sensorTrend("oxygen", await ofMeter("M-1", "oxygen"), defaultHouseRules);
    expect(membrane.forecast).not.toBeNull();
  });

  it("tell of a bottle of buffer 10 that lost pH and was withdrawn", async () => {
    const lot = await db("lots").where({ code: "B10-041" }).first("document", "version");
    expect(JSON.parse(lot.document).withdrawn.reason).toContain("carbon dioxide");
    expect(lot.version).toBe(2);
    const job = await db("rejudgings").where({ kind: "lot" }).first();
    expect(job.changed).toBeGreaterThan(20);
    const p2 = await ofMeter("P-2");
    const withLot = (code: string) => p2.filter((c) => textOf(c).includes(`"${code}"`));
    const lastOld = withLot("B10-041").at(-1);
    const firstNew = withLot("B10-055")[0];
    expect((firstNew?.value ?? 0) - (lastOld?.value ?? 0)).toBeGreaterThan(1);
  });

  it("tell of one closing check that failed, and of readings corrected with their grade", async () => {
    const failed = await db("checks").where({ passed: false, counts: true }).select("measurand", "work_id");
    expect(failed.map((c) => c.measurand).sort()).toEqual(["conductivity", "ph"]);
    const job = await db("rejudgings").where({ kind: "check", subject_id: failed[0].work_id }).first();
    expect(job).toMatchObject({ status: "done", readings: 8, changed: 8 });
    const corrected: { value: number; measured_value: number; grade: string; verdict: string; id: string }[] =
      await db("readings").whereNotNull("grade").select("id", "value", "measured_value", "grade", "verdict");
    expect(corrected).toHaveLength(8);
    for (const r of corrected) {
      expect(r.value).not.toBeCloseTo(r.measured_value, 2);
      expect(["good", "fair"]).toContain(r.grade);
      expect(r.verdict).toBe("qualified");
      // What is held beside a conductivity is judged once more when that was corrected.
      const causes: string[] = await db("reading_judgements")
        .where({ reading_id: r.id })
        .orderBy("seq")
        .pluck("cause");
      expect(causes[1]).toBe(job.cause);
      expect(causes.slice(2)).toEqual(r.id.endsWith("-ph") ? ["conductivity of the same water"] : []);
    }
  });

  it("leave the pond meter with an evening in its memory, from the water it stood in", async () => {
    const meter = await db("meters").where({ code: "M-1" }).first("id");
    const device = await findDevice(db, meter.id);
    const memory = device && memoryAt(device, now.toISOString());
    expect(memory?.stored).toHaveLength(6);
    expect(new Set(memory?.stored.map((s) => s.place))).toEqual(new Set(["Bathing pond"]));
    for (const { values } of memory?.stored ?? []) {
      expect(values.ph).toBeGreaterThan(6.5);
      expect(values.ph).toBeLessThan(9.5);
      expect(values.conductivity).toBeGreaterThan(200);
    }
  });

  it("hold a bad day: aged glass, swapped buffers, an expired lot, a reading outside the buffers", async () => {
    const [p3] = await ofMeter("P-3");
    expect(p3?.verdict).toBe("qualified");
    expect(textOf(p3)).toContain("aged-glass");
    const [p4] = await ofMeter("P-4");
    expect(p4?.verdict).toBe("failed");
    expect(textOf(p4)).toContain("swapped-buffers");
    const outside = await db("readings")
      .join("meters", "meters.id", "readings.meter_id")
      .where({ verdict: "qualified", code: "P-3" })
      .first("findings");
    const rules = JSON.parse(outside.findings)
      .filter((f: { severity: string }) => f.severity !== "ok")
      .map((f: { rule: string }) => f.rule);
    expect(rules).toEqual(["calibration-verdict", "lot-expired", "outside-bracket", "normal"]);
  });

  it("tell of a control in the wrong cup, which was taken out and changed nothing", async () => {
    const [check, ...others] = await db("checks").where({ counts: false });
    expect(others).toEqual([]);
    expect(JSON.parse(check.outcome).taken_out).toMatchObject({
      by: "Idris Calloway",
      reason: "The probe stood in the cup of pH 9.",
    });
    // It had passed that morning, and nothing was read since.
    expect(await db("rejudgings").where({ kind: "work" })).toEqual([]);
    expect(await db("calibrations").where({ valid_until: check.at })).toEqual([]);
  });

  it("tell of a membrane that was none and of the wrong pipette, which were taken out and changed nothing", async () => {
    const out = await db("service_log").whereNotNull("taken_out").select("kind", "done_at", "sensor_id");
    expect(out).toMatchObject([{ kind: "membrane-changed" }]);
    const { id } = await db("meters").where({ code: "M-1" }).first("id");
    const retired = await db("sensors")
      .where({ meter_id: id, measurand: "oxygen" })
      .orderBy("id")
      .pluck("retired_on");
    expect(retired).toEqual([null, expect.any(String)]);
    expect(await db("calibrations").where({ sensor_id: out[0].sensor_id })).toEqual([]);
    const strengths = await lotHistory(db, (await db("lots").where({ code: "TS-23" }).first("id")).id);
    const words = strengths.map((v) => v.reason).filter((reason) => reason.includes("standardis"));
    // The newest first: with the right pipette, as it was, with the wrong one.
    expect(words).toEqual([
      expect.stringMatching(/^standardised against IO-3: 0\.0248\d+ ± 0\.0000\d+ N$/),
      expect.stringMatching(/^the standardisation of .* was taken out: It was the pipette of 10 mL\.$/),
      expect.stringMatching(/^standardised against IO-3: 0\.0497\d* ± 0\.000\d+ N$/),
    ]);
    const touched = await db("readings").where("findings", "like", "%titrant-strength%");
    expect(touched).toEqual([]);
  });

  it("tell of a tablet that came home after somebody had read with the meter it calibrated", async () => {
    const cause = "a calibration of before it became known";
    const [late, ...others]: { work_id: string; measured_at: string; judgements: number }[] = await db(
      "reading_judgements as j",
    )
      .join("readings as r", "r.id", "j.reading_id")
      .where({ cause })
      .select("r.work_id", "r.measured_at", "r.judgements");
    expect(others).toEqual([]);
    const [read] = await meterReadingsOfWork(db, late?.work_id ?? "");
    expect([read?.verdict, late?.judgements]).toEqual(["sound", 2]);
    // It rests on what was finished a few minutes before it, not on the calibration of the morning.
    const rests =
      Date.parse(late?.measured_at ?? "") - Date.parse(read?.evidence.calibration?.finished_at ?? "");
    expect(rests).toBeGreaterThan(0);
    expect(rests).toBeLessThan(15 * 60_000);
  });

  it("tell of a jar whose day of delivery was written wrong, and what stood there", async () => {
    const { id } = await db("lots").where({ code: "NACL-5" }).first("id");
    const reasons = await db("lot_versions").where({ lot_id: id }).orderBy("version").pluck("reason");
    expect(reasons.at(-1)).toMatch(/^The delivery note has the day before\. \(received: .*, not .*\)$/);
    expect(await db("rejudgings").whereNot({ status: "done" })).toEqual([]);
  });

  it("leave the bench meter waiting to be calibrated today", async () => {
    const today = await db("calibrations").where("finished_at", ">=", storyEnd.slice(0, 10)).select("basis");
    expect(today).toEqual([{ basis: "display" }]);
  });

  it("tell of nitrate that steps up below the South reed bed", async () => {
    const rows: { name: string; measured_at: string; low: number; high: number }[] = await db("readings")
      .join("sites", "sites.id", "readings.site_id")
      .where({ parameter: "nitrate", source: "analysis" })
      .orderBy("measured_at")
      .select("sites.name", "measured_at", "low", "high");
    const seen = (name: RegExp, since: string, until: string) => [
      ...new Set(
        rows
          .filter((r) => name.test(r.name) && r.measured_at >= since && r.measured_at < until)
          .map((r) => `${r.low} to ${r.high}`),
      ),
    ];
    const step = "2026-10-17";
    const below = /South|Bathing|Outfall/;
    // The same two colours week after week: the story is told on any day, and each has its own chance.
    expect(seen(/Settling/, "2026", "2027")).toEqual(["0.5 to 1"]);
    expect(seen(below, "2026", step)).toEqual(["0.5 to 1"]);
    expect(seen(below, step, "2027")).toEqual(["2 to 5"]);
  });

  it("keep nitrate between two colours of the tube, on whatever day they are loaded", () => {
    const random = seededRandom(41);
    const told = (from: number, until: number, site: number) =>
      Array.from({ length: 2000 }, (_, i) => nitrateOf({ random }, from + (i % (until - from)), site));
    for (const value of [...told(-84, -37, 3), ...told(-84, 0, 1)])
      expect(value > 0.5 && value < 1).toBe(true);
    for (const value of told(-37, 0, 4)) expect(value > 2 && value < 5).toBe(true);
  });

  it("show that step where a quantity is followed along the water", async () => {
    const { steps } = await loadAlong(db, "nitrate|Nitrate as NO3-N", now.toISOString());
    const name = async (id: string) => (await db("sites").where({ id }).first("name")).name;
    expect(steps).toHaveLength(1);
    expect(await name(must(steps[0]).below)).toBe("South reed bed");
  });

  it("are journaled without a gap", async () => {
    expect(await verifyJournal(db)).toBeNull();
  });
});

describe("the story again and again", () => {
  const file = join(folder, "many.sqlite");
  let many: Knex;
  const countOf = async (d: Knex, table: string) => Number((await d(table).count({ n: "*" }).first())?.n);
  beforeAll(async () => {
    await db.raw("vacuum into ?", [file]);
    // As whoever loads the demo leaves it: opened once by the program, which has it written ahead.
    await (await openDatabase(file)).destroy();
    // One season of all benches, and one bench of the season before.
    await multiplyDemo(file, 15 * (await countOf(db, "readings")) - 1, () => undefined);
    many = await openDatabase(file);
  });
  afterAll(() => many.destroy());

  it("has so many of everything, and sites and meters once for each bench", async () => {
    for (const table of ["readings", "calibrations", "reading_evidence", "lots", "checks"])
      expect([table, await countOf(many, table)]).toEqual([table, 15 * (await countOf(db, table))]);
    for (const table of ["sites", "meters", "sensors"])
      expect([table, await countOf(many, table)]).toEqual([table, 14 * (await countOf(db, table))]);
    expect(await countOf(many, "people")).toBe(await countOf(db, "people"));
  });

  it("is whole: everything points to something that is there, by the same indexes", async () => {
    expect(await many.raw("pragma foreign_key_check")).toEqual([]);
    expect(await many.raw("pragma integrity_check")).toEqual([{ integrity_check: "ok" }]);
    const indexes = (d: Knex) => d("sqlite_master").where({ type: "index" }).orderBy("name").pluck("name");
    expect(await indexes(many)).toEqual(await indexes(db));
  });

  it("is journaled without a gap", async () => {
    expect(await verifyJournal(many)).toBeNull();
    expect(await countOf(many, "journal")).toBeGreaterThan(12 * (await countOf(db, "journal")));
  });

  it("keeps the evidence of each copy with its own ids and dates, an earlier season twelve weeks earlier", async () => {
    const rows: { id: string; measured_at: string; packed: Buffer; work_id: string }[] = await many(
      "readings",
    )
      .join("reading_evidence", "reading_evidence.reading_id", "readings.id")
      .whereNot("readings.source", "derived")
      .select("readings.id", "measured_at", "packed", "readings.work_id");
    const [first] = await db("readings").orderBy("measured_at").limit(1).select("measured_at");
    const earliest = rows.map((r) => r.measured_at).sort()[0] ?? "";
    expect(Date.parse(first.measured_at) - Date.parse(earliest)).toBe(84 * 86_400_000);
    // The ids of copies of one reading differ in their moment and in the letter after it.
    const like = (id: string) => id.slice(11);
    const groups = new Map<string, typeof rows>();
    for (const row of rows) groups.set(like(row.id), [...(groups.get(like(row.id)) ?? []), row]);
    for (const group of [...groups.values()].slice(0, 40)) {
      expect(group).toHaveLength(15);
      expect(new Set(group.map((r) => r.work_id)).size).toBe(15);
      const shapes = group.map((r) =>
        JSON.stringify(unpack(r.packed)).replace(/01[0-9A-HJKMNP-TV-Z]{24}|20\d\d-\d\d-\d\d/g, "·"),
      );
      expect(new Set(shapes).size).toBe(1);
    }
  });
});
