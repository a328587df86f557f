import { ulid } from "ulid";
import { describe, expect, it } from "vitest";
import { defaultHouseRules } from "../../../core/rules/houseRules";
import { postEvents } from "../bench/bench.server";
import { recordId } from "../bench/benchWork.server";
import { verifyJournal } from "../bench/verifyJournal.server";
import { dueList } from "../day/due.server";
import { findReading } from "../results/readings.server";
import { confirmRejudging } from "../results/rejudge.server";
import { runRejudging } from "../results/rejudgeRun.server";
import { takeWithdrawalBack } from "../results/takeBack.server";
import { changeRules } from "../rules/rules.server";
import { correctLot } from "../stock/correctLot.server";
import { changeLot } from "../stock/lots.server";
import { benchForEachTest } from "../testing/benchForEachTest";
import { at } from "../testing/phosphateBench";
import {
  beginCalibration,
  beginReading,
  calibratedPh,
  calibratedPond,
  checkedPond,
  liveSignals,
  phReading,
  pondReading,
  wholeRun,
} from "../testing/testBench";
import { takeOut } from "./takeOut.server";

const use = benchForEachTest();
const right = { conductivity: 718, ph: 0, oxygen: 90 };
const water = { conductivity: 500, ph: -62, oxygen: 80 };

/** Takes something out at an hour, and has what it touched judged. */
async function out(work: string, h: number, reason = "Another buffer stood in the cup."): Promise<void> {
  const { db, person } = use.bench;
  const { rejudging } = await takeOut(db, work, reason, person, at(h));
  if (rejudging) await runRejudging(db, rejudging, at(h));
}

async function read(work: string, measurand: "ph" | "oxygen" = "ph") {
  const reading = await findReading(use.bench.db, recordId(work, measurand));
  if (!reading) throw new Error("There is no such reading.");
  return { verdict: reading.verdict, value: reading.value, said: reading.findings.map((f) => f.rule) };
}

const checkOf = (work: string, measurand = "ph") =>
  use.bench.db("checks").where({ work_id: work, measurand }).first();

/** Judges what a check that failed speaks of. */
async function judged(work: string, h: number): Promise<void> {
  const { db, person } = use.bench;
  const request = { kind: "check" as const, subject_id: work };
  await runRejudging(db, await confirmRejudging(db, request, "it failed", person, at(h)), at(h));
}

