import { ulid } from "ulid";
import { beforeEach, describe, expect, it } from "vitest";
import { bottleTypes } from "../../../core/samples/bottleTypes";
import { noPlan, type VisitPlan } from "../../../core/samples/visitEvents";
import { libraryMethod, RunPlayer } from "../../../core/simulation/runPlayer";
import { findWork, postEvents } from "../bench/bench.server";
import { verifyJournal } from "../bench/verifyJournal.server";
import { startReading } from "../calibrations/startWork.server";
import { dayRail } from "../day/day.server";
import { analysisReadingsOfWork } from "../results/readings.server";
import { startRun } from "../runs/runs.server";
import { samplesPage } from "../samples/samples.server";
import { benchForEachTest } from "../testing/benchForEachTest";
import { postPlayed } from "../testing/benchRun";
import { lastPlan, loadVisit, recentVisits, startVisit } from "./visits.server";
import { worksOfVisit } from "./visitWorks.server";

const hands = benchForEachTest();
const day = (time: string) => `2026-04-12T${time}:00.000Z`;
const oxygen = bottleTypes.find((t) => t.id === "oxygen-pair");
if (!oxygen) throw new Error("The oxygen bottles are gone.");
const method = libraryMethod("oxygen-drops");
const plan: VisitPlan = {
  ...noPlan,
  air: true,
  methods: [{ id: method.id, name: method.name, parameters: ["oxygen"] }],
  bottles: [oxygen],
};

let visit = "";
beforeEach(async () => {
  visit = ulid();
  const { db, person, site } = hands.bench;
  const start = { work_id: visit, event_id: ulid(), actor: person, at: day("11:30") };
  await startVisit(db, start, site, plan);
});

const post = (time: string, event: object) =>
  postEvents(
    hands.bench.db,
    hands.bench.person,
    visit,
    [{ id: ulid(Date.parse(day(time))), at: day(time), by: "x", ...event }],
    day(time),
  );

/** Arrives, fills the pair at noon, doses it. */
async function filledAtNoon(): Promise<void> {
  await post("11:50", { type: "arrived", people: "Noor", position: null, back_by: null });
  await post("11:55", { type: "rinsed", bottle: 0 });
  const sample = { id: ulid(), code: "BP-260412-1" };
  await post("12:00", { type: "filled", bottle: 0, sample, depth_cm: 15 });
  await post("12:01", { type: "fixed", bottle: 0 });
}

/** Titrates the bottle that was filled at noon, from a time on. */
async function titrated(from: string) {
  const { db, person, site } = hands.bench;
  const at = day(from);
  const work = ulid(Date.parse(at));
  const lots = method.materials
    .filter((m) => m.lot)
    .map(({ key, name }) => ({ material: key, name, code: "L-1", expires_on: "2027-01-01", reason: null }));
  await startRun(db, { work_id: work, event_id: ulid(), actor: person, at, visit_id: visit }, method, site, {
    sample: "BP-260412-1",
    collected_at: day("12:00"),
    temperature_c: 20,
    dilution: 1,
    dilutes: null,
    lots,
    strength: null,
    blank_ml: null,
  });
  const played = new RunPlayer(method, {}, Date.parse(at)).play(8);
  await postPlayed(hands.bench, work, played.events, at);
  const [reading] = await analysisReadingsOfWork(db, work);
  if (!reading) throw new Error("Nothing was read.");
  return reading;
}

