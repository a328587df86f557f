import { ulid } from "ulid";
import { describe, expect, it } from "vitest";
import { recordId } from "../bench/benchWork.server";
import { verifyJournal } from "../bench/verifyJournal.server";
import { voidResults } from "../bench/void.server";
import { bringFile } from "../exchange/importFile.server";
import { takeImport } from "../exchange/takeImport.server";
import { undoImport } from "../exchange/undoImport.server";
import { findReading } from "../results/readings.server";
import { confirmRejudging, unfinishedRejudgings } from "../results/rejudge.server";
import { runRejudging } from "../results/rejudgeRun.server";
import { amendReading } from "../review/amend.server";
import { receiveSample } from "../samples/receiveSample.server";
import { changeLot } from "../stock/lots.server";
import { benchForEachTest } from "../testing/benchForEachTest";
import { calibratedPh, calibratedPond, phReading, pondReading, type TestBench } from "../testing/testBench";

/** Every hundred minutes of a long day somebody goes to the pond; and some minutes after that. */
const at = (round: number, minute = 0) =>
  new Date(Date.parse("2026-04-12T05:00:00.000Z") + (100 * round + minute) * 60_000).toISOString();

/** The pH meter's reading of a water, by its id. */
async function phAt(bench: TestBench, round: number, value: number, minute = 0): Promise<string> {
  const work = await phReading(bench, -59.16 * (value - 7), at(round, minute));
  return recordId(work, "ph");
}
/** The pond meter's, twenty minutes later; it reads pH and oxygen as well. */
const pondAt = (bench: TestBench, round: number, minute = 20) =>
  pondReading(
    bench,
    { conductivity: 400 + 20 * round, ph: -59.16 * (usualPh(round) - 7), oxygen: 90 },
    at(round, minute),
  );
/** In this pond pH rises with the conductivity. */
const usualPh = (round: number) => 7 + 0.05 * round;

/** So many rounds of both meters. */
async function rounds(bench: TestBench, n: number): Promise<void> {
  await calibratedPh(bench, at(0, -60));
  await calibratedPond(bench, at(0, -60));
  for (let round = 0; round < n; round++) {
    await phAt(bench, round, usualPh(round));
    await pondAt(bench, round);
  }
}

const saidIn = async ({ db }: TestBench, id: string) =>
  (await findReading(db, id))?.findings.find((f) => f.rule === "together");

