import { ulid } from "ulid";
import { describe, expect, it } from "vitest";
import { libraryMethod, RunPlayer } from "../../../core/simulation/runPlayer";
import { lotSchema } from "../../../core/stock/lot";
import type { SupplyLot } from "../../../core/stock/supply";
import { recordId } from "../bench/benchWork.server";
import { verifyJournal } from "../bench/verifyJournal.server";
import { findCalibration } from "../calibrations/calibrations.server";
import { startCalibration } from "../calibrations/startWork.server";
import type { FieldErrors } from "../platform/forms.server";
import { findReading } from "../results/readings.server";
import { runRejudging } from "../results/rejudgeRun.server";
import { benchForEachTest } from "../testing/benchForEachTest";
import { openTestRun, postPlayed } from "../testing/benchRun";
import { at, phosphateBench } from "../testing/phosphateBench";
import { calibratedPh, phReading, testLot } from "../testing/testBench";
import { correctLot, whyFixed } from "./correctLot.server";
import { addLot, changeLot, findLot, lotHistory, type StoredLot } from "./lots.server";
import type { StoredStandard } from "./standards.server";

const use = benchForEachTest();
const { run, verdictOf } = phosphateBench(use);

/** What the page of a lot would send of what stands beside its value. */
function formOf({ lot, version }: StoredLot, change: Record<string, string> = {}): FormData {
  const form = new FormData();
  const written = {
    version: String(version),
    name: lot.name,
    received_on: lot.received_on,
    expires_on: lot.expires_on,
    opened_on: lot.opened_on ?? "",
    shelf_life_open_days: String(lot.shelf_life_open_days ?? ""),
    size: String(lot.size ?? ""),
    portion: String(lot.portion ?? ""),
    reason: "The label was misread.",
  };
  for (const [name, value] of Object.entries({ ...written, ...change })) form.set(name, value);
  return form;
}

/** All of a conductivity standard, its value with it. */
const wholeForm = (stored: StoredStandard, value: string, change: Record<string, string> = {}) =>
  formOf(stored, {
    kind: "conductivity-standard",
    code: stored.lot.code,
    value,
    percent_per_c: "1.91",
    uncertainty: String(stored.lot.uncertainty),
    name: "",
    ...change,
  });

const evening = { now: at(20), today: "2026-04-12" };
/** Corrects a lot, and has what rests on it judged; what it was refused for, or null. */
async function correct(id: string, form: FormData): Promise<FieldErrors | null> {
  const { db, person } = use.bench;
  const { errors, rejudging } = await correctLot(db, id, form, person, evening);
  if (rejudging) await runRejudging(db, rejudging, evening.now);
  return errors ?? null;
}

const judgements = async (reading_id: string): Promise<number> =>
  (await use.bench.db("reading_judgements").where({ reading_id })).length;

async function stored(id: string): Promise<StoredLot> {
  const found = await findLot(use.bench.db, id);
  if (!found) throw new Error("There is no such lot.");
  return found;
}

/** A bottle of buffer 10 that was written down as expired takes the place of the good one. */
async function expiredTen(expires_on: string): Promise<StoredStandard> {
  const { db, person, lots } = use.bench;
  const lot = await addLot(
    db,
    testLot("ph-buffer", "technical-10", Number.NaN, { code: "B10-X", expires_on }),
    person,
    at(7),
  );
  if (!lot) throw new Error("The code is taken.");
  lots[1] = lot;
  return lot;
}

/** Reagents by the bottle, of which two tests are in it. */
async function reagent(change: Partial<SupplyLot> = {}): Promise<StoredLot> {
  const lot = lotSchema.parse({
    kind: "reagent",
    code: "PR-7",
    name: "Phosphate reagent",
    serves: [libraryMethod("phosphate-photometer").materials[0]?.name ?? ""],
    strength: null,
    formula: "",
    purity_percent: null,
    kit: null,
    received_on: "2026-01-01",
    opened_on: null,
    expires_on: "2027-01-01",
    shelf_life_open_days: null,
    size: 100,
    portion: 10,
    unit: "mL",
    place: "",
    hazards: [],
    withdrawn: null,
    discarded: null,
    ...change,
  }) as SupplyLot;
  const added = await addLot(use.bench.db, lot, use.bench.person, at(7));
  if (!added) throw new Error("The code is taken.");
  return added;
}

