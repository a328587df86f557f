import { ulid } from "ulid";
import { describe, expect, it } from "vitest";
import { seededRandom } from "../../../core/quantity/random";
import { libraryMethod, RunPlayer } from "../../../core/simulation/runPlayer";
import { isStandard } from "../../../core/stock/lot";
import type { SupplyLot } from "../../../core/stock/supply";
import { postEvents } from "../bench/bench.server";
import { verifyJournal } from "../bench/verifyJournal.server";
import { analysisReadingsOfWork } from "../results/readings.server";
import { runRejudging } from "../results/rejudgeRun.server";
import { startRun } from "../runs/runs.server";
import { postPlayed } from "../testing/benchRun";
import { openTestBench, type TestBench } from "../testing/testBench";
import { addLot, findLot, lotHistory } from "./lots.server";
import {
  standardNamed,
  startStandardisation,
  takeStandardisationOut,
  titrantToStandardise,
} from "./standardisations.server";
import { strengthKnown } from "./strengthKnown.server";

/** So many minutes after eight. */
const at = (min: number) => new Date(Date.parse("2026-04-12T08:00:00.000Z") + min * 60_000).toISOString();
const method = libraryMethod("oxygen-burette");

const bottle = (
  code: string,
  kind: SupplyLot["kind"],
  serves: string,
  strength: SupplyLot["strength"] = { value: 0.025, uncertainty: 0.00001, unit: "N" },
): SupplyLot => ({
  kind,
  code,
  name: serves,
  serves: [serves],
  strength,
  formula: "",
  purity_percent: null,
  kit: null,
  received_on: "2026-01-01",
  opened_on: "2026-01-10",
  expires_on: "2027-01-01",
  shelf_life_open_days: null,
  size: 1000,
  portion: null,
  unit: "mL",
  place: "",
  hazards: [],
  withdrawn: null,
  discarded: null,
});

/** A bench with a titrant as it was bought, and what it may be held against. */
async function benchWithTitrant(strength?: null) {
  const bench = await openTestBench();
  const { db, person } = bench;
  const titrant = await addLot(
    db,
    bottle("TS-1", "titrant", "Sodium thiosulfate 0.0250 N", strength),
    person,
    at(-60),
  );
  await addLot(db, bottle("IO-1", "reagent", "Iodate standard 0.0250 N"), person, at(-60));
  if (!titrant) throw new Error("The titrant is not kept.");
  return { bench, titrant: titrant.id };
}

async function strengthOf({ db }: TestBench, id: string) {
  const stored = await findLot(db, id);
  return stored && !isStandard(stored.lot) ? stored.lot.strength : undefined;
}

/** So many minutes a portion takes. */
const portion = 2;

/** Begins a standardisation at a minute; what follows it comes when it comes. */
async function begun(bench: TestBench, titrant: string, from: number): Promise<string> {
  const { db, person } = bench;
  const lot = await titrantToStandardise(db, titrant);
  if (!lot || typeof lot === "string") throw new Error(lot);
  const standard = await standardNamed(db, lot.lot, "IO-1", "2026-04-12");
  if (typeof standard === "string") throw new Error(standard);
  const work = ulid(Date.parse(at(from)));
  const start = { work_id: work, event_id: ulid(Date.parse(at(from))), actor: person, at: at(from) };
  const how = { portion_ml: 20, pipette_within_ml: 0.03, burette_within_ml: 0.03, place: "bench" as const };
  await startStandardisation(db, start, lot, standard, how);
  return work;
}

/** Three portions, each of which takes so much of the titrant, and the end of it, eight minutes after it was begun. */
async function ended(bench: TestBench, work: string, from: number, took_ml: number): Promise<void> {
  const titrated = { type: "titrated", what: "portion", start_ml: 0, end_ml: took_ml };
  const portions = [1, 2, 3].map((i): [number, object] => [from + i * portion, titrated]);
  await post(bench, work, [...portions, [from + 4 * portion, { type: "finished" }]]);
}

async function standardised(
  bench: TestBench,
  titrant: string,
  from: number,
  took_ml: number,
): Promise<string> {
  const work = await begun(bench, titrant, from);
  await ended(bench, work, from, took_ml);
  return work;
}

/** Posts events to a standardisation at their minutes; they are known at the end of the day. */
async function post({ db, person }: TestBench, work: string, events: [number, object][]): Promise<void> {
  const whole = events.map(([min, what]) => ({
    id: ulid(Date.parse(at(min))),
    at: at(min),
    by: "x",
    ...what,
  }));
  const posted = await postEvents(db, person, work, whole, at(900));
  if (posted.refused) throw new Error(posted.refused.message);
}