describe("a pH and the conductivity of the same water", () => {
  /** What is usual here lies behind each of these tests. */
  const use = benchForEachTest("demo", { name: "nine rounds", happen: (bench) => rounds(bench, 9) });
  const ph = (round: number, value: number, minute?: number) => phAt(use.bench, round, value, minute);
  const pond = (round: number, minute?: number) => pondAt(use.bench, round, minute);
  const saidOf = (id: string) => saidIn(use.bench, id);

  it("are held beside one another as soon as both are there, whichever came last", async () => {
    const usual = await ph(9, usualPh(9));
    const odd = await ph(9, 8.6, 5);
    // Nothing stands beside them yet.
    expect(await saidOf(usual)).toBeUndefined();
    await pond(9);
    expect(await saidOf(usual)).toMatchObject({ severity: "ok" });
    expect(await saidOf(odd)).toMatchObject({
      severity: "qualify",
      sentence: expect.stringMatching(/^It does not go with the \d+\.\d µS\/cm conductivity: by \d+ pairs/),
    });
    const history = await use.bench.db("reading_judgements").where({ reading_id: odd }).orderBy("seq");
    expect(history.at(-1)?.cause).toBe("conductivity of the same water");
    // One that comes after the conductivity is judged so at once.
    expect((await saidOf(await ph(9, 8.7, 25)))?.severity).toBe("qualify");
  });

  it("are held beside the conductivity as it is amended, and beside nothing when it is taken out", async () => {
    const { db, person } = use.bench;
    const usual = await ph(9, usualPh(9));
    const work = await pond(9);
    expect((await saidOf(usual))?.severity).toBe("ok");
    const conductivity = recordId(work, "conductivity");
    const amendment = { what: "value" as const, text: "1580", reason: "misread", judgement: 1 };
    expect(await amendReading(db, conductivity, amendment, person, at(10))).toBeNull();
    expect(await saidOf(usual)).toMatchObject({
      severity: "qualify",
      sentence: expect.stringContaining("1580 µS/cm"),
    });
    await voidResults(db, person, work, "wrong pond", at(11));
    expect(await saidOf(usual)).toBeUndefined();
    expect(await verifyJournal(db)).toBeNull();
  });

  it("are held beside nothing once the standard of the conductivity is withdrawn; what a kill left is followed later", async () => {
    const { db, person } = use.bench;
    const odd = await ph(9, 8.6);
    await pond(9);
    expect((await saidOf(odd))?.severity).toBe("qualify");
    const lot_id = use.bench.standard.id;
    const withdrawn = { on: "2026-04-13", since: "2026-04-01", reason: "left open" };
    await changeLot(db, lot_id, (lot) => ({ ...lot, withdrawn }), person, at(12), "left open");
    const job = await confirmRejudging(db, { kind: "lot", subject_id: lot_id }, "left open", person, at(12));
    await runRejudging(db, job, at(13));
    expect(await saidOf(odd)).toBeUndefined();
    expect(await unfinishedRejudgings(db)).toEqual([]);
    const history = await db("reading_judgements").where({ reading_id: odd }).orderBy("seq");
    expect(history.at(-1)?.cause).toBe("conductivity of the same water");

    // As after a kill: the job is done, and one of its changes is still to be followed.
    const { id, findings } = await db("readings")
      .where({ parameter: "conductivity" })
      .first("id", "findings");
    const change = {
      rejudging_id: job,
      reading_id: id,
      based_on: 1,
      verdict: "held",
      findings,
      rules_version: 1,
    };
    await db("rejudging_changes").insert(change);
    expect(await unfinishedRejudgings(db)).toEqual([job]);
    await runRejudging(db, job, at(14));
    expect(await unfinishedRejudgings(db)).toEqual([]);
    expect(await db("rejudging_changes")).toEqual([]);
    expect(await verifyJournal(db)).toBeNull();
  });

  it("are of one bottle when its code says so, also when the bottle is registered after both", async () => {
    const { db, person, site } = use.bench;
    const odd = recordId(await phReading(use.bench, -59.16 * 1.6, at(9), "X-9"), "ph");
    await pondReading(use.bench, { conductivity: 580, ph: -26, oxygen: 90 }, at(9, 95), "X-9");
    expect(await saidOf(odd)).toBeUndefined();
    const bottle = { code: "X-9", site: site.id, type: "general", collected_at: at(9, -5) };
    const brought = { ...bottle, id: ulid(), from: "The lifeguard", temperature_c: 5, note: "", methods: [] };
    expect(await receiveSample(db, brought, person, at(11))).toBeNull();
    expect(await saidOf(odd)).toMatchObject({ severity: "qualify" });
    expect(await verifyJournal(db)).toBeNull();
  });

  it("of two bottles that are read one after the other at the bench are of two waters", async () => {
    const { db, person, site } = use.bench;
    for (const [code, filled] of [
      ["X-1", at(0, -180)],
      ["X-2", at(9, -5)],
    ] as const) {
      const bottle = {
        id: ulid(Date.parse(filled)),
        code,
        site: site.id,
        type: "general",
        collected_at: filled,
      };
      const brought = { ...bottle, from: "The lifeguard", temperature_c: 5, note: "", methods: [] };
      expect(await receiveSample(db, brought, person, at(9))).toBeNull();
    }
    const odd = recordId(await phReading(use.bench, -59.16 * 1.6, at(9), "X-1"), "ph");
    const water = { conductivity: 580, ph: -26, oxygen: 90 };
    await pondReading(use.bench, water, at(9, 10), "X-2");
    expect(await saidOf(odd)).toBeUndefined();
    await pondReading(use.bench, water, at(9, 120), "X-1");
    expect(await saidOf(odd)).toMatchObject({ severity: "qualify" });
  });

  it("are held beside a conductivity that a file brings, and beside none when the file is taken out", async () => {
    const { db, person } = use.bench;
    const [usual, odd, later] = [await ph(9, usualPh(9)), await ph(9, 8.6, 5), await ph(12, 8.6)];
    const text = `Site,Date,Parameter,Value,Unit\nBathing pond,${at(9, 20)},Conductivity,580,µS/cm\n`;
    const kept = await bringFile(db, { name: "logger.csv", text }, person, at(13));
    if ("message" in kept) throw new Error(kept.message);
    expect(await takeImport(db, kept.id, { partly: false, person_id: person.id }, at(13))).toBeNull();
    expect([await saidOf(usual), await saidOf(odd)]).toMatchObject([
      { severity: "ok" },
      { severity: "qualify", sentence: expect.stringContaining("580.0 µS/cm") },
    ]);
    expect(await saidOf(later)).toBeUndefined();
    expect(await undoImport(db, kept.id, "another pond's logger", person, at(14))).toBeNull();
    expect([await saidOf(usual), await saidOf(odd)]).toEqual([undefined, undefined]);
    expect(await verifyJournal(db)).toBeNull();
  });

  it("are two waters when more than an hour lies between", async () => {
    const odd = await ph(9, 8.6, 30);
    await pond(9, 91);
    expect(await saidOf(odd)).toBeUndefined();
  });
});

describe("a pH and a conductivity of few waters", () => {
  const use = benchForEachTest("demo", { name: "three rounds", happen: (bench) => rounds(bench, 3) });

  it("claim no line before there are eight pairs", async () => {
    const { bench } = use;
    // Two readings of pH a round, and one more: seven pairs.
    await phAt(bench, 3, usualPh(3));
    const odd = await phAt(bench, 3, 8.6, 5);
    await pondAt(bench, 3);
    expect(await saidIn(bench, odd)).toBeUndefined();
    expect((await saidIn(bench, await phAt(bench, 3, 8.7, 25)))?.severity).toBe("qualify");
  });
});