describe("a check that was made wrong", () => {
  it("is taken out: what it corrected, held and ended is as it was before", async () => {
    const { db } = use.bench;
    await calibratedPond(use.bench, at(8));
    const before = await pondReading(use.bench, water, at(9));
    const was = await read(before);
    const { valid_until } = await db("calibrations").where({ measurand: "ph" }).first("valid_until");
    const check = await checkedPond(use.bench, { ...right, ph: -17.75 }, at(12), "interim");
    const after = await pondReading(use.bench, water, at(13));
    await judged(check, 14);
    expect((await read(before)).value).not.toBe(was.value);
    expect((await read(after)).verdict).toBe("held");

    await out(check, 15);
    expect(await read(before)).toEqual(was);
    expect(await read(after)).toEqual(was);
    expect(await read(before, "oxygen")).toMatchObject({ verdict: "sound" });
    expect(await db("calibrations").where({ measurand: "ph" }).first("valid_until")).toEqual({ valid_until });
    expect(await checkOf(check)).toMatchObject({ counts: 0, settled: 1 });
    expect((await read(await pondReading(use.bench, water, at(16)))).verdict).toBe("sound");
    const causes: string[] = await db("reading_judgements")
      .where({ reading_id: recordId(before, "ph") })
      .orderBy("seq")
      .pluck("cause");
    expect(causes).toEqual([
      "first judgement",
      "it failed",
      "the check of 12 Apr, 12:00 was taken out: Another buffer stood in the cup.",
    ]);
    // Pressed twice, nothing happens.
    const judgements = await db("reading_judgements").count({ n: "*" }).first();
    await out(check, 17);
    expect(await db("reading_judgements").count({ n: "*" }).first()).toEqual(judgements);
    expect(await db("journal").where({ action: "check taken out" })).toHaveLength(1);
    expect(await verifyJournal(db)).toBeNull();
  });

  it("asks for nothing any more where nobody had acted on it", async () => {
    const { db } = use.bench;
    await calibratedPond(use.bench, at(8));
    const reading = await pondReading(use.bench, water, at(9));
    const check = await checkedPond(use.bench, { ...right, ph: -17.75 }, at(12));
    const asked = async () => (await dueList(db, at(13))).filter((d) => d.href === `/checks/${check}`);
    expect(await asked()).toHaveLength(1);
    await out(check, 13);
    expect(await asked()).toEqual([]);
    expect(await db("reading_judgements").where({ reading_id: recordId(reading, "ph") })).toHaveLength(1);
  });

  it("and had passed is no last good point any more", async () => {
    await calibratedPond(use.bench, at(8));
    const passed = await checkedPond(use.bench, right, at(10), "interim");
    const failed = await checkedPond(use.bench, { ...right, ph: -17.75 }, at(14), "interim");
    expect((await checkOf(failed)).last_good_at).toBe(at(10));
    await pondReading(use.bench, water, at(9));
    await out(passed, 15);
    expect(await checkOf(failed)).toMatchObject({ last_good_at: at(8), settled: 0 });
    const later = await checkedPond(use.bench, { ...right, conductivity: 790 }, at(16), "interim");
    expect((await checkOf(later, "conductivity")).last_good_at).toBe(at(14));
  });

  it("leaves a day without its daily check, whether the water was measured before it was taken out or is written down after", async () => {
    const { db, person } = use.bench;
    const calibration = { ...defaultHouseRules.calibration, interval: "week-with-daily-check" as const };
    await changeRules(
      db,
      1,
      { ...defaultHouseRules, data: "demo", calibration },
      "weekly",
      person,
      at(6, 0, 11),
    );
    await calibratedPond(use.bench, at(8, 0, 11));
    const opening = await checkedPond(use.bench, right, at(8), "opening");
    const before = await pondReading(use.bench, water, at(9));
    const begun = await beginReading(use.bench, "BP-0413", at(10), use.bench.pond);
    expect((await read(before)).verdict).toBe("sound");
    await out(opening, 11, "It was the other meter.");
    expect(await read(before)).toMatchObject({
      verdict: "held",
      said: expect.arrayContaining(["daily-check"]),
    });
    const captures = [liveSignals(water), liveSignals(water)];
    await postEvents(db, person, begun, wholeRun(use.bench, captures, at(10)), at(12));
    expect(await read(begun)).toMatchObject({
      verdict: "held",
      said: expect.arrayContaining(["daily-check"]),
    });
  });

  it("waits while what it speaks of is being judged", async () => {
    const { db, person } = use.bench;
    await calibratedPond(use.bench, at(8));
    await pondReading(use.bench, water, at(9));
    const check = await checkedPond(use.bench, { ...right, ph: -17.75 }, at(12), "interim");
    const request = { kind: "check" as const, subject_id: check };
    const job = await confirmRejudging(db, request, "it failed", person, at(13));
    const { refused } = await takeOut(db, check, "The wrong cup.", person, at(13));
    expect(refused).toContain("Wait until that is done");
    expect(await checkOf(check)).toMatchObject({ counts: 1 });
    await runRejudging(db, job, at(13));
    await out(check, 14);
    expect(await checkOf(check)).toMatchObject({ counts: 0 });
  });

  it("does not close an outing", async () => {
    const { db, person } = use.bench;
    const calibration = { ...defaultHouseRules.calibration, interval: "outing" as const };
    await changeRules(db, 1, { ...defaultHouseRules, data: "demo", calibration }, "outings", person, at(7));
    await calibratedPond(use.bench, at(8));
    const closing = await checkedPond(use.bench, right, at(12));
    const after = await pondReading(use.bench, water, at(13));
    expect((await read(after)).verdict).toBe("held");
    await out(closing, 14, "It was the other meter.");
    expect((await read(after)).verdict).toBe("sound");
  });

  it("stays out when its bottle, which was withdrawn, turns out to be good", async () => {
    const { db, person, lots } = use.bench;
    const seven = lots[0]?.id ?? "";
    await calibratedPond(use.bench, at(8));
    const check = await checkedPond(use.bench, { ...right, ph: -17.75 }, at(12), "interim");
    await out(check, 13);
    const withdrawn = { on: "2026-04-12", since: "2026-04-12", reason: "cloudy" };
    await changeLot(db, seven, (l) => ({ ...l, withdrawn }), person, at(14), "cloudy");
    await takeWithdrawalBack(db, seven, "It was the light.", person, at(15));
    expect(await checkOf(check)).toMatchObject({ counts: 0, settled: 1 });
  });
});