/** A titration at a minute, with the strength that the bottle is known to have when it is entered. */
async function titrated(
  bench: TestBench,
  titrant: string,
  minute: number,
  size: number,
  known?: SupplyLot["strength"],
): Promise<string> {
  const strength = known ?? (await strengthOf(bench, titrant));
  const given = { strength: strength?.value ?? null, strength_uncertainty: strength?.uncertainty ?? null };
  const lots = method.materials
    .filter((m) => m.lot)
    .map(({ key, name }) => {
      const own = name.startsWith("Sodium thiosulfate");
      const lot_id = own ? titrant : null;
      return {
        material: key,
        name,
        code: own ? "TS-1" : "L-1",
        expires_on: "2027-01-01",
        reason: null,
        lot_id,
      };
    });
  const work = ulid(Date.parse(at(minute)));
  const played = new RunPlayer(method, { ...given, lots }, Date.parse(at(minute))).play(size);
  const { db, person, site } = bench;
  const start = { work_id: work, event_id: ulid(Date.parse(at(minute))), actor: person, at: at(minute) };
  const choices = { sample: "BP-0412", temperature_c: 20, dilution: 1, dilutes: null, blank_ml: null };
  await startRun(db, start, method, site, { ...choices, ...given, lots });
  const posted = await postPlayed(bench, work, played.events, at(minute));
  if (posted.refused) throw new Error(posted.refused.message);
  return work;
}

async function resultOf({ db }: TestBench, work: string) {
  const [result] = await analysisReadingsOfWork(db, work);
  if (!result?.value) throw new Error("Nothing was found.");
  const strength = result.findings.find((f) => f.rule === "titrant-strength");
  return { value: result.value, verdict: result.verdict, strength };
}

