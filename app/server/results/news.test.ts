import { ulid } from "ulid";
import { describe, expect, it } from "vitest";
import { defaultHouseRules } from "../../../core/rules/houseRules";
import { postEvents } from "../bench/bench.server";
import { recordId } from "../bench/benchWork.server";
import { verifyJournal } from "../bench/verifyJournal.server";
import { latestCalibrations } from "../calibrations/calibrations.server";
import { lastPassedChecks } from "../calibrations/checks.server";
import { dueList } from "../day/due.server";
import { recordService } from "../meters/service.server";
import { changeRules } from "../rules/rules.server";
import { addLot, changeLot, lotHistory } from "../stock/lots.server";
import { benchForEachTest } from "../testing/benchForEachTest";
import { meterEvidence } from "../testing/meterEvidence";
import {
  beginReading,
  calibratedPh,
  calibratedPond,
  checkedPond,
  liveSignals,
  phReading,
  pondReading,
  type TestBench,
  testLot,
  wholeRun,
} from "../testing/testBench";
import { findReading, judgementsOf } from "./readings.server";
import { confirmRejudging, findRejudging, noteFailure } from "./rejudge.server";
import { runRejudging } from "./rejudgeRun.server";

const use = benchForEachTest();
const hour = (h: number) => `2026-04-12T${String(h).padStart(2, "0")}:00:00.000Z`;
const water = { conductivity: 600, ph: -62, oxygen: 85 };
const right = { conductivity: 718, ph: 0, oxygen: 90 };
/** pH 0.30 too high. */
const drifted = { ...right, ph: -17.75 };
const ofCheck = (subject_id: string) => ({ kind: "check" as const, subject_id });

/** The bench with another bottle of the conductivity standard. */
async function withOther(): Promise<TestBench> {
  const { db, person } = use.bench;
  const lot = testLot("conductivity-standard", "", 718, { code: "L-718-2" });
  const standard = await addLot(db, lot, person, hour(7));
  if (!standard) throw new Error("There is a bottle of this code.");
  return { ...use.bench, standard };
}

/** A reading whose portions are captured at one moment and which is finished at another. */
async function readingFinished(
  capturedAt: string,
  finishedAt: string,
  receivedAt = finishedAt,
): Promise<string> {
  const { db, person, pond } = use.bench;
  const work = await beginReading(use.bench, "BP-0412", capturedAt, pond);
  const captures = [liveSignals(water), liveSignals(water)];
  const events = wholeRun(use.bench, captures, capturedAt).map((e) =>
    e.type === "finished" ? { ...e, at: finishedAt } : e,
  );
  await postEvents(db, person, work, events, receivedAt);
  return work;
}

async function rejudged(work: string): Promise<string> {
  const { db, person } = use.bench;
  const id = await confirmRejudging(db, ofCheck(work), "the check failed", person, hour(17));
  await runRejudging(db, id, hour(17));
  return id;
}

describe("what decides which check covers a reading", () => {
  it("is when it was captured, not when somebody pressed finish", async () => {
    const { db } = use.bench;
    await calibratedPond(use.bench, hour(8));
    const work = await readingFinished(hour(10), hour(12));
    const reading = await findReading(db, recordId(work, "ph"));
    expect(reading).toMatchObject({ measured_at: hour(10), finished_at: hour(12), collected_at: null });
    const check = await checkedPond(use.bench, drifted, hour(11), "interim");
    await rejudged(check);
    expect(meterEvidence(await findReading(db, recordId(work, "ph"))).check).toMatchObject({ passed: false });
  });
});