describe("a visit", () => {
  it("is on the rail while it goes on, is refused nothing twice, and ends with what it brought home", async () => {
    const { db, person } = hands.bench;
    await filledAtNoon();
    const rail = await dayRail(db, day("12:02"));
    expect(rail.runs.map((r) => [r.title, r.href])).toEqual([["At Bathing pond", `/visits/${visit}`]]);
    const again = await post("12:03", { type: "arrived", people: "", position: null, back_by: null });
    expect(again.answers).toMatchObject([{ is: "refused", code: "arrived" }]);
    await post("12:30", { type: "finished" });
    expect((await findWork(db, visit))?.status).toBe("finished");
    const [line] = await recentVisits(db);
    expect(line).toMatchObject({
      id: visit,
      status: "finished",
      arrived_at: day("11:50"),
      left_at: day("12:30"),
      missing: ["Air temperature", method.name],
    });
    const [sample] = (await samplesPage(db, { which: "all" })).rows;
    expect(sample).toMatchObject({
      code: "BP-260412-1",
      collected_at: day("12:00"),
      keeps_until: day("20:00"),
      verdict: "sound",
    });
    expect((await loadVisit(db, visit, person)).samples).toHaveLength(1);
    expect(await verifyJournal(db)).toBeNull();
  });

  it("that cannot be read is shown as such on the rail", async () => {
    const { db } = hands.bench;
    await db("bench_events")
      .where({ work_id: visit })
      .update({ payload: JSON.stringify({ type: "odd" }) });
    const [shown] = (await dayRail(db, day("12:02"))).runs;
    expect(shown).toMatchObject({ title: "At Bathing pond", href: `/visits/${visit}`, clocks: [] });
    expect(shown?.words).toContain("cannot be read");
  });

  it("is known to the work that says it was begun from it", async () => {
    const { db, person, site, pond } = hands.bench;
    const begin = (visit_id: string) =>
      startReading(
        db,
        { work_id: ulid(), event_id: ulid(), actor: person, at: day("12:00"), visit_id },
        pond,
        site,
        {
          sample: "X",
          in_place: true,
        },
      );
    await expect(begin(ulid())).rejects.toThrow("This visit is not known here.");
    await begin(visit);
    const [work] = await worksOfVisit(db, visit);
    expect(work).toMatchObject({ kind: "reading", status: "open" });
    expect(work?.measurands).toEqual(pond.channels.map((c) => c.measurand));
    // Work that is no visit begets none.
    await expect(begin(work?.id ?? "")).rejects.toThrow("This visit is not known here.");
  });

  it("brings its list to the next one at the same site", async () => {
    expect(await lastPlan(hands.bench.db, hands.bench.site.id)).toEqual(plan);
    expect(await lastPlan(hands.bench.db, "elsewhere")).toBeNull();
  });

  it("knows the tests that were begun from it, and no longer misses them once they are done", async () => {
    const { db, person } = hands.bench;
    await filledAtNoon();
    await titrated("17:30");
    const { works } = await loadVisit(db, visit, person);
    expect(works).toMatchObject([{ kind: "analysis", method_id: method.id, status: "finished" }]);
    await post("19:00", { type: "finished" });
    expect((await recentVisits(db))[0]?.missing).toEqual(["Air temperature"]);
  });
});

describe("a bottle fixed at noon", () => {
  const kept = (r: Awaited<ReturnType<typeof titrated>>) =>
    r.evidence.sampling && { ...r.evidence.sampling, findings: r.evidence.sampling.findings.length };
  it("titrated at 17:30 is noon's water, 5.5 of 8 hours old, and nothing is held against it", async () => {
    await filledAtNoon();
    const reading = await titrated("17:30");
    expect(reading.collected_at).toBe(day("12:00"));
    expect(reading.measured_at > day("17:30")).toBe(true);
    expect(kept(reading)).toMatchObject({ filled_at: day("12:00"), keeps_until: day("20:00"), findings: 0 });
    expect(reading.findings.some((f) => f.rule === "bottle-kept" && f.severity !== "ok")).toBe(false);
  });

  it("titrated at 20:30 is qualified, with the hours and what to do", async () => {
    await filledAtNoon();
    const reading = await titrated("20:30");
    const late = reading.findings.find((f) => f.rule === "bottle-kept");
    expect(late).toMatchObject({ severity: "qualify", limit: "8.0 h" });
    expect(late?.measured).toMatch(/^8\.[5-9] h$/);
    expect(reading.verdict).not.toBe("sound");
  });

  it("of which a rinse was owed carries that into every result", async () => {
    await post("11:50", { type: "arrived", people: "", position: null, back_by: null });
    const sample = { id: ulid(), code: "BP-260412-1" };
    await post("12:00", { type: "filled", bottle: 0, sample, depth_cm: null });
    await post("12:01", { type: "fixed", bottle: 0 });
    const reading = await titrated("13:00");
    expect(reading.findings.map((f) => f.rule)).toEqual(
      expect.arrayContaining(["rinses-short", "depth-not-recorded"]),
    );
  });
});
