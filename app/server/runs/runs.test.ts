import { ulid } from "ulid";
import { beforeEach, describe, expect, it } from "vitest";
import { replay } from "../../../core/bench/event";
import { defaultHouseRules } from "../../../core/rules/houseRules";
import { limitSets, meaningsOf } from "../../../core/rules/limitSets";
import { runFolding } from "../../../core/runs/run";
import type { RunEvent } from "../../../core/runs/runEvents";
import { libraryMethod, RunPlayer } from "../../../core/simulation/runPlayer";
import { runEvents } from "../bench/bench.server";
import { verifyJournal } from "../bench/verifyJournal.server";
import { dueList } from "../day/due.server";
import { jumpPlaces } from "../day/jump.server";
import { csvRows, exportedReading } from "../exchange/exports.server";
import { takeIntoUse, takeOutOfUse } from "../platform/inUse.server";
import { knownParameters } from "../results/latest.server";
import { analysisReadingsOfWork, findReading } from "../results/readings.server";
import { confirmRejudging } from "../results/rejudge.server";
import { runRejudging } from "../results/rejudgeRun.server";
import { addLimitSet, limitSetFromJson } from "../rules/limitSets.server";
import { changeRules } from "../rules/rules.server";
import { chooseLimitSets, findSite } from "../sites/sites.server";
import { benchForEachTest } from "../testing/benchForEachTest";
import { openTestRun, postPlayed } from "../testing/benchRun";
import { testNow } from "../testing/testBench";
import { findMethod, listMethods, saveMethod } from "./methods.server";
import { openRuns } from "./openRuns.server";
import { lastOnBench, loadRun } from "./runs.server";

const hands = benchForEachTest();
const at = "2026-04-12T08:00:00.000Z";
let work = "";
beforeEach(() => {
  work = ulid();
});

/** Starts a run on the bench's database; what happens then is played apart and posted. */
async function start(id: string, lots = true): Promise<RunPlayer> {
  const method = libraryMethod(id);
  const played = new RunPlayer(method);
  await openTestRun(hands.bench, method, at, { work, lots });
  return played;
}

const post = (events: readonly RunEvent[], of = work) => postPlayed(hands.bench, of, events, at);

const results = () => analysisReadingsOfWork(hands.bench.db, work);

