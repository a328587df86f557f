import { describe, expect, it } from "vitest";
import type { Subject } from "../../../core/bench/subject";
import { defaultHouseRules } from "../../../core/rules/houseRules";
import { supplyLotSchema } from "../../../core/stock/supply";
import { recordId } from "../bench/benchWork.server";
import { verifyJournal } from "../bench/verifyJournal.server";
import { voidResults } from "../bench/void.server";
import { latestOfSite } from "../results/readings.server";
import { confirmRejudging } from "../results/rejudge.server";
import { runRejudging } from "../results/rejudgeRun.server";
import { amendReading } from "../review/amend.server";
import { changeRules } from "../rules/rules.server";
import { addLot, changeLot } from "../stock/lots.server";
import { benchForEachTest } from "../testing/benchForEachTest";
import { at, phosphateBench } from "../testing/phosphateBench";
import { calibratedPh, phReading } from "../testing/testBench";
import { closeAction, closedActions, openActions } from "./actions.server";
import { chartPoints, chartState, chartVersions, listCharts, setLimits } from "./charts.server";

const use = benchForEachTest();
const { run, verdictOf, saidOf } = phosphateBench(use);
const blank: Subject = { kind: "blank", of: "reagent" };
const control = (expected: number | null = 1): Subject => ({
  kind: "control",
  code: "CS-1",
  lot_id: null,
  expected,
  uncertainty: null,
});
const key = {
  code: "CS-1",
  parameter: "phosphate",
  analyte: "Phosphate as PO4",
  instrument_id: "phosphate-photometer",
};

describe("a batch", () => {
  it("is held by a blank that is high, whenever it was measured that day, and by none of another day", async () => {
    const { db } = use.bench;
    const early = await run(0.8, at(8));
    const high = await run(0.3, at(10), blank);
    const late = await run(0.8, at(11));
    const next = await run(0.8, at(8, 0, 13));
    expect(await verdictOf(high)).toBe("held");
    for (const id of [early, late]) {
      expect(await verdictOf(id)).toBe("held");
      expect(await saidOf(id)).toContain("The blank of its batch is out: Reagent blank is high");
    }
    expect(await verdictOf(next)).toBe("sound");
    // A good one afterwards brackets what follows, not what was measured before it.
    await run(0, at(12), blank);
    const after = await run(0.8, at(13));
    expect(await verdictOf(after)).toBe("sound");
    expect(await verdictOf(late)).toBe("held");
    expect(await verifyJournal(db)).toBeNull();
  });

  it("is free again when the check is taken out, or seen to with a cause, once and by name", async () => {
    const { db, person } = use.bench;
    const sample = await run(0.8, at(8));
    const high = await run(0.3, at(9), blank);
    await voidResults(db, person, high.slice(0, 26), "wrong vial", at(10));
    expect(await verdictOf(sample)).toBe("sound");
    const again = await run(0.3, at(11), blank);
    const [action] = await openActions(db);
    expect(action).toMatchObject({ reading_id: again, kind: "blank" });
    const said = { cause: "the vial was not rinsed", done: "rinsed, blank repeated" };
    expect(await closeAction(db, action?.id ?? "", said, person, at(12))).toBeNull();
    expect(await closeAction(db, action?.id ?? "", said, person, at(12))).toBeNull();
    expect(await closeAction(db, action?.id ?? "", { ...said, cause: "dust" }, person, at(12))).toContain(
      "noted a cause already",
    );
    expect(await verdictOf(sample)).toBe("qualified");
    expect(await saidOf(sample)).toContain("the vial was not rinsed");
    expect(await openActions(db)).toEqual([]);
    expect(await closedActions(db)).toMatchObject([{ cause: "the vial was not rinsed", closed_by: "Noor" }]);
    expect(await db("reading_judgements").where({ reading_id: sample })).toHaveLength(5);
    expect(await verifyJournal(db)).toBeNull();
  });

  it("that is owed a blank is qualified until one is measured, and then sound", async () => {
    const { db, person } = use.bench;
    const rules = { ...defaultHouseRules, data: "demo" as const };
    const owed = { ...rules, quality: { ...rules.quality, blank: "photometers" as const } };
    await changeRules(db, 1, owed, "asked for", person, at(7));
    const sample = await run(0.8, at(8));
    expect(await saidOf(sample)).toContain("No blank was measured with its batch.");
    await run(0, at(9), blank);
    expect(await verdictOf(sample)).toBe("sound");
  });

  it("counts none of its checks among the values of a site", async () => {
    await run(0.8, at(8));
    await run(1, at(9), control());
    const latest = await latestOfSite(use.bench.db, use.bench.site.id);
    expect(latest.map((r) => r.value)).toEqual([0.8]);
  });
});

