import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { ulid } from "ulid";
import { describe, expect, it } from "vitest";
import { findCalibration, latestCalibrations } from "../calibrations/calibrations.server";
import { dayRail } from "../day/day.server";
import { openDatabase } from "../platform/engine.server";
import { findReading, judgementsOf } from "../results/readings.server";
import { worksWithLot } from "../stock/lotPage.server";
import { benchForEachTest } from "../testing/benchForEachTest";
import { meterEvidence } from "../testing/meterEvidence";
import {
  beginCalibration,
  beginReading,
  liveCapture,
  openTestBench,
  testNow,
  wholeRun,
} from "../testing/testBench";
import { calibrationEvents, findWork, postEvents } from "./bench.server";
import { recordId } from "./benchWork.server";
import { verifyJournal } from "./verifyJournal.server";

const use = benchForEachTest();

const signals = [-4, -179.6, -131.5].map((mv) => liveCapture(mv));

async function calibrated(): Promise<string> {
  const work = await beginCalibration(use.bench);
  await postEvents(use.bench.db, use.bench.person, work, wholeRun(use.bench, signals), testNow);
  return work;
}

describe("bench work", () => {
  it("ends as a judged calibration with its lots and its validity", async () => {
    const id = await calibrated();
    const calibration = await findCalibration(use.bench.db, recordId(id, "ph"));
    expect(calibration).toMatchObject({
      verdict: "sound",
      basis: "signal",
      valid_until: "2026-04-12T23:59:59.999Z",
    });
    expect(calibration?.trend).toBeCloseTo(98.6, 1);
    expect((await latestCalibrations(use.bench.db, use.bench.meter.id)).map((c) => c.work_id)).toEqual([id]);
    expect(await worksWithLot(use.bench.db, use.bench.lots[0]?.id ?? "", 5)).toMatchObject([
      { id, verdict: "sound" },
    ]);
  });

  it("refuses an event whose id another work has, once and for all: a browser would send it for ever", async () => {
    const { db, person } = use.bench;
    const [one, other] = [await beginCalibration(use.bench), await beginCalibration(use.bench)];
    const [event] = wholeRun(use.bench, signals);
    await postEvents(db, person, one, [event], testNow);
    const answer = await postEvents(db, person, other, [event], testNow);
    expect(answer).toMatchObject({ accepted: 0, answers: [{ is: "refused" }] });
    expect((await calibrationEvents(db, other)).map((e) => e.type)).toEqual(["started"]);
  });

  it("counts an event once, however often and wherever it is posted", async () => {
    const work = await beginCalibration(use.bench);
    const run = wholeRun(use.bench, signals);
    const some = run.slice(0, 3);
    expect(await postEvents(use.bench.db, use.bench.person, work, some, testNow)).toMatchObject({
      accepted: 3,
    });
    expect(await postEvents(use.bench.db, use.bench.person, work, some, testNow)).toMatchObject({
      accepted: 0,
    });
    expect(
      await postEvents(use.bench.db, use.bench.person, work, [run[2], run[2], run[3]], testNow),
    ).toMatchObject({ accepted: 1 });
    expect(await calibrationEvents(use.bench.db, work)).toHaveLength(5);
    await postEvents(use.bench.db, use.bench.person, work, run, testNow);
    await postEvents(use.bench.db, use.bench.person, work, run, testNow);
    expect(await use.bench.db("calibrations").count({ n: "*" }).first()).toEqual({ n: 1 });
  });

  it("answers each event of a list for itself: what cannot happen is refused, the others are kept", async () => {
    const { db, person } = use.bench;
    const work = await beginCalibration(use.bench);
    const [rinsed, placed, captured, , , early] = wholeRun(use.bench, signals);
    const posted = await postEvents(db, person, work, [rinsed, early, placed, rinsed, captured], testNow);
    expect(posted.answers.map((a) => a.is)).toEqual(["kept", "refused", "kept", "known", "kept"]);
    expect(posted.refused).toMatchObject({ id: early?.id, code: "not-its-turn" });
    expect(await calibrationEvents(db, work)).toHaveLength(4);
  });

  it("keeps what somebody did after what they had done before, though a clock was set back between", async () => {
    const work = await beginCalibration(use.bench);
    const [first, second, third] = wholeRun(use.bench, signals);
    const at = second?.at ?? "";
    await postEvents(use.bench.db, use.bench.person, work, [first, second], testNow);
    const back = { ...third, id: ulid(), at: new Date(Date.parse(at) - 600_000).toISOString() };
    await postEvents(use.bench.db, use.bench.person, work, [back], testNow);
    expect((await calibrationEvents(use.bench.db, work)).at(-1)).toMatchObject({ at, claimed_at: back.at });
  });

  it("refuses a second capture of the same buffer under another id", async () => {
    const work = await beginCalibration(use.bench);
    const [rinsed, placed, captured] = wholeRun(use.bench, signals);
    await postEvents(use.bench.db, use.bench.person, work, [rinsed, placed, captured], testNow);
    const [, , other] = wholeRun(use.bench, [liveCapture(-9)]);
    expect(await postEvents(use.bench.db, use.bench.person, work, [other], testNow)).toMatchObject({
      refused: { code: "already-captured" },
    });
  });

  it("refuses what it cannot read, and work it does not know", async () => {
    const work = await beginCalibration(use.bench);
    expect(
      await postEvents(use.bench.db, use.bench.person, work, [{ type: "captured" }], testNow),
    ).toMatchObject({
      refused: { code: "unreadable" },
    });
    expect(await postEvents(use.bench.db, use.bench.person, "nowhere", [{}], testNow)).toMatchObject({
      refused: { code: "no-such-work" },
    });
  });

  it("opens once when started twice with the same ids", async () => {
    const work = await beginCalibration(use.bench);
    const again = await findWork(use.bench.db, work);
    expect(again?.status).toBe("open");
    expect(await use.bench.db("bench_events").where({ work_id: work })).toHaveLength(1);
  });
});