describe("a run of a method", () => {
  it("ends as a judged result in the ledger, with its evidence and its line in the journal", async () => {
    const played = (await start("phosphate-photometer")).play(0.8);
    expect(await post(played.events)).toMatchObject({ accepted: played.events.length - 1 });
    const [only] = await results();
    expect(only).toMatchObject({
      source: "analysis",
      analyte: "Phosphate as PO4",
      meter: "Phosphate, photometer",
      value: 0.8,
      shown: "0.80",
      verdict: "sound",
    });
    expect(only?.evidence.lots.map((l) => l.code)).toEqual(["L-1"]);
    expect(await verifyJournal(hands.bench.db)).toBeNull();
    expect(await knownParameters(hands.bench.db)).toEqual([
      { parameter: "phosphate", analyte: "Phosphate as PO4" },
    ]);
  });

  it("gives one result a pad, late pads with a note, ranges kept through to the export", async () => {
    const played = await start("nitrite-nitrate-strip");
    const read = (step: string, place: "at" | "between", n: number) =>
      ({ type: "read", replicate: 0, step, raw: { kind: "colour", scale: 0, step: n, place } }) as const;
    played
      .happen({ type: "done", replicate: 0, step: "fill" }, 20)
      .happen({ type: "done", replicate: 0, step: "ready" }, 1)
      .happen({ type: "done", replicate: 0, step: "dip" }, 4);
    played
      .happen(read("read-nitrite", "at", 0), 41)
      .happen(read("read-nitrate", "between", 3), 19)
      .finish();
    await post(played.events);
    const rows = Object.fromEntries((await results()).map((r) => [r.parameter, r]));
    expect(rows.nitrite).toMatchObject({
      value: null,
      shown: "< 0.15",
      low: null,
      high: 0.15,
      verdict: "qualified",
    });
    expect(rows.nitrate).toMatchObject({ value: 7.5, low: 5, high: 10, verdict: "sound" });
    const exported = [rows.nitrite, rows.nitrate].map((r) => r && exportedReading(r, []).relation);
    expect(exported).toEqual(["less-than", "between"]);
  });

  it("shows its running clocks on every page until they are read", async () => {
    const played = await start("nitrite-nitrate-strip");
    played
      .happen({ type: "done", replicate: 0, step: "fill" }, 20)
      .happen({ type: "done", replicate: 0, step: "ready" }, 1)
      .happen({ type: "done", replicate: 0, step: "dip" }, 4);
    await post(played.events);
    const [run] = await openRuns(hands.bench.db);
    expect(run?.clocks.map((c) => (c.due - c.began) / 1000)).toEqual([30, 60]);
    played.happen({ type: "abandoned", reason: "Given up at the bench." });
    await post(played.events);
    expect(await openRuns(hands.bench.db)).toEqual([]);
  });

  it("counts two hundred drops from two tabs, sent twice and out of order, once each", async () => {
    const played = await start("oxygen-drops");
    played.until("read");
    const before = played.events.length;
    for (let i = 0; i < 203; i++) played.happen({ type: "drop", replicate: 0 }, 0.1);
    for (let i = 0; i < 3; i++) played.happen({ type: "drop-undone", replicate: 0 }, 0.1);
    await post(played.events.slice(0, before));
    const drops = played.events.slice(before);
    const tabs = [drops.filter((_, i) => i % 2 === 0), drops.filter((_, i) => i % 2 === 1)];
    await Promise.all([
      ...tabs.map((t) => post(t)),
      post(drops.slice(50, 90)),
      post([...drops].reverse().slice(0, 20)),
    ]);
    const { state } = replay(await runEvents(hands.bench.db, work), runFolding);
    expect(state?.replicates[0]?.drops).toBe(200);
  });

  it("refuses what cannot happen, in words, and keeps none of it", async () => {
    const played = await start("oxygen-burette");
    played.until("read");
    await post(played.events);
    const wrong = new RunPlayer(libraryMethod("oxygen-burette"));
    wrong.clock = played.clock + 1000;
    wrong.happen({ type: "scale-end", replicate: 0, value: 3 });
    expect(await post(wrong.events.slice(1).map((e) => ({ ...e, id: ulid() })))).toMatchObject({
      refused: { code: "not-read", message: "Read the scale before you begin." },
    });
    expect((await runEvents(hands.bench.db, work)).length).toBe(played.events.length);
  });

  it("remembers the bottles of the last run of the method", async () => {
    await start("phosphate-photometer");
    const last = (id: string) => lastOnBench(hands.bench.db, id);
    expect((await last("phosphate-photometer")).lots.map((l) => l.code)).toEqual(["L-1"]);
    expect(await last("oxygen-drops")).toEqual({ lots: [], curve: [], drawn_at: null });
  });

  it("is judged anew by new house rules when somebody asks", async () => {
    const played = (await start("phosphate-photometer")).play(0.01);
    await post(played.events);
    const { db, person } = hands.bench;
    const strict = {
      ...defaultHouseRules,
      data: "demo" as const,
      analysis: { ...defaultHouseRules.analysis, positive_control: true },
    };
    await changeRules(db, 1, strict, "pollution feared", person, at);
    const job = await confirmRejudging(
      db,
      { kind: "rules", subject_id: "2026-04-01T00:00:00.000Z" },
      "new rules",
      person,
      at,
    );
    await runRejudging(db, job, at);
    expect(await findReading(db, `${work}-phosphate`)).toMatchObject({ verdict: "held", rules_version: 2 });
  });
});

describe("duplicates of oxygen, through the door that the bench uses", () => {
  it.each([
    ["agree", [8.0, 8.4], { value: 8.2, verdict: "sound" }],
    ["disagree, and the retest agrees", [8.0, 9.2, 8.2], { value: 8.1, verdict: "sound" }],
    ["two of four agree", [7.0, 9.2, 8.1, 9.0], { value: 9.1, verdict: "sound" }],
    ["none agrees", [6.0, 9.2, 8.1, 7.1], { value: null, verdict: "held" }],
  ])("%s", async (_, sizes, expected) => {
    const played = await start("oxygen-syringe");
    for (const size of sizes) played.read(size);
    await post(played.finish().events);
    const [only] = await results();
    expect(only?.verdict).toBe(expected.verdict);
    if (expected.value === null) {
      expect(only?.value).toBeNull();
      expect(only?.findings.find((f) => f.rule === "duplicates")?.action).toContain("Collect new samples");
    } else expect(only?.value).toBeCloseTo(expected.value, 9);
  });
});

