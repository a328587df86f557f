import { describe, expect, it } from "vitest";
import { recordId } from "../bench/benchWork.server";
import { verifyJournal } from "../bench/verifyJournal.server";
import { changeLot, findLot } from "../stock/lots.server";
import { benchForEachTest } from "../testing/benchForEachTest";
import { calibratedPh, calibratedPond, checkedPond, phReading, pondReading } from "../testing/testBench";
import { findReading } from "./readings.server";
import { confirmRejudging, rejudgingOf } from "./rejudge.server";
import { runRejudging } from "./rejudgeRun.server";
import { takeWithdrawalBack } from "./takeBack.server";

const use = benchForEachTest();
const hour = (h: number) => `2026-04-12T${String(h).padStart(2, "0")}:00:00.000Z`;
const right = { conductivity: 718, ph: 0, oxygen: 90 };
const water = { conductivity: 500, ph: -62, oxygen: 80 };

/** Withdraws a lot at an hour, from the day before on. */
async function withdraw(id: string, h: number): Promise<void> {
  const { db, person } = use.bench;
  const withdrawn = { on: "2026-04-12", since: "2026-04-11", reason: "Reads low." };
  await changeLot(db, id, (l) => ({ ...l, withdrawn }), person, hour(h), "Reads low.");
}

/** Judges what rests on a withdrawn lot anew. */
async function judged(id: string, h: number): Promise<void> {
  const { db, person } = use.bench;
  const request = { kind: "lot" as const, subject_id: id };
  await runRejudging(db, await confirmRejudging(db, request, "withdrawn", person, hour(h)), hour(h));
}

/** Takes a withdrawal back, and has what rests on the lot judged; what it was refused for, or null. */
async function takeBack(id: string, h: number): Promise<string | null> {
  const { db, person } = use.bench;
  const reason = "It was the bottle beside it.";
  const { refused, rejudging } = await takeWithdrawalBack(db, id, reason, person, hour(h));
  if (rejudging) await runRejudging(db, rejudging, hour(h));
  return refused ?? null;
}

async function read(id: string) {
  const reading = await findReading(use.bench.db, id);
  if (!reading) throw new Error("There is no such reading.");
  const { verdict, value, findings, evidence } = reading;
  return { verdict, value, findings, evidence };
}