describe("what is finished later than what was measured after it", () => {
  it("holds a reading made after a check that failed, though nobody had pressed finish", async () => {
    const { db, pond } = use.bench;
    await calibratedPond(use.bench, hour(8));
    await pondReading(use.bench, water, hour(9));
    const after = recordId(await pondReading(use.bench, water, hour(11)), "ph");
    expect((await findReading(db, after))?.verdict).toBe("sound");
    // Its standards were measured at ten.
    await checkedPond(use.bench, drifted, hour(10), "interim");
    const asked = (await dueList(db, hour(12))).filter((d) => d.kind === "rejudge");
    expect(asked.map((d) => d.title)).toEqual(["Look at 1 reading of M-1"]);
    const held = await findReading(db, after);
    expect(held?.verdict).toBe("held");
    expect(held?.findings.map((f) => f.sentence).join()).toContain("had run out");
    // And stays so when it is looked at once more.
    expect((await judgementsOf(db, after)).map((j) => j.cause)).toContain(
      "a check before it ended the calibration",
    );
    expect(meterEvidence(held).calibration?.valid_until).toBe(hour(10));
    // What the check said nothing against stays as it was.
    const other = recordId(held?.work_id ?? "", "conductivity");
    expect((await findReading(db, other))?.verdict).toBe("sound");
    expect((await latestCalibrations(db, pond.id)).find((c) => c.measurand === "ph")?.valid_until).toBe(
      hour(10),
    );
    expect(await verifyJournal(db)).toBeNull();
  });

  it("holds a reading made after the closing check of an outing, where that ends what is in force", async () => {
    const { db, person } = use.bench;
    const calibration = { ...defaultHouseRules.calibration, interval: "outing" as const };
    const rules = { ...defaultHouseRules, data: "demo" as const, calibration };
    await changeRules(db, 1, rules, "outings", person, hour(7));
    await calibratedPond(use.bench, hour(8));
    const before = recordId(await pondReading(use.bench, water, hour(9)), "ph");
    const after = recordId(await pondReading(use.bench, water, hour(11)), "ph");
    await checkedPond(use.bench, right, hour(10), "closing");
    expect((await findReading(db, before))?.verdict).toBe("sound");
    expect((await findReading(db, after))?.verdict).toBe("held");
    expect(await verifyJournal(db)).toBeNull();
  });

  it.each(["a check that passed", "a calibration"])(
    "leaves in doubt only what came after %s, also when that comes last",
    async (what) => {
      const { db } = use.bench;
      await calibratedPond(use.bench, hour(8));
      const early = recordId(await pondReading(use.bench, water, hour(9)), "ph");
      const later = recordId(await pondReading(use.bench, water, hour(11)), "ph");
      const failed = await checkedPond(use.bench, drifted, hour(12));
      if (what === "a calibration") await calibratedPond(use.bench, hour(10));
      else await checkedPond(use.bench, right, hour(10), "interim");
      expect((await dueList(db, hour(13))).map((d) => d.title)).toContain("Look at 1 reading of M-1");
      await rejudged(failed);
      expect(meterEvidence(await findReading(db, early)).check).toBeNull();
      expect(meterEvidence(await findReading(db, later)).check).toMatchObject({ last_good_at: hour(10) });
    },
  );
});

describe("a reading that arrives after a re-judging was confirmed", () => {
  it("is judged by it at once, however late it comes", async () => {
    const { db } = use.bench;
    await calibratedPond(use.bench, hour(8));
    await pondReading(use.bench, water, hour(9));
    const check = await checkedPond(use.bench, drifted, hour(12));
    await rejudged(check);
    const late = await readingFinished(hour(10), hour(10), hour(18));
    const reading = meterEvidence(await findReading(db, recordId(late, "ph")));
    expect(reading.check).toMatchObject({ passed: false, corrected: true });
    expect((await findReading(db, recordId(late, "ph")))?.value).not.toBe(
      (await findReading(db, recordId(late, "ph")))?.measured_value,
    );
  });

  it("asks for the re-judging again when nobody confirmed it, because nothing had been touched", async () => {
    const { db } = use.bench;
    await calibratedPond(use.bench, hour(8));
    await checkedPond(use.bench, drifted, hour(12));
    const asked = async () =>
      (await dueList(db, hour(18))).filter((d) => d.kind === "rejudge").map((d) => d.title);
    expect(await asked()).toEqual([]);
    await readingFinished(hour(10), hour(10), hour(18));
    expect(await asked()).toEqual(["Look at 1 reading of M-1"]);
  });
});

describe("a re-judging", () => {
  it("takes in what was measured while it was computed, and what was judged otherwise meanwhile", async () => {
    const { db, person } = use.bench;
    await calibratedPond(use.bench, hour(8));
    await pondReading(use.bench, water, hour(9));
    const check = await checkedPond(use.bench, drifted, hour(12));
    const id = await confirmRejudging(db, ofCheck(check), "drift", person, hour(17));
    let coming: Promise<string> | undefined;
    await runRejudging(db, id, hour(17), () => {
      coming ??= readingFinished(hour(10), hour(10), hour(17));
    });
    const late = await coming;
    const kept = meterEvidence(await findReading(db, recordId(late ?? "", "ph")));
    expect(kept.check?.passed).toBe(false);
    expect(await verifyJournal(db)).toBeNull();
  });

  it("goes on although somebody writes all the time, and the journal keeps a digest, not thousands of lines", async () => {
    const { db, person } = use.bench;
    await calibratedPond(use.bench, hour(8));
    for (let i = 0; i < 5; i++) await pondReading(use.bench, water, hour(9));
    const check = await checkedPond(use.bench, drifted, hour(12));
    const id = await confirmRejudging(db, ofCheck(check), "drift", person, hour(17));
    let busy = true;
    const work = await beginReading(use.bench, "BP-9", hour(16), use.bench.pond);
    const writer = (async () => {
      for (let i = 0; busy; i++) {
        const note = { id: ulid(), at: hour(16), by: person.id, type: "noted", text: `still here ${i}` };
        await postEvents(db, person, work, [note], hour(16));
      }
    })();
    await runRejudging(db, id, hour(17));
    busy = false;
    await writer;
    expect(await findRejudging(db, id)).toMatchObject({ status: "done", readings: 5 });
    const entry = await db("journal").where({ action: "readings re-judged" }).first();
    expect(JSON.parse(entry.after)).toMatchObject({ readings: 5, digest: expect.any(String) });
    expect(await verifyJournal(db)).toBeNull();
  });

  it("that failed says so and can be tried again; confirmed twice it is one", async () => {
    const { db, person } = use.bench;
    await calibratedPond(use.bench, hour(8));
    await pondReading(use.bench, water, hour(9));
    const check = await checkedPond(use.bench, drifted, hour(12));
    const confirm = () => confirmRejudging(db, ofCheck(check), "drift", person, hour(17));
    const id = await confirm();
    expect(await confirm()).toBe(id);
    await noteFailure(db, id, "The disk is full.");
    expect((await dueList(db, hour(17)))[0]).toMatchObject({
      title: "Re-judging failed",
      detail: expect.stringContaining("The disk is full."),
    });
    expect(await confirm()).toBe(id);
    await runRejudging(db, id, hour(17));
    expect(await findRejudging(db, id)).toMatchObject({ status: "done", error: null });
    expect((await dueList(db, hour(17))).filter((d) => d.kind === "rejudge")).toEqual([]);
  });
});