describe("a calibration that was made wrong", () => {
  it("counts as failed: what was read with it is held, and the next one sets it right", async () => {
    const { db } = use.bench;
    const work = await calibratedPh(use.bench, at(8));
    const before = await phReading(use.bench, -62, at(9));
    await out(work, 10, "The probe of the other meter was in it.");
    expect(await db("calibrations").where({ work_id: work }).first("verdict", "trend")).toEqual({
      verdict: "failed",
      trend: null,
    });
    expect(await read(before)).toMatchObject({
      verdict: "held",
      said: expect.arrayContaining(["calibration-verdict"]),
    });
    expect((await read(await phReading(use.bench, -62, at(11)))).verdict).toBe("held");
    await calibratedPh(use.bench, at(12));
    expect((await read(await phReading(use.bench, -62, at(13)))).verdict).toBe("sound");
    expect(await verifyJournal(db)).toBeNull();
  });

  it("is no last good point of a check that failed, and stays out when its bottle is corrected", async () => {
    const { db, person, lots } = use.bench;
    await calibratedPond(use.bench, at(8));
    const second = await calibratedPond(use.bench, at(10));
    await pondReading(use.bench, water, at(9));
    const failed = await checkedPond(use.bench, { ...right, ph: -17.75 }, at(12), "interim");
    expect((await checkOf(failed)).last_good_at).toBe(at(10));
    await out(second, 13);
    expect(await checkOf(failed)).toMatchObject({ last_good_at: at(8), settled: 0 });
    const [seven] = lots;
    if (!seven) throw new Error("There is no buffer.");
    const { name, received_on, expires_on } = seven.lot;
    const form = new FormData();
    const written = {
      version: 1,
      name,
      received_on,
      expires_on,
      opened_on: "2026-04-02",
      shelf_life_open_days: 90,
    };
    for (const [field, value] of Object.entries(written)) form.set(field, String(value));
    form.set("reason", "misread");
    const { errors, rejudging } = await correctLot(db, seven.id, form, person, {
      now: at(14),
      today: "2026-04-12",
    });
    expect(errors).toBeUndefined();
    await runRejudging(db, rejudging ?? "", at(14));
    expect(await db("calibrations").where({ work_id: second }).distinct("verdict").pluck("verdict")).toEqual([
      "failed",
    ]);
    expect(
      await db("calibrations").whereNot({ work_id: second }).distinct("verdict").pluck("verdict"),
    ).toEqual(["sound"]);
  });

  it("is one that was finished", async () => {
    const { db, person } = use.bench;
    const open = await beginCalibration(use.bench, at(8));
    await expect(takeOut(db, open, "x", person, at(9))).rejects.toMatchObject({ status: 404 });
    await expect(takeOut(db, ulid(), "x", person, at(9))).rejects.toMatchObject({ status: 404 });
    await calibratedPh(use.bench, at(8));
    const reading = await phReading(use.bench, -62, at(9));
    await expect(takeOut(db, reading, "x", person, at(10))).rejects.toMatchObject({ status: 404 });
    const looks = { ...person, role: "read-only" as const };
    await expect(takeOut(db, reading, "x", looks, at(10))).rejects.toThrow("you may look");
  });
});