describe("a day that was written wrong on a bottle", () => {
  it("is corrected, and the calibration, what was read with it, and what they say follow", async () => {
    const { db } = use.bench;
    const ten = await expiredTen("2026-03-01");
    const calibration = recordId(await calibratedPh(use.bench, at(8)), "ph");
    const reading = recordId(await phReading(use.bench, -62, at(9)), "ph");
    expect((await findCalibration(db, calibration))?.verdict).toBe("qualified");
    const before = await findReading(db, reading);
    expect(before?.findings.map((f) => f.rule)).toEqual(expect.arrayContaining(["lot-expired"]));
    expect(before?.verdict).toBe("qualified");

    expect(await correct(ten.id, formOf(ten, { expires_on: "2027-03-01" }))).toBeNull();
    const calibrated = await findCalibration(db, calibration);
    expect(calibrated?.verdict).toBe("sound");
    expect(JSON.stringify(calibrated?.findings)).not.toContain("Expired");
    const after = await findReading(db, reading);
    expect([after?.verdict, after?.value]).toEqual(["sound", before?.value]);
    const said = "expires: 1 Mar 2027, not 1 Mar 2026";
    expect((await lotHistory(db, ten.id))[0]?.reason).toBe(`The label was misread. (${said})`);
    const causes = await db("reading_judgements")
      .where({ reading_id: reading })
      .orderBy("seq")
      .pluck("cause");
    expect(causes.at(-1)).toBe(`lot B10-X was corrected: ${said}`);
    expect(await verifyJournal(db)).toBeNull();
  });

  it("takes from what seemed sound what it did not deserve, and the same again changes nothing", async () => {
    const { db } = use.bench;
    const ten = await expiredTen("2027-03-01");
    const calibration = recordId(await calibratedPh(use.bench, at(8)), "ph");
    const reading = recordId(await phReading(use.bench, -62, at(9)), "ph");
    expect(await correct(ten.id, formOf(ten, { opened_on: "2026-01-02" }))).toBeNull();
    expect((await findCalibration(db, calibration))?.verdict).toBe("qualified");
    const after = await findReading(db, reading);
    expect(after?.findings.find((f) => f.rule === "lot-open-too-long")?.severity).toBe("qualify");
    const known = await judgements(reading);
    // Pressed twice: the second finds it done, and a page that was open before says so.
    expect(await correct(ten.id, formOf(await stored(ten.id)))).toBeNull();
    expect((await stored(ten.id)).version).toBe(2);
    expect((await correct(ten.id, formOf(ten, { opened_on: "2026-04-01" })))?.[""]).toContain("version 2");
    expect(await judgements(reading)).toBe(known);
  });

  it("follows into the tests that it was used in, as of the day on which it was", async () => {
    const { bench } = use;
    const method = libraryMethod("phosphate-photometer");
    const bottle = await reagent({ expires_on: "2026-04-01" });
    const [material] = method.materials;
    if (!material) throw new Error("The method has no materials.");
    const work = ulid(Date.parse(at(9)));
    const named = { material: material.key, name: material.name, code: "PR-7", lot_id: bottle.id };
    await openTestRun(bench, method, at(9), {
      work,
      lots: [{ ...named, expires_on: "2026-04-01", reason: "Nothing else was there." }],
    });
    const player = new RunPlayer(method, {}, Date.parse(at(9))).play(0.8);
    await postPlayed(bench, work, player.events, at(9));
    const id = `${work}-phosphate`;
    expect(await verdictOf(id)).toBe("qualified");
    expect(await correct(bottle.id, formOf(bottle, { expires_on: "2026-04-12" }))).toBeNull();
    const { findings } = (await findReading(bench.db, id)) ?? { findings: [] };
    expect(findings.filter((f) => f.rule === "lot-expired")).toEqual([]);
    // The day after, it would not have been in date.
    expect(
      await correct(bottle.id, formOf(await stored(bottle.id), { expires_on: "2026-04-11" })),
    ).toBeNull();
    expect(await verdictOf(id)).toBe("qualified");
  });

  it("is refused where it cannot be, at its field, and nothing is changed", async () => {
    const ten = await expiredTen("2027-03-01");
    const wrong = formOf(ten, { opened_on: "2026-04-13", shelf_life_open_days: "many", reason: "" });
    expect(await correct(ten.id, wrong)).toEqual({
      shelf_life_open_days: expect.stringContaining("many"),
      reason: "Say how it came to be written wrong.",
    });
    expect(await correct(ten.id, formOf(ten, { opened_on: "2026-04-13" }))).toEqual({
      opened_on: "It cannot have been opened on a day to come.",
    });
    expect(await correct(ten.id, formOf(ten, { expires_on: "soon" }))).toHaveProperty("expires_on");
    expect(await correct(ten.id, formOf(ten, { reason: "x".repeat(201) }))).toHaveProperty("reason");
    expect(await stored(ten.id)).toEqual(ten);
  });
});