describe("a visit of which no two results agree", () => {
  it("is flagged on every page with what else cannot wait, until new water has given an answer", async () => {
    const { db } = hands.bench;
    const flags = async () => (await dueList(db, at)).filter((d) => d.kind === "resample");
    const vial = await openTestRun(hands.bench, libraryMethod("ph-vial"), at);
    await postPlayed(hands.bench, vial, new RunPlayer(libraryMethod("ph-vial")).play(7).events, at);
    const first = await start("oxygen-syringe");
    for (const size of [6.0, 9.2, 8.1, 7.1]) first.read(size);
    await post(first.finish().events);
    expect(await flags()).toMatchObject([
      {
        title: "Collect new water: Bathing pond",
        detail: expect.stringMatching(/^Dissolved oxygen: no two results agree\. With it, again: pH/),
        href: `/runs/${work}`,
      },
    ]);
    const again = await openTestRun(hands.bench, libraryMethod("oxygen-syringe"), at);
    const later = new RunPlayer(libraryMethod("oxygen-syringe"), {}, first.clock + 600_000);
    await postPlayed(hands.bench, again, later.play(8).events, new Date(later.clock).toISOString());
    expect(await flags()).toEqual([]);
  });
});

describe("the limits of a site", () => {
  it("are every set until somebody chooses, and only sets that exist", async () => {
    const { db, person, site } = hands.bench;
    expect((await findSite(db, site.id))?.limit_sets).toEqual(limitSets.map((s) => s.id));
    expect(await chooseLimitSets(db, site.id, ["fish-water", "alchemy"], person, at)).toBe(true);
    expect((await findSite(db, site.id))?.limit_sets).toEqual(["fish-water"]);
    expect(await chooseLimitSets(db, "nowhere", [], person, at)).toBe(false);
    await start("oxygen-drops");
    expect((await loadRun(db, work, person)).limit_sets.map((s) => s.id)).toEqual(["fish-water"]);
  });

  it("stay with a result as they were when it was written, and go out with it", async () => {
    const { db, person, site } = hands.bench;
    await chooseLimitSets(db, site.id, ["drinking-water"], person, at);
    const played = await start("nitrate-tube");
    played.play(2.2);
    await post(played.events);
    await chooseLimitSets(db, site.id, ["fish-water"], person, at);
    const [result] = await results();
    expect(result?.limit_sets).toBe('["drinking-water"]');
    expect((await loadRun(db, work, person)).limit_sets.map((s) => s.id)).toEqual(["drinking-water"]);
    const [meaning, ...others] = result ? exportedReading(result, limitSets).meanings : [];
    expect(others).toEqual([]);
    // 2 to 5 mg/L as NO3-N are 8.9 to 22 as NO3: within the guideline of 50 (WHO).
    expect(meaning).toEqual({ set: "drinking-water", words: expect.stringContaining("Within"), kept: true });
    if (result) expect(csvRows([result], limitSets)).toContain("(drinking-water)");
  });

  it("may be the organisation's own, refused in words when it is no set", async () => {
    const { db, person, site } = hands.bench;
    const own = {
      id: "pond-trust",
      name: "Bathing",
      authority: "our own trust",
      from_memory: false,
      limits: [{ parameter: "oxygen", species: "O2", unit: "mg/L", low: 7, high: null, kind: "limit" }],
    };
    expect(limitSetFromJson("{")).toEqual({ message: "This is not JSON. What you typed is kept here." });
    expect(limitSetFromJson(JSON.stringify({ ...own, limits: [] }))).toEqual({
      message: "limits: A set has at least one limit.",
    });
    const read = limitSetFromJson(JSON.stringify(own));
    if ("message" in read) throw new Error(read.message);
    expect(await addLimitSet(db, read.set, person, at)).toBe(true);
    // Sent twice it is one; another of its id is none.
    expect(await addLimitSet(db, read.set, person, at)).toBe(true);
    expect(await addLimitSet(db, { ...read.set, name: "Other" }, person, at)).toBe(false);
    await chooseLimitSets(db, site.id, ["pond-trust"], person, at);
    await start("oxygen-drops");
    const [set] = (await loadRun(db, work, person)).limit_sets;
    expect(
      set &&
        meaningsOf({ parameter: "oxygen", species: "O2", unit: "mg/L" }, { kind: "value", value: 6 }, [
          set,
        ])[0]?.kept,
    ).toBe(false);
  });
});