describe("a lot that is withdrawn", () => {
  it("takes with it the checks made with it: they are no last good point any more", async () => {
    const { db, person, pond, standard } = use.bench;
    await calibratedPond(use.bench, hour(8));
    const early = await pondReading(use.bench, water, hour(9));
    await checkedPond(use.bench, right, hour(10), "interim");
    const check = await checkedPond(await withOther(), { ...right, conductivity: 640 }, hour(12));
    await rejudged(check);
    const evidence = async () => meterEvidence(await findReading(db, recordId(early, "conductivity")));
    expect((await evidence()).check).toBeNull();
    const withdrawn = { on: "2026-04-12", since: "2026-04-12", reason: "cloudy" };
    await changeLot(db, standard.id, (l) => ({ ...l, withdrawn }), person, hour(13), "cloudy");
    expect((await lastPassedChecks(db, pond.id)).has("conductivity")).toBe(false);
    expect((await lastPassedChecks(db, pond.id)).has("ph")).toBe(true);
    expect((await dueList(db, hour(13))).map((d) => d.title)).toContain("Look at 1 reading of M-1");
    await rejudged(check);
    expect((await evidence()).check).toMatchObject({ passed: false, last_good_at: hour(8) });
  });

  it("takes back what a check made with it had corrected, and what it asked for", async () => {
    const { db, person, pond } = use.bench;
    const other = await withOther();
    await calibratedPond(use.bench, hour(8));
    const early = recordId(await pondReading(use.bench, water, hour(9)), "conductivity");
    const first = await checkedPond(other, { ...right, conductivity: 790 }, hour(10), "interim");
    await rejudged(first);
    const corrected = await findReading(db, early);
    expect(corrected?.verdict).toBe("qualified");
    expect(corrected?.value).not.toBe(corrected?.measured_value);
    await calibratedPond(use.bench, hour(11));
    await pondReading(use.bench, water, hour(12));
    await checkedPond(other, { ...right, conductivity: 790 }, hour(13));
    const asked = async () => (await dueList(db, hour(14))).map((d) => d.title);
    expect(await asked()).toContain("Look at 1 reading of M-1");
    const withdrawn = { on: "2026-04-12", since: "2026-04-12", reason: "evaporated" };
    await changeLot(db, other.standard.id, (l) => ({ ...l, withdrawn }), person, hour(14), "evaporated");
    expect(await asked()).not.toContain("Look at 1 reading of M-1");
    const lot = { kind: "lot" as const, subject_id: other.standard.id };
    await runRejudging(db, await confirmRejudging(db, lot, "it evaporated", person, hour(14)), hour(14));
    const now = await findReading(db, early);
    expect(now).toMatchObject({ verdict: "sound", grade: null, value: corrected?.measured_value });
    expect(meterEvidence(now).check).toMatchObject({ corrected: false, correction: 0 });
    expect(meterEvidence(now).check?.doubt).toContain("evaporated");
    // A check that goes on meanwhile ends up the same.
    const late = await checkedPond(other, { ...right, conductivity: 790 }, hour(15), "interim");
    const row = await db("checks").where({ work_id: late, measurand: "conductivity" }).first();
    expect([Boolean(row.counts), Boolean(row.settled)]).toEqual([false, true]);
    const [inForce] = (await latestCalibrations(db, pond.id)).filter((c) => c.measurand === "conductivity");
    expect(inForce?.valid_until).toBe(hour(13));
  });

  it("leaves a day without its daily check that was checked with it", async () => {
    const { db, person } = use.bench;
    const other = await withOther();
    const calibration = { ...defaultHouseRules.calibration, interval: "week-with-daily-check" as const };
    const rules = { ...defaultHouseRules, data: "demo" as const, calibration };
    await changeRules(db, 1, rules, "weekly", person, "2026-04-11T06:00:00.000Z");
    await calibratedPond(use.bench, "2026-04-11T08:00:00.000Z");
    await checkedPond(other, right, hour(8), "opening");
    const ids = recordId(await pondReading(use.bench, water, hour(9)), "conductivity");
    const ph = ids.replace("conductivity", "ph");
    const verdicts = async () => [
      (await findReading(db, ids))?.verdict,
      (await findReading(db, ph))?.verdict,
    ];
    expect(await verdicts()).toEqual(["sound", "sound"]);
    const withdrawn = { on: "2026-04-12", since: "2026-04-12", reason: "evaporated" };
    await changeLot(db, other.standard.id, (l) => ({ ...l, withdrawn }), person, hour(14), "evaporated");
    const lot = { kind: "lot" as const, subject_id: other.standard.id };
    await runRejudging(db, await confirmRejudging(db, lot, "it evaporated", person, hour(14)), hour(14));
    expect(await verdicts()).toEqual(["held", "sound"]);
    expect((await findReading(db, ids))?.findings.map((f) => f.rule)).toContain("daily-check");
  });

  it("holds what was read of it by a meter that was calibrated with it, once", async () => {
    const { db, person, lots } = use.bench;
    const [seven] = lots;
    if (!seven) throw new Error("There is no buffer.");
    await calibratedPh(use.bench, hour(8));
    const subject = {
      kind: "control" as const,
      code: "CS-7",
      lot_id: seven.id,
      expected: 7,
      uncertainty: 0.02,
    };
    const id = recordId(await phReading(use.bench, 0, hour(9), "CS-7", subject), "ph");
    const withdrawn = { on: "2026-04-12", since: "2026-04-12", reason: "mould" };
    await changeLot(db, seven.id, (l) => ({ ...l, withdrawn }), person, hour(13), "mould");
    const lot = { kind: "lot" as const, subject_id: seven.id };
    await runRejudging(db, await confirmRejudging(db, lot, "mould", person, hour(14)), hour(14));
    expect((await findReading(db, id))?.verdict).toBe("held");
    expect(await judgementsOf(db, id)).toHaveLength(2);
  });

  it("is withdrawn once, however often it is said", async () => {
    const { db, person, standard } = use.bench;
    const withdrawn = { on: "2026-04-12", since: "2026-04-12", reason: "cloudy" };
    for (let i = 0; i < 10; i++) {
      await changeLot(
        db,
        standard.id,
        (l) => ({ ...l, withdrawn: l.withdrawn ?? withdrawn }),
        person,
        hour(13),
        "cloudy",
      );
    }
    expect(await lotHistory(db, standard.id)).toHaveLength(2);
  });
});