describe("a standardisation that comes to be known late", () => {
  it("says of what was titrated since how far off it is, and of nothing else", async () => {
    const { bench, titrant } = await benchWithTitrant();
    const before = await titrated(bench, titrant, 10, 8);
    const since = await titrated(bench, titrant, 200, 8);
    expect((await resultOf(bench, since)).strength).toBeUndefined();
    // 20 mL of 0.0250 N take 21 mL: it is 0.0238 N, and 0.0250 N was 5.0 % too much.
    await standardised(bench, titrant, 120, 21);
    const { value, verdict, strength } = await resultOf(bench, since);
    expect(strength?.sentence).toContain("the result is 5.0 % too high");
    expect(strength?.limit).toMatch(/^0\.0238\d* ± 0\.000\d+ N by the standardisation of/);
    expect(verdict).toBe("qualified");
    // What was reckoned stays as it was reckoned: the finding says what it is worth.
    const now = await resultOf(bench, await titrated(bench, titrant, 300, 8));
    expect(now.strength).toBeUndefined();
    expect(now.value).toBeCloseTo(value / 1.05, 6);
    expect((await resultOf(bench, before)).strength).toBeUndefined();
    expect(await verifyJournal(bench.db)).toBeNull();
    await bench.db.destroy();
  });

  it("counts only until the next one, whichever of the two is known first", async () => {
    const { bench, titrant } = await benchWithTitrant();
    const run = await titrated(bench, titrant, 300, 8);
    await standardised(bench, titrant, 200, 20.01);
    expect((await resultOf(bench, run)).strength?.severity).toBe("ok");
    await standardised(bench, titrant, 100, 21);
    expect((await resultOf(bench, run)).strength?.severity).toBe("ok");
    await standardised(bench, titrant, 250, 22);
    expect((await resultOf(bench, run)).strength?.sentence).toContain("10.0 % too high");
    expect((await strengthOf(bench, titrant))?.value).toBeCloseTo(0.025 / 1.1, 9);
    await bench.db.destroy();
  });

  it("is reckoned anew when a portion of it that another device titrated arrives after its end", async () => {
    const { bench, titrant } = await benchWithTitrant();
    const work = await standardised(bench, titrant, 100, 21);
    const run = await titrated(bench, titrant, 200, 8);
    const { version } = (await findLot(bench.db, titrant)) ?? {};
    await post(bench, work, [[107, { type: "titrated", what: "portion", start_ml: 0, end_ml: 21.04 }]]);
    // (3 · 21 + 21.04) / 4 = 21.01 mL.
    expect((await strengthOf(bench, titrant))?.value).toBeCloseTo((0.025 * 20) / 21.01, 6);
    expect((await findLot(bench.db, titrant))?.version).toBe((version ?? 0) + 1);
    const used = await bench.db("lot_uses").where({ work_id: work }).orderBy("slot").pluck("amount");
    expect(used).toEqual([80, expect.closeTo(84.04, 9)]);
    // A twentieth of a percent is less than what nobody knows of either.
    expect((await resultOf(bench, run)).strength).toMatchObject({ severity: "ok" });
    // The same again, or a note, changes nothing.
    await post(bench, work, [[110, { type: "noted", text: "a warm day" }]]);
    expect(await lotHistory(bench.db, titrant)).toHaveLength((version ?? 0) + 1);
    await bench.db.destroy();
  });

  it("leads to the same strength, and says what each result is worth, in whatever order ends come to be known", async () => {
    const random = seededRandom(11);
    const whole = (low: number, high: number) => low + Math.floor(random() * (high - low + 1));
    const told: string[] = [];
    for (let day = 0; day < 2; day++) {
      const done = Array.from({ length: 7 }, (_, i) => ({
        from: 20 + i * 40 + whole(0, 20),
        took: i % 3 === 1 || random() < 0.3 ? 19 + whole(0, 6) / 2 : null,
        size: 6 + whole(0, 4),
      }));
      /** Everything begins in time; the end of a standardisation comes to be known so many things later. */
      const withDelays = async (delay: () => number) => {
        const { bench, titrant } = await benchWithTitrant();
        const waiting: { at: number; end(): Promise<void> }[] = [];
        const works: string[] = [];
        for (const [i, { from, took, size }] of done.entries()) {
          for (const { end } of waiting.filter((w) => w.at === i)) await end();
          if (took) {
            const work = await begun(bench, titrant, from);
            waiting.push({ at: i + 1 + delay(), end: () => ended(bench, work, from, took) });
          } else works.push(await titrated(bench, titrant, from, size));
        }
        for (const { end } of waiting.filter((w) => w.at >= done.length).sort((a, b) => b.at - a.at))
          await end();
        const results = [];
        for (const work of works) results.push(await resultOf(bench, work));
        const strength = await strengthOf(bench, titrant);
        expect(await verifyJournal(bench.db)).toBeNull();
        await bench.db.destroy();
        return { strength, results };
      };
      const inTime = await withDelays(() => 0);
      expect(inTime.results.map((r) => r.strength)).toEqual(inTime.results.map(() => undefined));
      for (const delay of [() => 9, () => whole(0, 3)]) {
        const late = await withDelays(delay);
        expect(late.strength).toEqual(inTime.strength);
        for (const [i, { value, strength }] of late.results.entries()) {
          const off = (value / (inTime.results[i]?.value ?? Number.NaN) - 1) * 100;
          const [said = "0", way] =
            /([\d.]+) % too (high|low)/.exec(strength?.sentence ?? "")?.slice(1) ?? [];
          if (way) told.push(way);
          // What is not said is less than what nobody knows of the strength: half a percent.
          const most = strength?.severity === "ok" ? 0.5 : 0.051;
          expect(Math.abs(off - (way === "low" ? -1 : 1) * Number(said))).toBeLessThan(most);
        }
      }
    }
    expect(told.filter((way) => way === "high").length).toBeGreaterThan(1);
    expect(told.filter((way) => way === "low").length).toBeGreaterThan(1);
  });
});

/** Takes a standardisation out at a minute, and has what it touched judged. */
async function out({ db, person }: TestBench, work: string, minute: number): Promise<string | undefined> {
  const reason = "It was the pipette of 10 mL.";
  const { refused, rejudging } = await takeStandardisationOut(db, work, reason, person, at(minute));
  if (rejudging) await runRejudging(db, rejudging, at(minute));
  return refused;
}