describe("a withdrawal that is taken back", () => {
  it("leaves everything as if it had not been, and it can be withdrawn again", async () => {
    const { db, lots } = use.bench;
    const ten = lots[1]?.id ?? "";
    await calibratedPh(use.bench, "2026-04-10T08:00:00.000Z");
    const early = recordId(await phReading(use.bench, -62, "2026-04-10T09:00:00.000Z"), "ph");
    await calibratedPh(use.bench, hour(8));
    const work = recordId(await phReading(use.bench, -62, hour(9)), "ph");
    const before = await read(work);
    expect(before.verdict).toBe("sound");
    await withdraw(ten, 10);
    await judged(ten, 11);
    // What is read with it meanwhile is held at once.
    const meanwhile = recordId(await phReading(use.bench, -62, hour(12)), "ph");
    expect([(await read(work)).verdict, (await read(meanwhile)).verdict]).toEqual(["held", "held"]);

    expect(await takeBack(ten, 13)).toBeNull();
    expect((await findLot(db, ten))?.lot.withdrawn).toBeNull();
    const { evidence, ...after } = await read(work);
    expect(after).toEqual({ verdict: before.verdict, value: before.value, findings: before.findings });
    expect("calibration" in evidence && evidence.calibration).toEqual(
      "calibration" in before.evidence && before.evidence.calibration,
    );
    expect((await read(meanwhile)).verdict).toBe("sound");
    const causes: string[] = await db("reading_judgements")
      .where({ reading_id: work })
      .orderBy("seq")
      .pluck("cause");
    expect(causes.at(-1)).toBe(
      "the withdrawal of lot L-technical-10 was taken back: It was the bottle beside it.",
    );
    expect(await verifyJournal(db)).toBeNull();

    // What was made before it was bad was never in doubt.
    expect(await db("reading_judgements").where({ reading_id: early }).pluck("cause")).toEqual([
      "first judgement",
    ]);

    // Pressed twice, nothing happens; withdrawn once more, it asks again, and holds again.
    expect(await takeBack(ten, 14)).toBeNull();
    expect((await findLot(db, ten))?.version).toBe(3);
    await withdraw(ten, 15);
    expect(await rejudgingOf(db, { kind: "lot", subject_id: ten })).toBeUndefined();
    await judged(ten, 16);
    expect((await read(work)).verdict).toBe("held");
  });

  it("changes nothing of what nobody has judged by it yet", async () => {
    const { db, lots } = use.bench;
    const ten = lots[1]?.id ?? "";
    await calibratedPh(use.bench, hour(8));
    const work = recordId(await phReading(use.bench, -62, hour(9)), "ph");
    await withdraw(ten, 10);
    expect(await takeBack(ten, 11)).toBeNull();
    expect(
      await db("reading_judgements").where({ reading_id: work }).count({ n: "*" }).first(),
    ).toMatchObject({ n: 1 });
  });

  it("lets a check that failed with it hold and correct again what it held and corrected", async () => {
    const { db, person, standard } = use.bench;
    await calibratedPond(use.bench, hour(8));
    const work = recordId(await pondReading(use.bench, water, hour(9)), "conductivity");
    const check = await checkedPond(use.bench, { ...right, conductivity: 790 }, hour(12));
    const request = { kind: "check" as const, subject_id: check };
    await runRejudging(db, await confirmRejudging(db, request, "drift", person, hour(12)), hour(13));
    const corrected = await read(work);
    expect(corrected.verdict).toBe("qualified");
    expect(corrected.value).not.toBe(500);
    await withdraw(standard.id, 14);
    await judged(standard.id, 14);
    expect((await read(work)).verdict).toBe("held");
    expect(
      await db("checks").where({ work_id: check, measurand: "conductivity" }).first("counts"),
    ).toMatchObject({
      counts: 0,
    });
    expect(await takeBack(standard.id, 15)).toBeNull();
    const { verdict, value, evidence } = await read(work);
    expect([verdict, value]).toEqual([corrected.verdict, corrected.value]);
    expect("check" in evidence && evidence.check).toEqual(
      "check" in corrected.evidence && corrected.evidence.check,
    );
    expect(
      await db("checks").where({ work_id: check, measurand: "conductivity" }).first("counts", "settled"),
    ).toMatchObject({ counts: 1, settled: 1 });
  });

  it("lets a check that passed with it say again until when all was right", async () => {
    const { db, standard, lots, person } = use.bench;
    const other = lots[1]?.id ?? "";
    await calibratedPond(use.bench, hour(8));
    await checkedPond(use.bench, right, hour(10), "interim");
    const early = recordId(await pondReading(use.bench, water, hour(9)), "conductivity");
    const late = recordId(await pondReading(use.bench, water, hour(11)), "conductivity");
    await withdraw(standard.id, 12);
    await takeBack(standard.id, 13);
    // Of two checks, the one that failed asks only for what was read since the one that passed.
    const failed = await checkedPond(use.bench, { ...right, conductivity: 790 }, hour(14));
    expect(
      await db("checks").where({ work_id: failed, measurand: "conductivity" }).first("last_good_at"),
    ).toEqual({
      last_good_at: hour(10),
    });
    const request = { kind: "check" as const, subject_id: failed };
    await runRejudging(db, await confirmRejudging(db, request, "drift", person, hour(14)), hour(15));
    expect([(await read(early)).verdict, (await read(late)).verdict]).toEqual(["sound", "qualified"]);
    expect(await takeBack(other, 16)).toBeNull();
  });

  it("is done to its end where it was broken off, each result once", async () => {
    const { db, person, lots } = use.bench;
    const ten = lots[1]?.id ?? "";
    await calibratedPh(use.bench, hour(8));
    for (let i = 0; i < 12; i++) await phReading(use.bench, -62, hour(9));
    await withdraw(ten, 10);
    await judged(ten, 10);
    const verdicts = () => db("readings").distinct("verdict").pluck("verdict");
    expect(await verdicts()).toEqual(["held"]);
    const { rejudging = "" } = await takeWithdrawalBack(db, ten, "The one beside it.", person, hour(11));
    const broken = runRejudging(db, rejudging, hour(11), () => {
      throw new Error("The power went.");
    });
    await expect(broken).rejects.toThrow("The power went.");
    expect((await verdicts()).sort()).toEqual(["held", "sound"]);
    await runRejudging(db, rejudging, hour(12));
    expect(await verdicts()).toEqual(["sound"]);
    const judgements = await db("reading_judgements").count({ n: "*" }).first();
    expect(Number(judgements?.n)).toBe(12 * 3);
    expect(await db("rejudgings").where({ id: rejudging }).first("status", "readings", "changed")).toEqual({
      status: "done",
      readings: 12,
      changed: 12,
    });
    expect(await verifyJournal(db)).toBeNull();
  });

  it("waits while what rests on the lot is being judged", async () => {
    const { db, person, lots } = use.bench;
    const ten = lots[1]?.id ?? "";
    await withdraw(ten, 10);
    await confirmRejudging(db, { kind: "lot", subject_id: ten }, "withdrawn", person, hour(10));
    expect(await takeBack(ten, 11)).toContain("Wait until that is done");
    expect((await findLot(db, ten))?.lot.withdrawn).not.toBeNull();
  });
});
