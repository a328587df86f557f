import { ulid } from "ulid";
import { describe, expect, it } from "vitest";
import { bottleTypes } from "../../../core/samples/bottleTypes";
import { libraryMethod, RunPlayer } from "../../../core/simulation/runPlayer";
import { postEvents } from "../bench/bench.server";
import { recordId } from "../bench/benchWork.server";
import { verifyJournal } from "../bench/verifyJournal.server";
import { startReading } from "../calibrations/startWork.server";
import { analysisReadingsOfWork, findReading } from "../results/readings.server";
import { amendReading } from "../review/amend.server";
import { benchForEachTest } from "../testing/benchForEachTest";
import { openTestRun, postPlayed } from "../testing/benchRun";
import {
  calibratedPh,
  calibratedPond,
  liveCapture,
  phReading,
  pondReading,
  wholeRun,
} from "../testing/testBench";
import { keepBottleType } from "./bottleTypes.server";
import { discardSample, receiveSample } from "./receiveSample.server";
import { bottleMeant } from "./samples.server";

const use = benchForEachTest();
const at = (min: number) => new Date(Date.parse("2026-04-12T08:00:00.000Z") + min * 60_000).toISOString();

/** Registers a bottle that was filled at a minute, whenever that is said. */
async function bottle(code: string, filled: number, type = "general"): Promise<string> {
  const { db, person, site } = use.bench;
  const id = ulid(Date.parse(at(filled)));
  const brought = { id, code, site: site.id, type, collected_at: at(filled), temperature_c: 5 };
  const refused = await receiveSample(
    db,
    { ...brought, from: "The lifeguard", note: "", methods: [] },
    person,
    at(600),
  );
  if (refused) throw new Error(JSON.stringify(refused));
  return id;
}
const ph = async (minute: number, code: string) =>
  recordId(await phReading(use.bench, -20, at(minute), code), "ph");
const known = async (id: string) => {
  const { collected_at, sample_id, verdict, findings } = (await findReading(use.bench.db, id)) ?? {};
  const kept = findings?.find((f) => f.rule === "holding-time");
  return { collected_at, sample_id, verdict, waited: kept?.severity ?? null };
};

describe("what was measured under the name of a bottle", () => {
  it("is as old as its water, whichever of the two came to be known first", async () => {
    await calibratedPh(use.bench, at(0));
    const before = await ph(60, "X-9");
    expect(await known(before)).toMatchObject({ collected_at: null, sample_id: null, waited: null });
    const id = await bottle("X-9", 20);
    const after = await ph(70, "x-9");
    // pH keeps a quarter of an hour. Source: 40 CFR 136.3, table II.
    for (const one of [before, after])
      expect(await known(one)).toEqual({
        collected_at: at(20),
        sample_id: id,
        verdict: "qualified",
        waited: "qualify",
      });
    const rows = await use.bench.db("readings").whereIn("id", [before, after]).distinct("collected_at");
    expect(rows).toEqual([{ collected_at: at(20) }]);
    expect(await verifyJournal(use.bench.db)).toBeNull();
  });

  it("in the water itself came out of no bottle", async () => {
    await calibratedPh(use.bench, at(0));
    const { db, person, site, meter } = use.bench;
    const id = await bottle("X-9", 20);
    const work = ulid(Date.parse(at(60)));
    const start = { work_id: work, event_id: ulid(), actor: person, at: at(60) };
    await startReading(db, start, meter, site, { sample: "X-9", in_place: true });
    const captures = wholeRun(use.bench, [liveCapture(-20), liveCapture(-20)], at(60));
    await postEvents(db, person, work, captures, at(62));
    const read = await findReading(db, recordId(work, "ph"));
    expect(read).toMatchObject({ sample_id: id, collected_at: null });
    expect(read?.findings.map((f) => f.rule)).not.toContain("bottle-kept");
  });

  it("is of it until it was poured away", async () => {
    const { db, person } = use.bench;
    await calibratedPh(use.bench, at(0));
    const id = await bottle("Tap 3", 20);
    expect(await known(await ph(60, "Tap 3"))).toMatchObject({ sample_id: id });
    await discardSample(db, id, person, at(90));
    await discardSample(db, id, person, at(95));
    const next = await known(await ph(100, "Tap 3"));
    expect(next).toEqual({ collected_at: null, sample_id: null, verdict: "sound", waited: null });
  });

  it("is judged by the bottle where its document says how long it keeps for this test", async () => {
    await calibratedPh(use.bench, at(0));
    const { db, person } = use.bench;
    const general = bottleTypes.find((t) => t.id === "general");
    if (!general) throw new Error("The general bottle is gone.");
    const sealed = { ...general, id: "sealed", name: "Sealed", tests: [{ parameter: "ph", holds_h: 2 }] };
    expect(await keepBottleType(db, sealed, true, person, at(0))).toBe("kept");
    await bottle("S-1", 20, "sealed");
    const inTime = await ph(130, "S-1");
    expect(await known(inTime)).toMatchObject({ verdict: "sound", waited: null });
    const late = await findReading(db, await ph(150, "S-1"));
    expect(late?.findings.find((f) => f.rule === "bottle-kept")?.severity).toBe("qualify");
  });
});

