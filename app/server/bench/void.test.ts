import { describe, expect, it } from "vitest";
import { defaultHouseRules } from "../../../core/rules/houseRules";
import { libraryMethod, RunPlayer } from "../../../core/simulation/runPlayer";
import { loadDay } from "../day/dayPage.server";
import { analysisReadingsOfWork, judgementsOfWork } from "../results/readings.server";
import { confirmRejudging } from "../results/rejudge.server";
import { runRejudging } from "../results/rejudgeRun.server";
import { changeRules } from "../rules/rules.server";
import { benchForEachTest } from "../testing/benchForEachTest";
import { openTestRun, postPlayed } from "../testing/benchRun";
import { verifyJournal } from "./verifyJournal.server";
import { voidResults } from "./void.server";

const use = benchForEachTest();
const hour = (h: number) => `2026-04-12T${String(h).padStart(2, "0")}:00:00.000Z`;

/** A photometer's phosphate, played at an hour of the day. */
async function phosphate(mgL: number, h: number): Promise<string> {
  const method = libraryMethod("phosphate-photometer");
  const work = await openTestRun(use.bench, method, hour(h));
  await postPlayed(use.bench, work, new RunPlayer(method, {}, Date.parse(hour(h))).play(mgL).events, hour(h));
  return work;
}

const takeOut = (work: string) =>
  voidResults(use.bench.db, use.bench.person, work, "the cell was scratched", hour(20));
const only = async (work: string) => (await analysisReadingsOfWork(use.bench.db, work))[0];
const onTheDay = async () => {
  const { waters } = await loadDay(use.bench.db, hour(21), async () => []);
  return waters.flatMap((w) => w.readings).map((r) => r.shown);
};

describe("a result that was taken out", () => {
  it("stays to be seen with its reason and its history, and counts once however often it is asked", async () => {
    const work = await phosphate(0.8, 8);
    expect(await takeOut(work)).toBe(1);
    expect(await takeOut(work)).toBe(0);
    const reading = await only(work);
    expect(reading).toMatchObject({ value: 0.8, verdict: "void" });
    expect(reading?.findings[0]?.sentence).toContain("the cell was scratched");
    expect((await judgementsOfWork(use.bench.db, work)).map((j) => j.verdict)).toEqual(["sound", "void"]);
    expect(await verifyJournal(use.bench.db)).toBeNull();
  });

  it("is no longer the newest value of its water: the one before it is, or the next that comes", async () => {
    const early = await phosphate(0.5, 10);
    const late = await phosphate(0.8, 12);
    expect(await onTheDay()).toEqual(["0.80"]);
    await takeOut(late);
    expect(await onTheDay()).toEqual(["0.50"]);
    await takeOut(early);
    expect(await onTheDay()).toEqual([]);
    await phosphate(0.6, 9);
    expect(await onTheDay()).toEqual(["0.60"]);
  });

  it("is not brought back by new rules", async () => {
    const { db, person } = use.bench;
    const work = await phosphate(0.8, 8);
    await takeOut(work);
    const strict = {
      ...defaultHouseRules,
      data: "demo" as const,
      analysis: { ...defaultHouseRules.analysis, positive_control: true },
    };
    await changeRules(db, 1, strict, "another look", person, hour(20));
    const job = await confirmRejudging(
      db,
      { kind: "rules", subject_id: hour(1) },
      "new rules",
      person,
      hour(20),
    );
    await runRejudging(db, job, hour(20));
    expect(await only(work)).toMatchObject({ verdict: "void", rules_version: 2 });
  });

  it("is not brought back by an event that arrives late", async () => {
    const method = libraryMethod("oxygen-drops");
    const work = await openTestRun(use.bench, method, hour(8));
    const played = new RunPlayer(method, {}, Date.parse(hour(8))).play(8);
    // Two drops are still in the pocket of a telephone without a network when the run is finished elsewhere.
    const pocket = played.events.filter((e) => e.type === "drop").slice(2, 4);
    const there = played.events.filter((e) => !pocket.some((p) => p.id === e.id));
    await postPlayed(use.bench, work, there, hour(8));
    const before = (await only(work))?.value ?? Number.NaN;
    const another = () => postPlayed(use.bench, work, pocket.splice(0, 1), hour(20));
    expect(await another()).toMatchObject({ accepted: 1 });
    const once = (await only(work))?.value ?? Number.NaN;
    expect(once).toBeGreaterThan(before);
    await takeOut(work);
    expect(await another()).toMatchObject({ accepted: 1 });
    expect(await only(work)).toMatchObject({ verdict: "void" });
    expect((await only(work))?.findings[0]?.sentence).toContain("the cell was scratched");
    expect(await onTheDay()).toEqual([]);
  });
});