/** A bottle of a control, opened and not yet used. */
const bottle = (
  code: string,
  strength: { value: number; uncertainty: number; unit: string; of: string } | null,
) =>
  supplyLotSchema.parse({
    kind: "control-sample",
    code,
    name: "Own control",
    serves: [],
    strength,
    formula: "",
    purity_percent: null,
    kit: null,
    received_on: "2026-01-01",
    opened_on: "2026-04-01",
    expires_on: "2027-01-01",
    shelf_life_open_days: null,
    size: 500,
    portion: null,
    unit: "mL",
    place: "",
    hazards: [],
    withdrawn: null,
    discarded: null,
  });

describe("the bottle of a control", () => {
  it("is counted, and when it is withdrawn its control and the batch around it are judged anew", async () => {
    const { db, person } = use.bench;
    const lot = bottle("CS-7", { value: 1, uncertainty: 0.01, unit: "mg/L", of: "PO4" });
    const stored = await addLot(db, lot, person, at(6));
    const of: Subject = {
      kind: "control",
      code: "CS-7",
      lot_id: stored?.id ?? "",
      expected: 1,
      uncertainty: 0.01,
    };
    const check = await run(1, at(8), of);
    const sample = await run(0.8, at(9));
    expect([await verdictOf(check), await verdictOf(sample)]).toEqual(["sound", "sound"]);
    // Two portions of 10 mL.
    expect((await db("lots").where({ code: "CS-7" }).first("used")).used).toBe(20);
    await changeLot(
      db,
      stored?.id ?? "",
      (l) => ({ ...l, withdrawn: { on: "2026-04-12", since: "2026-04-01", reason: "mould" } }),
      person,
      at(10),
      "mould",
    );
    const job = await confirmRejudging(
      db,
      { kind: "lot", subject_id: stored?.id ?? "" },
      "mould",
      person,
      at(10),
    );
    await runRejudging(db, job, at(11));
    expect([await verdictOf(check), await verdictOf(sample)]).toEqual(["held", "held"]);
    expect(await openActions(db)).toMatchObject([{ reading_id: check }]);
    expect(await verifyJournal(db)).toBeNull();
  });

  it("of a meter is counted too, and its withdrawal holds what was read of it and around it", async () => {
    const { db, person } = use.bench;
    const stored = await addLot(db, { ...bottle("PC-7", null), portion: 50 }, person, at(6));
    const lot_id = stored?.id ?? "";
    await calibratedPh(use.bench, at(8));
    const expected = { expected: 8.04, uncertainty: 0.05 };
    const of = { kind: "control" as const, code: "PC-7", lot_id, ...expected };
    const control = recordId(await phReading(use.bench, -62, at(9), "own control", of), "ph");
    const sample = recordId(await phReading(use.bench, -62, at(9, 30)), "ph");
    expect([await verdictOf(control), await verdictOf(sample)]).toEqual(["sound", "sound"]);
    expect((await db("lots").where({ id: lot_id }).first("used")).used).toBe(50);
    const withdrawn = { on: "2026-04-12", since: "2026-04-01", reason: "mould" };
    await changeLot(db, lot_id, (l) => ({ ...l, withdrawn }), person, at(10), "mould");
    const job = await confirmRejudging(db, { kind: "lot", subject_id: lot_id }, "mould", person, at(10));
    await runRejudging(db, job, at(11));
    expect(await verdictOf(control)).toBe("held");
    expect(await saidOf(control)).toContain("It was measured of PC-7. Withdrawn on 12 Apr 2026: mould");
    expect(await verdictOf(sample)).toBe("held");
    // One that comes of it afterwards, late, is held at once.
    const late = recordId(await phReading(use.bench, -62, at(9, 10), "own control", of), "ph");
    expect(await verdictOf(late)).toBe("held");
    expect(await verifyJournal(db)).toBeNull();
  });

  it("and a blank that bears the sample's name is not of its water", async () => {
    const { db } = use.bench;
    await run(0, at(8), blank);
    expect((await db("bench_work").first("sample_id")).sample_id).toBeNull();
    expect((await db("readings").first("sample_id")).sample_id).toBeNull();
  });
});