describe("a reading", () => {
  it("is judged with the calibration in force and keeps its evidence", async () => {
    const calibration = await calibrated();
    const work = await beginReading(use.bench);
    await postEvents(
      use.bench.db,
      use.bench.person,
      work,
      wholeRun(use.bench, [liveCapture(-62, 15), liveCapture(-62.5, 15)]),
      testNow,
    );
    const reading = await findReading(use.bench.db, recordId(work, "ph"));
    expect(reading).toMatchObject({
      verdict: "sound",
      calibration_id: recordId(calibration, "ph"),
      site: "Bathing pond",
      by: "Noor",
    });
    expect(reading?.value).toBeCloseTo(8.04, 1);
    expect(meterEvidence(reading).calibration?.points.map((p) => p.lot_code)).toEqual([
      "L-technical-7",
      "L-technical-10",
      "L-borate",
    ]);
    expect(await judgementsOf(use.bench.db, recordId(work, "ph"))).toHaveLength(1);
  });

  it("without a calibration has no pH, and its meter's signal is refused", async () => {
    const work = await beginReading(use.bench);
    const posted = await postEvents(
      use.bench.db,
      use.bench.person,
      work,
      wholeRun(use.bench, [liveCapture(-62)]),
      testNow,
    );
    expect(posted).toMatchObject({ refused: { code: "no-calibration" } });
  });

  it("of the day after is held", async () => {
    await calibrated();
    const later = "2026-04-13T08:00:00.000Z";
    const work = await beginReading(use.bench, "BP-0413", later);
    await postEvents(
      use.bench.db,
      use.bench.person,
      work,
      wholeRun(use.bench, [liveCapture(-62, 15), liveCapture(-62, 15)], later),
      later,
    );
    const reading = await findReading(use.bench.db, recordId(work, "ph"));
    expect(reading?.verdict).toBe("held");
    expect(reading?.findings.find((f) => f.rule === "calibration-in-force")?.severity).toBe("hold");
  });
});

describe("the day rail", () => {
  it("shows what is due, then what runs, then what happened", async () => {
    expect((await dayRail(use.bench.db, testNow)).due.map((d) => d.title)).toEqual([
      "Calibrate M-1",
      "Calibrate P-2",
    ]);
    const work = await beginCalibration(use.bench);
    const run = wholeRun(use.bench, signals);
    await postEvents(use.bench.db, use.bench.person, work, run.slice(0, 2), testNow);
    const during = await dayRail(use.bench.db, testNow);
    expect(during.running).toMatchObject([{ title: "Calibrating P-2", detail: "probe is settling" }]);
    expect(during.due.map((d) => d.title)).toEqual(["Calibrate M-1"]);
    await postEvents(use.bench.db, use.bench.person, work, run, testNow);
    const after = await dayRail(use.bench.db, testNow);
    expect(after.happened.map((e) => [e.title, e.verdict])).toEqual([["P-2 calibrated", "sound"]]);
    expect(after.running).toEqual([]);
  });
});

describe("the journal", () => {
  it("chains every entry and names the first one that was tampered with", async () => {
    await calibrated();
    expect(await verifyJournal(use.bench.db)).toBeNull();
    await use.bench.db("journal").where({ seq: 9 }).update({ after: '{"type":"captured","signal":0}' });
    expect(await verifyJournal(use.bench.db)).toEqual({ broken_at: 9 });
  });
});

describe("a database file", () => {
  it("still holds every captured point after it is closed in the middle of a calibration", async () => {
    const folder = mkdtempSync(join(tmpdir(), "brintel-"));
    const file = join(folder, "bench.sqlite");
    const first = await openTestBench(file);
    const work = await beginCalibration(first);
    await postEvents(first.db, first.person, work, wholeRun(first, signals).slice(0, 6), testNow);
    await first.db.destroy();
    const again = await openDatabase(file);
    expect((await calibrationEvents(again, work)).filter((e) => e.type === "captured")).toHaveLength(2);
    await again.destroy();
    rmSync(folder, { recursive: true });
  });
});
