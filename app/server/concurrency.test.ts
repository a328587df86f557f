import { ulid } from "ulid";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { calibrationEvents, postEvents } from "./bench.server";
import { findCalibration } from "./calibrations.server";
import { verifyJournal } from "./journal.server";
import { addLot } from "./lots.server";
import { addPerson } from "./people.server";
import { startCalibration } from "./starts.server";
import {
  beginCalibration,
  liveCapture,
  openTestBench,
  type TestBench,
  testNow,
  wholeRun,
} from "./testing/testBench";

let bench: TestBench;
beforeEach(async () => {
  bench = await openTestBench();
});
afterEach(() => bench.db.destroy());

const signals = [-4, -179.6, -131.5].map((mv) => liveCapture(mv));

describe("many hands at once", () => {
  it("twenty tabs post the same capture: one counts", async () => {
    const work = await beginCalibration(bench);
    const [rinsed, placed, captured] = wholeRun(bench, signals);
    const answers = await Promise.all(
      Array.from({ length: 20 }, () => postEvents(bench.db, work, [rinsed, placed, captured], testNow)),
    );
    expect(answers.filter((a) => "accepted" in a && a.accepted === 3)).toHaveLength(1);
    expect(answers.filter((a) => "accepted" in a && a.accepted === 0)).toHaveLength(19);
    expect(await calibrationEvents(bench.db, work)).toHaveLength(4);
  });

  it("two tabs capture differently: the first counts, the second hears why not", async () => {
    const work = await beginCalibration(bench);
    const captures = [-4, -9].map((mv) => wholeRun(bench, [liveCapture(mv)])[2]);
    const answers = await Promise.all(captures.map((e) => postEvents(bench.db, work, [e], testNow)));
    expect(answers.map((a) => ("refused" in a ? a.refused.code : "kept")).sort()).toEqual([
      "already-captured",
      "kept",
    ]);
  });

  it("finishing twice makes one calibration", async () => {
    const work = await beginCalibration(bench);
    const run = wholeRun(bench, signals);
    await postEvents(bench.db, work, run.slice(0, -1), testNow);
    const finish = () => ({ id: ulid(), at: testNow, by: bench.person.id, type: "finished" });
    const answers = await Promise.all(
      [finish(), finish(), finish()].map((e) => postEvents(bench.db, work, [e], testNow)),
    );
    expect(answers.filter((a) => "refused" in a)).toHaveLength(2);
    expect((await findCalibration(bench.db, work))?.verdict).toBe("sound");
    expect(await bench.db("calibrations")).toHaveLength(1);
  });

  it("a double click on start opens one piece of work", async () => {
    const start = { work_id: ulid(), event_id: ulid(), by: bench.person.id, at: testNow };
    const buffers = bench.lots.map((stored) => ({ stored, role: "point" as const, reason: null }));
    const open = () => startCalibration(bench.db, start, bench.meter, buffers, { low: 7, high: 8 });
    await Promise.all([open(), open(), open()]);
    expect(await bench.db("bench_work")).toHaveLength(1);
    expect(await bench.db("bench_events")).toHaveLength(1);
  });

  it("two people of one name, two lots of one code: one of each", async () => {
    const people = await Promise.all(
      [1, 2].map(() => addPerson(bench.db, { name: "Wren", role: "technician" }, null, testNow)),
    );
    expect(people.filter(Boolean)).toHaveLength(1);
    const lot = bench.lots[0]?.lot;
    if (!lot) throw new Error("no lot");
    const lots = await Promise.all(
      [1, 2].map(() => addLot(bench.db, { ...lot, code: "TWIN" }, bench.person.id, testNow)),
    );
    expect(lots.filter(Boolean)).toHaveLength(1);
  });

  it("leaves a journal without a gap or a fork", async () => {
    const works = await Promise.all([
      beginCalibration(bench),
      beginCalibration(bench),
      beginCalibration(bench),
    ]);
    await Promise.all(works.map((work) => postEvents(bench.db, work, wholeRun(bench, signals), testNow)));
    expect(await verifyJournal(bench.db)).toBeNull();
    const entries = await bench.db("journal").count({ n: "*" }).first();
    // Three times: started, ten events, the judgement; and what set the bench up.
    expect(Number(entries?.n)).toBeGreaterThanOrEqual(36);
  });
});

describe("a failure in the middle", () => {
  it("leaves nothing half written", async () => {
    const work = await beginCalibration(bench);
    const run = wholeRun(bench, signals);
    await bench.db.schema.dropTable("calibration_lots");
    await expect(postEvents(bench.db, work, run, testNow)).rejects.toThrow();
    expect(await calibrationEvents(bench.db, work)).toHaveLength(1);
    expect(await bench.db("calibrations")).toEqual([]);
    expect(await verifyJournal(bench.db)).toBeNull();
    expect((await bench.db("bench_work").where({ id: work }).first()).status).toBe("open");
  });
});
