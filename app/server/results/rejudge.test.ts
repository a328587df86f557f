import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { describe, expect, it } from "vitest";
import { defaultHouseRules } from "../../../core/rules/houseRules";
import { recordId } from "../bench/benchWork.server";
import { verifyJournal } from "../bench/verifyJournal.server";
import { dueList } from "../day/due.server";
import { openDatabase } from "../platform/engine.server";
import { changeRules } from "../rules/rules.server";
import { changeLot } from "../stock/lots.server";
import { benchForEachTest } from "../testing/benchForEachTest";
import { killedOnceReached } from "../testing/killed";
import { fillWithReadings } from "../testing/manyReadings";
import { meterEvidence } from "../testing/meterEvidence";
import {
  calibratedPh,
  calibratedPond,
  checkedPond,
  openTestBench,
  phReading,
  pondReading,
  testNow,
} from "../testing/testBench";
import { newPlace, testedOn } from "../testing/testDatabase";
import { findReading, judgementsOf } from "./readings.server";
import { confirmRejudging, findRejudging, unfinishedRejudgings } from "./rejudge.server";
import { previewRejudging } from "./rejudgeChanges.server";
import { runRejudging } from "./rejudgeRun.server";

const use = benchForEachTest();
const hour = (h: number) => `2026-04-12T${String(h).padStart(2, "0")}:00:00.000Z`;
const water = { conductivity: 600, ph: -62, oxygen: 85 };
/** The pond meter's perfect sensors in the check's standards: 718 µS/cm, buffer 7, saturated air. */
const right = { conductivity: 718, ph: 0, oxygen: 90 };

describe("a check that passes", () => {
  it("changes no reading and keeps the calibration valid", async () => {
    const { db } = use.bench;
    await calibratedPond(use.bench);
    const work = await pondReading(use.bench, water, hour(10));
    await checkedPond(use.bench, right, hour(16));
    expect(meterEvidence(await findReading(db, recordId(work, "ph"))).check).toBeNull();
    expect((await db("calibrations").where("valid_until", "<", "2026-04-12T23")).length).toBe(0);
    expect((await dueList(db, hour(16))).filter((d) => d.title.includes("M-1"))).toEqual([]);
  });
});

describe("a closing check that fails", () => {
  it("is seen before it is confirmed, and then corrects what was read since the last good point", async () => {
    const { db, person } = use.bench;
    await calibratedPond(use.bench, hour(8));
    const before = await pondReading(use.bench, water, hour(9), "early");
    await checkedPond(use.bench, right, hour(10), "interim");
    const work = await pondReading(use.bench, water, hour(12), "late");
    // At 16:00 the buffer of 7.00 reads 7.30, three times the limit for a correction at a quarter of the way.
    const check = await checkedPond(use.bench, { ...right, ph: -17.75 }, hour(16));
    const request = { kind: "check" as const, subject_id: check };

    const preview = await previewRejudging(db, request);
    expect(preview).toMatchObject({ readings: 1, changed: 1, corrected: 1 });
    expect(preview.verdicts).toEqual([{ before: "sound", after: "qualified", count: 1 }]);
    expect((await findReading(db, recordId(work, "ph")))?.verdict).toBe("sound");
    expect((await dueList(db, hour(16))).map((d) => d.title)).toContain("Look at 1 reading of M-1");

    const job = await confirmRejudging(db, request, "the check that followed failed", person, hour(16));
    expect(await confirmRejudging(db, request, "again", person, hour(16))).toBe(job);
    const shares: number[] = [];
    await runRejudging(db, job, hour(17), (share) => shares.push(share));
    await runRejudging(db, job, hour(18));
    expect(shares.at(-1)).toBe(1);

    const reading = await findReading(db, recordId(work, "ph"));
    const measured = reading?.measured_value ?? Number.NaN;
    // A third of the way from 10:00 to 16:00: a third of +0.30 is taken out.
    expect(reading?.value).toBeCloseTo(measured - 0.1, 2);
    expect(reading).toMatchObject({ verdict: "qualified", grade: "good" });
    expect((await judgementsOf(db, recordId(work, "ph"))).map((j) => [j.seq, j.verdict, j.cause])).toEqual([
      [1, "sound", "first judgement"],
      [2, "qualified", "the check that followed failed"],
    ]);
    expect((await findReading(db, recordId(before, "ph")))?.verdict).toBe("sound");
    expect((await findReading(db, recordId(work, "conductivity")))?.verdict).toBe("sound");
    expect(await findRejudging(db, job)).toMatchObject({ status: "done", readings: 1, changed: 1 });
    expect(await verifyJournal(db)).toBeNull();
    const due = (await dueList(db, hour(17))).filter((d) => d.title.includes("M-1"));
    expect(due.map((d) => d.detail)).toEqual(["pH: the check failed"]);
  });

  it("holds a record whose drift is too large to correct", async () => {
    const { db, person } = use.bench;
    await calibratedPond(use.bench, hour(8));
    const work = await pondReading(use.bench, water, hour(12));
    const check = await checkedPond(use.bench, { ...right, conductivity: 718 * 1.2 }, hour(16));
    const job = await confirmRejudging(db, { kind: "check", subject_id: check }, "drift", person, hour(16));
    await runRejudging(db, job, hour(17));
    expect(await findReading(db, recordId(work, "conductivity"))).toMatchObject({
      verdict: "held",
      grade: "poor",
    });
  });

  it("ends the calibration: what is read after it is held", async () => {
    await calibratedPond(use.bench, hour(8));
    await checkedPond(use.bench, { ...right, ph: -17.75 }, hour(12));
    const work = await pondReading(use.bench, water, hour(13));
    const reading = await findReading(use.bench.db, recordId(work, "ph"));
    expect(reading?.findings.filter((f) => f.severity === "hold").map((f) => f.rule)).toEqual([
      "calibration-in-force",
    ]);
    expect((await findReading(use.bench.db, recordId(work, "oxygen")))?.verdict).toBe("sound");
  });

  it("under the rule of the outing, even a closing check that passes ends it", async () => {
    const { db, person } = use.bench;
    const calibration = { ...defaultHouseRules.calibration, interval: "outing" as const };
    await changeRules(db, 1, { ...defaultHouseRules, calibration }, "outings", person, testNow);
    await calibratedPond(use.bench, hour(8));
    await checkedPond(use.bench, right, hour(12));
    const ended = await db("calibrations").where({ valid_until: hour(12) });
    expect(ended).toHaveLength(3);
  });
});