describe("a sensor that was changed and written down days later", () => {
  it("ends the calibration then, not now, and asks what to do with the readings since", async () => {
    const { db, person, pond } = use.bench;
    await calibratedPond(use.bench, "2026-04-10T08:00:00.000Z");
    const rules = { ...defaultHouseRules.calibration, interval: "week-with-daily-check" as const };
    await db("house_rules").update({
      document: JSON.stringify({ ...defaultHouseRules, data: "demo", calibration: rules }),
    });
    await db("calibrations").update({ valid_until: "2026-04-16T23:59:59.999Z" });
    const work = await pondReading(use.bench, water, hour(9));
    const service = {
      on_date: "2026-04-11",
      kind: "sensor-changed" as const,
      measurand: "ph" as const,
      note: "",
      code: "",
    };
    const { id } = await recordService(db, pond, service, person, hour(15));
    const [ph] = (await latestCalibrations(db, pond.id)).filter((c) => c.measurand === "ph");
    expect(ph?.valid_until).toBe("2026-04-11T00:00:00.000Z");
    expect((await dueList(db, hour(15))).map((d) => d.detail)).toContain("read after its sensor was changed");
    const job = await confirmRejudging(db, { kind: "service", subject_id: id }, "sensor", person, hour(15));
    await runRejudging(db, job, hour(15));
    const objections = (await findReading(db, recordId(work, "ph")))?.findings.map((f) => f.rule);
    expect(objections).toContain("calibration-in-force");
    expect(await judgementsOf(db, recordId(work, "ph"))).toHaveLength(2);
    expect(await judgementsOf(db, recordId(work, "oxygen"))).toHaveLength(1);
  });
});