describe("a result whose sample is given another name", () => {
  const rename = (id: string, text: string, judgement: number) => {
    const { db, person } = use.bench;
    const amendment = { what: "sample" as const, text, reason: "the wrong label", judgement };
    return amendReading(db, id, amendment, person, at(700));
  };
  const bottleOfWork = async (id: string) =>
    (
      await use.bench
        .db("bench_work")
        .where({ id: id.replace(/-ph$/, "") })
        .first("sample_id")
    ).sample_id;

  it("is of the bottle that this means, as old as its water; of none where it means none", async () => {
    await calibratedPh(use.bench, at(0));
    const [first, second] = [await bottle("X-1", 20), await bottle("X-2", 50)];
    const id = await ph(60, "X-1");
    expect(await known(id)).toMatchObject({ collected_at: at(20), sample_id: first, waited: "qualify" });
    expect(await rename(id, "x-2", 1)).toBeNull();
    expect(await known(id)).toEqual({
      collected_at: at(50),
      sample_id: second,
      verdict: "sound",
      waited: "ok",
    });
    expect(await bottleOfWork(id)).toBe(second);
    expect(await rename(id, "from the tap", 2)).toBeNull();
    expect(await known(id)).toEqual({ collected_at: null, sample_id: null, verdict: "sound", waited: null });
    expect(await bottleOfWork(id)).toBeNull();
    expect(await verifyJournal(use.bench.db)).toBeNull();
  });

  it("keeps that name when an event of it arrives late", async () => {
    const { db } = use.bench;
    const method = libraryMethod("oxygen-drops");
    const work = await openTestRun(use.bench, method, at(100), { sample: "X-1" });
    const played = new RunPlayer(method, {}, Date.parse(at(100))).play(8);
    const pocket = played.events.filter((e) => e.type === "drop").slice(2, 3);
    const there = played.events.filter((e) => !pocket.some((p) => p.id === e.id));
    await postPlayed(use.bench, work, there, at(100));
    const id = await bottle("X-2", 90);
    const [before] = await analysisReadingsOfWork(db, work);
    expect(await rename(before?.id ?? "", "X-2", 1)).toBeNull();
    await postPlayed(use.bench, work, pocket, at(800));
    const [after] = await analysisReadingsOfWork(db, work);
    expect(after?.value).toBeGreaterThan(before?.value ?? Number.NaN);
    expect(after).toMatchObject({ sample: "X-2", sample_id: id, collected_at: at(90) });
  });

  it("takes what derives from it along", async () => {
    const { db } = use.bench;
    await calibratedPond(use.bench, at(0));
    const work = await pondReading(use.bench, { conductivity: 600, ph: -62, oxygen: 85 }, at(60), "X-1");
    const oxygen = recordId(work, "oxygen");
    expect(await rename(oxygen, "X-7", 1)).toBeNull();
    expect((await findReading(db, `${oxygen}-saturation`))?.sample).toBe("X-7");
    expect(await rename(`${oxygen}-saturation`, "X-8", 2)).toContain("reckoned from other results");
  });
});

describe("the bottle that a name means", () => {
  const bottles = [
    { id: "a", collected_at: at(0), poured_at: null },
    { id: "b", collected_at: at(60), poured_at: at(120) },
  ];
  it.each([
    [-30, -10, null],
    [-30, 10, "a"],
    [30, 90, "a"],
    [60, 90, "b"],
    [-30, 90, "a"],
    [120, 130, "b"],
    // The second was poured away: the first is what bears the name.
    [121, 130, "a"],
  ])("for work from %i to %i is %s", (from, to, id) => {
    expect(bottleMeant(bottles, { started_at: at(from), finished_at: at(to) })).toBe(id);
  });
});