describe("a lot that is withdrawn", () => {
  it("holds the readings that rest on it, from the day it was bad", async () => {
    const { db, person, lots } = use.bench;
    const lot = lots[1];
    if (!lot) throw new Error("no lot");
    await calibratedPh(use.bench, "2026-04-10T08:00:00.000Z");
    const early = await phReading(use.bench, -62, "2026-04-10T09:00:00.000Z");
    await calibratedPh(use.bench, hour(8));
    const late = await phReading(use.bench, -62, hour(9));
    const withdrawn = { on: "2026-04-12", since: "2026-04-11", reason: "Reads low." };
    await changeLot(db, lot.id, (l) => ({ ...l, withdrawn }), person, hour(10), "Reads low.");
    const request = { kind: "lot" as const, subject_id: lot.id };
    expect((await previewRejudging(db, request)).verdicts).toEqual([
      { before: "sound", after: "held", count: 1 },
    ]);
    await runRejudging(db, await confirmRejudging(db, request, "withdrawn", person, hour(10)), hour(11));
    expect((await findReading(db, recordId(late, "ph")))?.verdict).toBe("held");
    expect((await findReading(db, recordId(early, "ph")))?.verdict).toBe("sound");
  });
});

describe("new house rules", () => {
  it("judge old readings only when asked, and then from a day on", async () => {
    const { db, person } = use.bench;
    await calibratedPh(use.bench, hour(8));
    const work = await phReading(use.bench, -62, hour(9));
    const ph = { ...defaultHouseRules.ph, sample_temperature_c: [0, 20] as [number, number] };
    const rules = { ...defaultHouseRules, data: "demo" as const, ph };
    const request = { kind: "rules" as const, subject_id: "2026-04-12T00:00:00.000Z" };
    expect((await previewRejudging(db, request, rules)).verdicts).toEqual([
      { before: "sound", after: "qualified", count: 1 },
    ]);
    expect(
      (await previewRejudging(db, { ...request, subject_id: "2026-04-13T00:00:00.000Z" }, rules)).readings,
    ).toBe(0);
    await changeRules(db, 1, rules, "colder", person, hour(10));
    expect(await findReading(db, recordId(work, "ph"))).toMatchObject({ verdict: "sound", rules_version: 1 });
    await runRejudging(db, await confirmRejudging(db, request, "rules 2", person, hour(10)), hour(11));
    expect(await findReading(db, recordId(work, "ph"))).toMatchObject({
      verdict: "qualified",
      rules_version: 2,
    });
  });
});

describe("thousands of readings", () => {
  it("are re-judged all or not at all when the process is killed in the middle", async () => {
    const folder = mkdtempSync(join(tmpdir(), "brintel-rejudge-"));
    const place = testedOn === "PostgreSQL" ? await newPlace() : join(folder, "bench.sqlite");
    const bench = await openTestBench(place);
    await calibratedPond(bench, hour(8));
    const model = await pondReading(bench, water, hour(9));
    // Judged in three pages of 500, and a bit more.
    await fillWithReadings(bench.db, recordId(model, "ph"), 1500, hour(9), hour(15));
    const check = await checkedPond(bench, { ...right, ph: -17.75 }, hour(16));
    const job = await confirmRejudging(
      bench.db,
      { kind: "check", subject_id: check },
      "drift",
      bench.person,
      hour(16),
    );
    await bench.db.destroy();

    const changedIn = async () => {
      const db = await openDatabase(place);
      const count = async (q: Promise<{ n?: number | string }[]>) => Number((await q)[0]?.n);
      const state = {
        qualified: await count(db("readings").where({ verdict: "qualified" }).count({ n: "*" })),
        histories: await count(db("reading_judgements").where({ rejudging_id: job }).count({ n: "*" })),
        unfinished: await unfinishedRejudgings(db),
        journal: await verifyJournal(db),
      };
      await db.destroy();
      return state;
    };
    // Killed at several moments, from the computation to the last writes; on a second engine just before the end.
    for (const share of testedOn === "PostgreSQL" ? [0.9] : [0.3, 0.6, 0.9]) {
      await killedOnceReached("rejudgeAndWait", place, job, String(share));
      expect(await changedIn(), `killed at ${share}`).toEqual({
        qualified: 0,
        histories: 0,
        unfinished: [job],
        journal: null,
      });
    }
    const db = await openDatabase(place);
    await runRejudging(db, job, hour(17));
    await db.destroy();
    expect(await changedIn()).toEqual({
      qualified: 1501,
      histories: 1501,
      unfinished: [],
      journal: null,
    });
    rmSync(folder, { recursive: true });
  }, 120_000);
});
