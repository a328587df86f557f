import { ulid } from "ulid";
import { describe, expect, it } from "vitest";
import { type BenchPlan, toBegin } from "../../../core/planner/benchPlan";
import { jobsOf, plannable } from "../../../core/planner/fromMethod";
import { planJobs } from "../../../core/planner/planner";
import { libraryMethod } from "../../../core/simulation/runPlayer";
import { postEvents } from "../bench/bench.server";
import { dayRail } from "../day/day.server";
import { benchForEachTest } from "../testing/benchForEachTest";
import { openTestRun } from "../testing/benchRun";
import { endPlan, isThrownOut, openPlan, replan, startPlan } from "./plans.server";

const hands = benchForEachTest();
const at = "2026-04-12T08:00:00.000Z";
const zero = Date.parse(at);
const later = (seconds: number) => new Date(zero + seconds * 1000).toISOString();

/** A plan of these methods for one person, begun at `zero`. */
function planOf(methods: readonly string[], people: 1 | 2 = 1): BenchPlan {
  const tests = methods.map((method) => ({ run: ulid(), method, site: hands.bench.site.id }));
  const jobs = tests.flatMap((t) => jobsOf(plannable(libraryMethod(t.method)), "pond", t.run));
  const found = planJobs(jobs, { people });
  if (!found) throw new Error("There is a plan.");
  const { starts, person, stretch_s, proved } = found;
  return {
    id: ulid(),
    tests,
    people,
    align: "earliest",
    planned_at: zero,
    revision: 0,
    jobs: jobs.map((job) => ({ ...job, parts: [...job.parts] })),
    starts,
    person,
    stretch_s,
    proved,
    trouble: null,
  };
}

/** Begins a test of the plan: its run is opened, and its first step is done so many seconds after `zero`. */
async function begin(plan: BenchPlan, test: number, ended_s: number): Promise<string> {
  const { db, person } = hands.bench;
  const { run, method: id } = plan.tests[test] ?? { run: "", method: "" };
  const method = libraryMethod(id);
  await openTestRun(hands.bench, method, at, { work: run, lots: false });
  const step = method.steps[0]?.id;
  const done = { id: ulid(), at: later(ended_s), by: person.id, type: "done", replicate: 0, step };
  expect(await postEvents(db, person, run, [done], later(ended_s))).toMatchObject({ accepted: 1 });
  return run;
}

describe("a plan at the bench", () => {
  it("is followed from its start, once however often it is sent, and replaced by the next", async () => {
    const { db, person } = hands.bench;
    const plan = planOf(["phosphate-tube", "nitrate-tube"]);
    await startPlan(db, plan, person, at);
    await startPlan(db, plan, person, at);
    expect((await openPlan(db))?.plan).toEqual(plan);
    const next = planOf(["nitrate-tube"]);
    await startPlan(db, next, person, later(60));
    expect((await openPlan(db))?.plan.id).toBe(next.id);
    await startPlan(db, plan, person, later(90));
    expect((await openPlan(db))?.plan.id).toBe(next.id);
    await endPlan(db, next.id, person, later(120));
    expect(await openPlan(db)).toBeNull();
    const kept: { subject_id: string }[] = await db("journal").where({ subject_kind: "plan" }).orderBy("seq");
    expect(kept.map((row) => row.subject_id)).toEqual([plan.id, next.id, next.id]);
  });

  it("is refused when hands overlap in it, and then nothing is kept", async () => {
    const { db, person } = hands.bench;
    const plan = planOf(["phosphate-tube", "nitrate-tube"]);
    const broken = { ...plan, starts: plan.starts.map((row) => row.map(() => 0)) };
    expect(await startPlan(db, broken, person, at)).toMatchObject({ ok: false });
    expect(await openPlan(db)).toBeNull();
  });

  it("rings on every page for what is to be begun next, one for each pair of hands", async () => {
    const { db, person } = hands.bench;
    const plan = planOf(["phosphate-tube", "nitrate-tube", "ammonia-salicylate"], 2);
    await startPlan(db, plan, person, at);
    const { runs } = await dayRail(db, at);
    expect(runs[0]).toMatchObject({ title: "The plan", href: "/runs/plan", clocks: [] });
    expect(runs.slice(1).map((r) => r.title)).toEqual(["Person 1 begins", "Person 2 begins"]);
    const first = runs[1]?.clocks[0];
    expect(runs[1]?.href).toContain("/runs/new/");
    expect(first?.due).toBe(toBegin(plan, new Map()).find((b) => b.person === 0)?.at ?? Number.NaN);
  });

  it("leaves the rail when everything is over", async () => {
    const { db, person } = hands.bench;
    const plan = planOf(["nitrate-tube"]);
    await startPlan(db, plan, person, at);
    const run = await begin(plan, 0, 20);
    const rail = await dayRail(db, at);
    expect(rail.runs[0]?.words).toBe(plan.jobs.length > 1 ? "1 test to begin" : "everything is begun");
    const given_up = { id: ulid(), at: later(60), by: person.id, type: "abandoned", reason: "spilt" };
    await postEvents(db, person, run, [given_up], later(60));
    expect(await openPlan(db)).toBeNull();
    expect((await dayRail(db, at)).runs).toEqual([]);
  });
});

describe("a plan that was thrown out", () => {
  const late = async () => {
    const { db, person } = hands.bench;
    const plan = planOf(["phosphate-tube", "nitrate-tube"]);
    await startPlan(db, plan, person, at);
    const first = toBegin(plan, new Map())[0]?.test;
    const run = await begin(
      plan,
      plan.tests.findIndex((t) => t.run === first?.run),
      400,
    );
    return { db, plan, run };
  };

  it("is noticed when a test of it is begun late, and not by another run", async () => {
    const { db, run } = await late();
    expect(await isThrownOut(db, run)).toBe(true);
    expect(await isThrownOut(db, ulid())).toBe(false);
  });

  it("is made anew from now on, and holds again", async () => {
    const { db, plan, run } = await late();
    await replan(db, zero + 401_000);
    const anew = (await openPlan(db))?.plan;
    expect(anew).toMatchObject({ id: plan.id, revision: 1, planned_at: zero + 401_000 });
    expect(anew?.jobs.find((job) => job.run === run)).toMatchObject({ begun: true, person: 0 });
    expect(await isThrownOut(db, run)).toBe(false);
  });

  it("is not brought back by an answer that comes after it was put away", async () => {
    const { db, plan } = await late();
    const asked = replan(db, zero + 401_000, () => false);
    await endPlan(db, plan.id, hands.bench.person, later(402));
    await asked;
    expect(await openPlan(db)).toBeNull();
  });
});