describe("a control chart", () => {
  const study = [1, 1.02, 0.98, 1.01, 0.99, 1.03, 0.97, 1];

  it("takes its limits from a study, keeps them with what was judged by them, and holds what is beyond", async () => {
    const { db, person } = use.bench;
    for (const [day, size] of study.entries()) await run(size, at(8, 0, day + 1), control(null));
    const points = await chartPoints(db, key);
    expect(points).toHaveLength(8);
    const few = { study: points.slice(0, 6).map((p) => p.id), method: "study" as const, reason: "first" };
    expect(await setLimits(db, key, few, person, at(9, 0, 9))).toBe(
      "Limits need at least 7 results; 6 were chosen.",
    );
    const whole = { ...few, study: points.map((p) => p.id) };
    expect(await setLimits(db, key, whole, person, at(9, 0, 9))).toBeNull();
    expect(await setLimits(db, key, whole, person, at(9, 0, 9))).toBeNull();
    const [inForce, ...older] = await chartVersions(db, key);
    expect(older).toEqual([]);
    expect(inForce?.document.centre).toBeCloseTo(1, 6);
    // Standard deviation of the eight, n − 1: 0.02 exactly. Worked by hand.
    expect(inForce?.document.sigma).toBeCloseTo(0.02, 6);

    expect(await verdictOf(await run(1.04, at(8, 0, 10), control(null)))).toBe("sound");
    const sample = await run(0.8, at(9, 0, 11));
    const out = await run(1.08, at(10, 0, 11), control(null));
    expect(await verdictOf(out)).toBe("held");
    expect(await saidOf(out)).toContain("one point beyond the action limit");
    expect(await verdictOf(sample)).toBe("held");
    const state = await chartState(db, key);
    expect(state.signals).toContainEqual({ id: out, rule: "beyond-3-sigma" });
    expect((await listCharts(db)).charts.map((c) => [c.code, c.values.length, c.last?.signal])).toEqual([
      ["CS-1", 10, "beyond-3-sigma"],
    ]);

    // New limits count from now on: what was judged by the old ones stays.
    const later = (await chartPoints(db, key)).map((p) => p.id);
    expect(
      await setLimits(db, key, { ...whole, study: later, reason: "wider" }, person, at(9, 0, 12)),
    ).toBeNull();
    expect((await chartVersions(db, key)).map((v) => v.version)).toEqual([2, 1]);
    expect(await verdictOf(out)).toBe("held");
    expect(await verifyJournal(db)).toBeNull();
  });

  it("is read anew when a result of it is amended, taken out, or comes late: by itself and by those that look back on it", async () => {
    const { db, person } = use.bench;
    for (const [day, size] of study.entries()) await run(size, at(8, 0, day + 1), control(null));
    const points = (await chartPoints(db, key)).map((p) => p.id);
    const limits = { study: points, method: "study" as const, reason: "first" };
    await setLimits(db, key, limits, person, at(9, 0, 9));
    const sample = await run(0.8, at(10, 45, 11));
    const first = await run(1.05, at(10, 0, 11), control(null));
    const second = await run(1.01, at(11, 0, 11), control(null));
    expect([await verdictOf(first), await verdictOf(second)]).toEqual(["sound", "sound"]);
    const amend = async (id: string, text: string) => {
      const { judgements } = await db("readings").where({ id }).first("judgements");
      return amendReading(
        db,
        id,
        { what: "value", text, reason: "misread", judgement: judgements },
        person,
        at(12, 0, 11),
      );
    };

    // Two of three beyond the warning limit: the second completes what the first began, once it reads 1.05 too.
    expect(await amend(second, "1.05")).toBeNull();
    expect(await saidOf(second)).toContain("two of three");
    expect(await verdictOf(second)).toBe("qualified");

    // The first is put right: the second stands alone again.
    expect(await amend(first, "1.00")).toBeNull();
    expect(await saidOf(second)).not.toContain("two of three");

    // One that was measured between them arrives late.
    const late = await run(1.05, at(10, 30, 11), control(null));
    expect(await verdictOf(late)).toBe("sound");
    expect(await saidOf(second)).toContain("two of three");

    // Amended beyond the action limit it is out: somebody is asked for a cause, and its batch is held.
    expect(await amend(late, "1.20")).toBeNull();
    expect(await saidOf(late)).toContain("one point beyond the action limit");
    expect(await verdictOf(sample)).toBe("held");
    // And so is the one after it, 7.5 sigma away.
    expect(await saidOf(second)).toContain("further apart than four sigma");
    expect(new Set((await openActions(db)).map((a) => a.reading_id))).toEqual(new Set([late, second]));

    // Taken out again, it says nothing of anything.
    await voidResults(db, person, late.slice(0, 26), "wrong bottle", at(13, 0, 11));
    expect(await saidOf(second)).not.toContain("two of three");
    expect(await verdictOf(sample)).not.toBe("held");
    expect(await openActions(db)).toEqual([]);
    expect(await verifyJournal(db)).toBeNull();
  });

  it("without limits holds a control that is not found as what is in it", async () => {
    expect(await verdictOf(await run(1.05, at(8), control(1)))).toBe("sound");
    expect(await verdictOf(await run(1.2, at(9), control(1)))).toBe("held");
  });

  it("is of a meter as well: a control out holds what was read before and after it", async () => {
    const { db } = use.bench;
    await calibratedPh(use.bench, at(8));
    const before = recordId(await phReading(use.bench, -62, at(9)), "ph");
    const high = await phReading(use.bench, -62, at(10), "own control", {
      kind: "control",
      code: "PC-1",
      lot_id: null,
      expected: 7.9,
      uncertainty: null,
    });
    expect(await verdictOf(recordId(high, "ph"))).toBe("held");
    expect(await saidOf(before)).toContain("The control sample of its batch is out");
    expect((await listCharts(db)).charts.map((c) => [c.code, c.instrument, c.parameter])).toEqual([
      ["PC-1", "P-2", "ph"],
    ]);
  });
});

describe("what is unusual at a site", () => {
  it("asks for the control, once eight sound results are known, and not when the water has changed for good", async () => {
    for (let day = 1; day <= 8; day++) await run(0.8 + 0.01 * (day % 3), at(8, 0, day));
    const step = await run(1.4, at(8, 0, 9));
    expect(await verdictOf(step)).toBe("qualified");
    expect(await saidOf(step)).toContain(
      "Unusual for this site: the middle of 8 sound results is 0.81 mg/L.",
    );
    const verdicts: string[] = [];
    for (let day = 10; day <= 22; day++)
      verdicts.push(await verdictOf(await run(1.4 + 0.01 * (day % 3), at(8, 0, day))));
    expect(verdicts[0]).toBe("qualified");
    expect(verdicts.at(-1)).toBe("sound");
  });
});