describe("the jump box", () => {
  it("finds every method that is run, and the planner", async () => {
    const labels = (await jumpPlaces(hands.bench.db, testNow)).map((p) => p.label);
    expect(labels).toContain("Run Dissolved oxygen, drop count");
    expect(labels).toContain("Plan several tests");
    expect(labels).not.toContain("Run pH, meter");
  });
});

describe("methods of one's own", () => {
  const copy = () => ({ ...libraryMethod("oxygen-drops"), id: "oxygen-drops-own", name: "Our drops" });
  const save = (input: unknown, basedOn: number) =>
    saveMethod(hands.bench.db, input, basedOn, "for the pond", hands.bench.person, at);

  it("are kept version by version beside the shipped ones", async () => {
    expect(await save(copy(), 0)).toMatchObject({ saved: { version: 1 } });
    expect(await save({ ...copy(), name: "Our drops, slower" }, 1)).toMatchObject({ saved: { version: 2 } });
    expect(await findMethod(hands.bench.db, "oxygen-drops-own")).toMatchObject({
      origin: "own",
      method: { version: 2, name: "Our drops, slower" },
    });
    expect((await listMethods(hands.bench.db)).filter((m) => m.method.id === "oxygen-drops-own").length).toBe(
      1,
    );
  });

  it("are bounded: a document is read with every run that rests on it", async () => {
    const steps = Array.from({ length: 61 }, (_, i) => ({ ...copy().steps[0], id: `step-${i}` }));
    expect(await save({ ...copy(), steps }, 0)).toMatchObject({
      problems: expect.arrayContaining([{ path: "steps", message: "A method has at most 60 steps." }]),
    });
    const wordy = Array.from({ length: 30 }, () => "y".repeat(400));
    expect(
      await save({ ...copy(), interferences: wordy, hazards: wordy, protection: wordy }, 0),
    ).toMatchObject({ problems: [{ message: expect.stringContaining("at most 30 kB") }] });
  });

  it("leave the lists with a reason, stay where runs rest on them, and come back", async () => {
    const { db, person } = hands.bench;
    const listed = async () => (await listMethods(db)).some((m) => m.method.id === "oxygen-drops");
    const takeOut = (reason: string) => takeOutOfUse(db, "methods", "oxygen-drops", reason, person, at);
    expect(await takeOut("the kit is no longer made")).toBeNull();
    expect(await takeOut("again")).toBeNull();
    expect(await listed()).toBe(false);
    expect(await findMethod(db, "oxygen-drops")).toMatchObject({
      out_of_use: { reason: "the kit is no longer made", by: person.name, at },
    });
    await takeIntoUse(db, "methods", "oxygen-drops", person, at);
    await takeIntoUse(db, "methods", "oxygen-drops", person, at);
    expect(await listed()).toBe(true);
    const journal = await db("journal").where({ subject_kind: "method" }).orderBy("seq").select("action");
    expect(journal.map((j) => j.action)).toEqual(["method out of use", "method in use again"]);
  });

  it("are not overwritten by somebody who edited an older version", async () => {
    await save(copy(), 0);
    await save(copy(), 1);
    expect(await save(copy(), 1)).toMatchObject({
      problems: [{ message: expect.stringContaining("Version 2") }],
    });
  });

  it("cannot take the id of a shipped one, and say which step is wrong", async () => {
    expect(await save(libraryMethod("oxygen-drops"), 0)).toMatchObject({ problems: [{ path: "id" }] });
    const steps = copy().steps.map((s) => (s.kind === "wait" ? { ...s, from: "nowhere" } : s));
    const refused = await save({ ...copy(), steps }, 0);
    expect("problems" in refused && refused.problems[0]?.message).toMatch(/^Step 5 waits from a step/);
  });
});