describe("what one use of a bottle takes", () => {
  it("is corrected, and what is left follows", async () => {
    const { db } = use.bench;
    const bottle = await reagent();
    await db("lots").where({ id: bottle.id }).update({ used: 20 });
    const uses = { work_id: "", lot_id: bottle.id, role: "material", slot: "reagent", amount: 20, at: at(9) };
    const run_id = await run(0.8, at(9));
    await db("lot_uses").insert({ ...uses, work_id: run_id.replace("-phosphate", ""), into_lot_id: null });
    expect(await correct(bottle.id, formOf(bottle, { portion: "1", size: "50" }))).toBeNull();
    expect(await db("lots").where({ id: bottle.id }).first("used", "emptied")).toMatchObject({ used: 2 });
    expect((await stored(bottle.id)).lot).toMatchObject({ portion: 1, size: 50 });
  });
});

describe("the value of a bottle", () => {
  it("is corrected while nothing was reckoned with it, by which it gets another name", async () => {
    const { standard } = use.bench;
    expect(await whyFixed(use.bench.db, standard.id)).toBeNull();
    expect(await correct(standard.id, wholeForm(standard, "1413", { code: "EC-9" }))).toBeNull();
    const { lot } = await stored(standard.id);
    expect(lot).toMatchObject({ code: "EC-9", name: "Conductivity 1413 µS/cm" });
    expect("table" in lot && lot.table.find((row) => row.temperature_c === 25)?.value).toBe(1413);
  });

  it("stays once something was reckoned with it, while the days beside it may be corrected", async () => {
    const { db, lots } = use.bench;
    const [seven] = lots;
    await calibratedPh(use.bench, at(8));
    expect(await whyFixed(db, seven?.id ?? "")).toContain("one piece of work was reckoned with them");
    const renamed = formOf(await stored(seven?.id ?? ""), {
      kind: "ph-buffer",
      material: "technical-7",
      code: "B7-NEW",
      uncertainty: "0.01",
    });
    expect((await correct(seven?.id ?? "", renamed))?.[""]).toContain("withdraw the bottle");
    expect((await stored(seven?.id ?? "")).lot.code).toBe("L-technical-7");
    expect(await correct(seven?.id ?? "", formOf(await stored(seven?.id ?? ""), { size: "500" }))).toBeNull();
  });

  it("stays while something that was begun with it is under way, and is free again after what failed", async () => {
    const { db, person, pond, standard } = use.bench;
    const start = { work_id: ulid(), event_id: ulid(), actor: person, at: at(8) };
    const step = {
      measurand: "conductivity" as const,
      role: "point" as const,
      stored: standard,
      reason: null,
    };
    await startCalibration(db, start, pond, [step], { conditions: null });
    expect(await whyFixed(db, standard.id)).toContain("under way");
    expect((await correct(standard.id, wholeForm(standard, "1413")))?.[""]).toContain("under way");
    // As if it had ended, and failed.
    const row = { meter_id: pond.id, sensor_id: "", measurand: "conductivity", finished_at: at(9) };
    await db("bench_work").where({ id: start.work_id }).update({ status: "finished" });
    await db("lot_uses").insert({
      work_id: start.work_id,
      lot_id: standard.id,
      role: "standard",
      slot: "0",
      amount: null,
      at: at(9),
      into_lot_id: null,
    });
    const calibration = {
      ...row,
      id: "c",
      work_id: start.work_id,
      valid_until: at(9),
      verdict: "failed",
      basis: "signal",
      headline: "",
      coefficients: "{}",
      packed: Buffer.from(""),
      rules_version: 1,
      person_id: person.id,
    };
    await db("calibrations").insert(calibration);
    expect(await whyFixed(db, standard.id)).toBeNull();
    await db("calibrations").update({ verdict: "sound" });
    expect(await whyFixed(db, standard.id)).toContain("reckoned");
  });

  it("is not given the code of another lot", async () => {
    const { standard, zero } = use.bench;
    const taken = wholeForm(standard, "718", { code: zero.lot.code });
    expect(await correct(standard.id, taken)).toEqual({ code: `There is a lot ${zero.lot.code} already.` });
  });

  it("of a lot that was withdrawn stays withdrawn when its days are corrected", async () => {
    const { db, person, standard } = use.bench;
    const withdrawn = { on: "2026-04-12", since: "2026-04-11", reason: "Reads low." };
    await changeLot(db, standard.id, (l) => ({ ...l, withdrawn, place: "shelf 2" }), person, at(10), "bad");
    expect(await correct(standard.id, wholeForm({ ...standard, version: 2 }, "719"))).toBeNull();
    expect((await stored(standard.id)).lot).toMatchObject({ withdrawn, place: "shelf 2" });
  });
});