describe("a standardisation that was made wrong", () => {
  it("gives its titrant the strength back that it had, and says of what was titrated since how far off it is", async () => {
    const { bench, titrant } = await benchWithTitrant();
    const before = await titrated(bench, titrant, 10, 8);
    const wrong = await standardised(bench, titrant, 100, 21);
    const since = await titrated(bench, titrant, 200, 8);
    expect((await resultOf(bench, since)).strength).toBeUndefined();
    await out(bench, wrong, 300);
    expect(await strengthOf(bench, titrant)).toEqual({ value: 0.025, uncertainty: 0.00001, unit: "N" });
    // Reckoned with 0.0238 N where the bottle says 0.0250 N: 20/21.
    const { verdict, strength } = await resultOf(bench, since);
    expect(verdict).toBe("qualified");
    expect(strength?.sentence).toBe(
      "The standardisation of 12 Apr, 09:48, with which this was reckoned, was taken out: It was the pipette of 10 mL. The result is 4.8 % too low.",
    );
    expect(strength?.limit).toMatch(/ N as it was before it was standardised$/);
    expect((await resultOf(bench, before)).strength).toBeUndefined();
    expect((await resultOf(bench, await titrated(bench, titrant, 400, 8))).strength).toBeUndefined();
    // What it took is gone all the same.
    expect(
      await bench.db("lot_uses").where({ work_id: wrong }).orderBy("slot").select("role", "amount"),
    ).toEqual([
      { role: "taken-out", amount: 60 },
      { role: "taken-out", amount: 63 },
    ]);
    const kept = await bench.db("lots").orderBy("code").pluck("used");
    // What the standard is titrated with has nothing to do with it.
    const standard = (await bench.db("lots").where({ code: "IO-1" }).first("id")).id;
    expect(await strengthKnown(bench.db, standard, 0.02, at(400))).toEqual({});
    // Pressed twice, nothing happens; a note that comes late changes nothing.
    expect(await out(bench, wrong, 500)).toBeUndefined();
    await post(bench, wrong, [[111, { type: "noted", text: "a warm day" }]]);
    expect(await bench.db("lots").orderBy("code").pluck("used")).toEqual(kept);
    expect(await bench.db("rejudgings").pluck("kind")).toEqual(["strength"]);
    expect(
      await bench
        .db("reading_judgements")
        .where({ reading_id: `${since}-oxygen` })
        .pluck("seq"),
    ).toHaveLength(2);
    expect(await verifyJournal(bench.db)).toBeNull();
    await bench.db.destroy();
  });

  it("leaves the one before it in force, and the one after it", async () => {
    const { bench, titrant } = await benchWithTitrant();
    await standardised(bench, titrant, 100, 20.4);
    const wrong = await standardised(bench, titrant, 200, 22);
    const between = await titrated(bench, titrant, 250, 8);
    await standardised(bench, titrant, 300, 20.6);
    const after = await titrated(bench, titrant, 400, 8);
    await out(bench, wrong, 500);
    expect((await strengthOf(bench, titrant))?.value).toBeCloseTo(0.025 / 1.03, 9);
    // Reckoned as for 22 mL where the one before took 20.4 mL.
    expect((await resultOf(bench, between)).strength?.sentence).toContain("The result is 7.3 % too low.");
    expect((await resultOf(bench, between)).strength?.limit).toContain(
      "by the standardisation of 12 Apr, 09:48",
    );
    expect((await resultOf(bench, after)).strength).toBeUndefined();
    await bench.db.destroy();
  });

  it("is known to a titration that was under way, and to one that is written down later", async () => {
    const { bench, titrant } = await benchWithTitrant();
    const wrong = await standardised(bench, titrant, 100, 21);
    const strength = await strengthOf(bench, titrant);
    await out(bench, wrong, 150);
    const late = await titrated(bench, titrant, 120, 8, strength);
    expect((await resultOf(bench, late)).strength?.sentence).toContain("was taken out");
    await bench.db.destroy();
  });

  it("holds what was titrated where nothing else says how strong the titrant was", async () => {
    const { bench, titrant } = await benchWithTitrant(null);
    const wrong = await standardised(bench, titrant, 100, 21);
    const since = await titrated(bench, titrant, 200, 8);
    await out(bench, wrong, 300);
    expect(await strengthOf(bench, titrant)).toBeNull();
    expect(await resultOf(bench, since)).toMatchObject({
      verdict: "held",
      strength: { sentence: expect.stringContaining("Nothing else says how strong TS-1 was.") },
    });
    await bench.db.destroy();
  });

  it("has found something", async () => {
    const { bench, titrant } = await benchWithTitrant();
    const open = await begun(bench, titrant, 100);
    expect(await out(bench, open, 200)).toBe("It has found nothing yet: give it up.");
    await expect(out(bench, "none", 200)).rejects.toMatchObject({ status: 404 });
    await bench.db.destroy();
  });
});
