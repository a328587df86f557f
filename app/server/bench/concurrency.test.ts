import { ulid } from "ulid";
import { describe, expect, it } from "vitest";
import { findCalibration } from "../calibrations/calibrations.server";
import { startCalibration } from "../calibrations/startWork.server";
import { addPerson } from "../people/people.server";
import { addLot } from "../stock/lots.server";
import { benchForEachTest } from "../testing/benchForEachTest";
import { beginCalibration, liveCapture, testNow, wholeRun } from "../testing/testBench";
import { calibrationEvents, postEvents } from "./bench.server";
import { recordId } from "./benchWork.server";
import { verifyJournal } from "./verifyJournal.server";

const use = benchForEachTest();

const signals = [-4, -179.6, -131.5].map((mv) => liveCapture(mv));

describe("many hands at once", () => {
  it("twenty tabs post the same capture: one counts", async () => {
    const work = await beginCalibration(use.bench);
    const [rinsed, placed, captured] = wholeRun(use.bench, signals);
    const answers = await Promise.all(
      Array.from({ length: 20 }, () =>
        postEvents(use.bench.db, use.bench.person, work, [rinsed, placed, captured], testNow),
      ),
    );
    expect(answers.filter((a) => "accepted" in a && a.accepted === 3)).toHaveLength(1);
    expect(answers.filter((a) => "accepted" in a && a.accepted === 0)).toHaveLength(19);
    expect(await calibrationEvents(use.bench.db, work)).toHaveLength(4);
  });

  it("two tabs capture differently: the first counts, the second hears why not", async () => {
    const work = await beginCalibration(use.bench);
    const captures = [-4, -9].map((mv) => wholeRun(use.bench, [liveCapture(mv)])[2]);
    const answers = await Promise.all(
      captures.map((e) => postEvents(use.bench.db, use.bench.person, work, [e], testNow)),
    );
    expect(answers.map((a) => a.refused?.code ?? "kept").sort()).toEqual(["already-captured", "kept"]);
  });

  it("finishing twice makes one calibration", async () => {
    const work = await beginCalibration(use.bench);
    const run = wholeRun(use.bench, signals);
    await postEvents(use.bench.db, use.bench.person, work, run.slice(0, -1), testNow);
    const finish = () => ({ id: ulid(), at: testNow, by: use.bench.person.id, type: "finished" });
    const answers = await Promise.all(
      [finish(), finish(), finish()].map((e) =>
        postEvents(use.bench.db, use.bench.person, work, [e], testNow),
      ),
    );
    expect(answers.filter((a) => "refused" in a)).toHaveLength(2);
    expect((await findCalibration(use.bench.db, recordId(work, "ph")))?.verdict).toBe("sound");
    expect(await use.bench.db("calibrations")).toHaveLength(1);
  });

  it("a double click on start opens one piece of work", async () => {
    const start = { work_id: ulid(), event_id: ulid(), actor: use.bench.person, at: testNow };
    const buffers = use.bench.lots.map((stored) => ({
      measurand: "ph" as const,
      stored,
      role: "point" as const,
      reason: null,
    }));
    const open = () => startCalibration(use.bench.db, start, use.bench.meter, buffers, { conditions: null });
    await Promise.all([open(), open(), open()]);
    expect(await use.bench.db("bench_work")).toHaveLength(1);
    expect(await use.bench.db("bench_events")).toHaveLength(1);
  });

  it("two people of one name, two lots of one code: one of each", async () => {
    const people = await Promise.all(
      [1, 2].map(() =>
        addPerson(use.bench.db, { name: "Wren", role: "technician" }, use.bench.person, testNow),
      ),
    );
    expect(people.filter(Boolean)).toHaveLength(1);
    const lot = use.bench.lots[0]?.lot;
    if (!lot) throw new Error("no lot");
    const lots = await Promise.all(
      [1, 2].map(() => addLot(use.bench.db, { ...lot, code: "TWIN" }, use.bench.person, testNow)),
    );
    expect(lots.filter(Boolean)).toHaveLength(1);
  });

  it("leaves a journal without a gap or a fork", async () => {
    const works = await Promise.all([
      beginCalibration(use.bench),
      beginCalibration(use.bench),
      beginCalibration(use.bench),
    ]);
    await Promise.all(
      works.map((work) =>
        postEvents(use.bench.db, use.bench.person, work, wholeRun(use.bench, signals), testNow),
      ),
    );
    expect(await verifyJournal(use.bench.db)).toBeNull();
    const entries = await use.bench.db("journal").count({ n: "*" }).first();
    // Three times: the start, ten events in one go, the judgement; and what set the bench up.
    expect(Number(entries?.n)).toBeGreaterThanOrEqual(9 + 9);
  });
});

describe("a failure in the middle", () => {
  it("leaves nothing half written", async () => {
    const work = await beginCalibration(use.bench);
    const run = wholeRun(use.bench, signals);
    await use.bench.db.schema.renameTable("lot_uses", "gone");
    await expect(postEvents(use.bench.db, use.bench.person, work, run, testNow)).rejects.toThrow();
    expect(await calibrationEvents(use.bench.db, work)).toHaveLength(1);
    expect(await use.bench.db("calibrations")).toEqual([]);
    expect(await verifyJournal(use.bench.db)).toBeNull();
    expect((await use.bench.db("bench_work").where({ id: work }).first()).status).toBe("open");
    // The database is used again.
    await use.bench.db.schema.renameTable("gone", "lot_uses");
  });
});
