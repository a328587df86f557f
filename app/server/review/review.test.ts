import { describe, expect, it } from "vitest";
import { dayBounds } from "../../../core/time/zone";
import { voidResults } from "../bench/void.server";
import type { Person } from "../people/people.server";
import { Forbidden } from "../platform/rights.server";
import { findReading, judgementsOf } from "../results/readings.server";
import { changeRules, rulesInForce } from "../rules/rules.server";
import { benchForEachTest } from "../testing/benchForEachTest";
import { calibratedPh, phReading } from "../testing/testBench";
import { testedOn } from "../testing/testDatabase";
import { amendmentsOf, amendReading } from "./amend.server";
import {
  daysToReview,
  lookGroups,
  oldestToReview,
  shiftToReview,
  signaturesOf,
  signaturesOfDay,
} from "./review.server";
import { noteLooked, signShift } from "./sign.server";

const use = benchForEachTest();
const at = (h: number, m = 0) =>
  `2026-04-12T${String(h).padStart(2, "0")}:${String(m).padStart(2, "0")}:00.000Z`;
const bounds = dayBounds("UTC");
const shift = { day: "2026-04-12", from: bounds.start("2026-04-12"), to: bounds.end("2026-04-12") };
const maren: Person = { id: "p-maren", name: "Maren", role: "reviewer" };
const must = <T>(value: T | null | undefined): T => {
  if (value === null || value === undefined) throw new Error("There should be one.");
  return value;
};

/** A calibrated meter, one sound pH and one that no water has; Maren reviews. */
async function aShift(): Promise<{ sound: string; odd: string }> {
  const { db } = use.bench;
  await db("people").insert({ ...maren, active: true, created_at: at(7) });
  await calibratedPh(use.bench, at(8));
  const odd = `${await phReading(use.bench, 420, at(9))}-ph`;
  const sound = `${await phReading(use.bench, -40, at(10))}-ph`;
  return { sound, odd };
}
const look = (id: string, judgement: number, comment = "The cable was loose; seen with Noor.") =>
  noteLooked(use.bench.db, [{ id, judgement }], comment, maren, at(16));
const sign = (actor = maren, when = at(17)) => signShift(use.bench.db, shift, "", actor, when);
const amend = (id: string, text: string, judgement = 1, what: "value" | "sample" = "value") =>
  amendReading(
    use.bench.db,
    id,
    { what, text, judgement, reason: "Digits changed places." },
    use.bench.person,
    at(18),
  );

describe("what is to be reviewed", () => {
  it("are all results that nobody signed as they are, by day and verdict", async () => {
    await aShift();
    const { db } = use.bench;
    expect(await daysToReview(db, "2026-04-14", bounds)).toEqual([
      { day: "2026-04-12", count: { sound: 1, qualified: 1, held: 0, void: 0 }, changed: 0 },
    ]);
    expect((await oldestToReview(db))?.slice(0, 10)).toBe("2026-04-12");
    expect(await daysToReview(db, "2026-04-11", bounds)).toEqual([]);
  });

  it.skipIf(testedOn === "PostgreSQL")("is found by its own index, however many are signed", async () => {
    const plan = await use.bench.db.raw(
      `explain query plan select measured_at from readings
       where (readings.signed_judgement is null or readings.signed_judgement < readings.judgements) order by measured_at limit 1`,
    );
    expect(JSON.stringify(plan)).toContain("readings_to_review");
  });

  it("puts what is held alone, and what is qualified for the same reason together", async () => {
    await aShift();
    const rows = await shiftToReview(use.bench.db, shift.from, shift.to);
    const [first] = rows;
    const like = (id: string, verdict: "held" | "qualified") => ({ ...must(first), id, verdict });
    const groups = lookGroups([
      like("a", "qualified"),
      like("b", "held"),
      like("c", "qualified"),
      like("d", "held"),
    ]);
    expect(groups.map((g) => g.rows.map((r) => r.id))).toEqual([["b"], ["d"], ["a", "c"]]);
  });

  it("stands together where one file brought it held for the same reason", async () => {
    await aShift();
    const [row] = await shiftToReview(use.bench.db, shift.from, shift.to);
    const held = (id: string, work_id: string, rule: string) => ({
      ...must(row),
      id,
      work_id,
      source: "imported" as const,
      verdict: "held" as const,
      findings: [{ rule, severity: "hold" as const, sentence: "", measured: "", limit: "", action: "" }],
    });
    const groups = lookGroups([
      held("a", "one file", "jump"),
      held("b", "another", "jump"),
      held("c", "one file", "jump"),
      held("d", "one file", "flat"),
    ]);
    expect(groups.map((g) => g.rows.map((r) => r.id))).toEqual([["a", "c"], ["b"], ["d"]]);
  });
});

describe("a shift", () => {
  it("is signed when everything that is not simply sound was looked at; then nothing is left", async () => {
    const { sound, odd } = await aShift();
    const { db } = use.bench;
    expect(await sign()).toEqual({ refused: expect.stringContaining("1 result must be looked at first") });
    expect(await look(odd, 1)).toBe(1);
    expect(await look(odd, 1)).toBe(0);
    expect(await sign()).toMatchObject({ readings: 2, own: 0 });
    expect(await shiftToReview(db, shift.from, shift.to)).toEqual([]);
    expect(await sign()).toEqual({ refused: "There is nothing left to sign." });
    expect(await signaturesOfDay(db, shift.day)).toMatchObject([{ by: "Maren", readings: 2 }]);
    expect(await signaturesOf(db, sound)).toMatchObject([{ by: "Maren", judgement: 1 }]);
  });

  it("signed twice at once is signed once", async () => {
    const { odd } = await aShift();
    await look(odd, 1);
    const answers = await Promise.all([sign(), sign()]);
    expect(answers.filter((a) => "readings" in a)).toHaveLength(1);
    expect(await use.bench.db("signatures")).toHaveLength(1);
  });

  it("is signed by nobody who measured it, unless the rules of a house of one say otherwise", async () => {
    const { odd } = await aShift();
    const { db, person } = use.bench;
    await look(odd, 1);
    expect(await sign(person)).toEqual({ refused: expect.stringContaining("somebody else signs it") });
    const { version, rules } = await rulesInForce(db);
    const alone = { ...rules, records: { second_person: "anyone" as const } };
    await changeRules(db, version, alone, "one of us", person, at(16));
    expect(await sign(person)).toMatchObject({ readings: 2 });
  });

  it("is signed by no technician", async () => {
    await aShift();
    await expect(sign({ ...maren, role: "technician" })).rejects.toBeInstanceOf(Forbidden);
  });

  it("takes a note of a result as it was seen, and not of what it became meanwhile", async () => {
    const { odd } = await aShift();
    await voidResults(use.bench.db, use.bench.person, odd.replace(/-ph$/, ""), "spilt", at(12));
    expect(await look(odd, 1)).toBe(0);
    expect(await look(odd, 2)).toBe(1);
  });

  it("with a result that came late is signed again, for that one alone", async () => {
    const { odd } = await aShift();
    await look(odd, 1);
    await sign();
    await phReading(use.bench, -42, at(11));
    expect(await sign(maren, at(19))).toMatchObject({ readings: 1 });
    expect(await signaturesOfDay(use.bench.db, shift.day)).toHaveLength(2);
  });
});

describe("an amendment", () => {
  it("changes the value, keeps what it was, qualifies it by name, and asks for a review anew", async () => {
    const { sound, odd } = await aShift();
    const { db } = use.bench;
    await look(odd, 1);
    await sign();
    const before = must(await findReading(db, sound));
    expect(await amend(sound, "7,86")).toBeNull();
    const after = must(await findReading(db, sound));
    expect(after).toMatchObject({ value: 7.86, measured_value: 7.86, verdict: "qualified" });
    expect(after.findings[0]?.sentence).toBe("Amended by Noor: Digits changed places.");
    expect(await amendmentsOf(db, sound)).toMatchObject([
      { what: "value", before: `${before.value?.toFixed(2)} pH`, after: "7.86 pH", judgement: 2, by: "Noor" },
    ]);
    expect((await judgementsOf(db, sound)).map((j) => j.cause)[1]).toContain("amended, value");
    expect(await daysToReview(db, shift.day, bounds)).toMatchObject([{ changed: 1 }]);
    expect(await sign()).toMatchObject({ refused: expect.stringContaining("1 result") });
    await look(sound, 2);
    expect(await sign(maren, at(19))).toMatchObject({ readings: 1 });
    expect((await signaturesOf(db, sound)).map((s) => s.judgement)).toEqual([1, 2]);
  });

  it("stays when an event arrives late, when rules change, and a drift is taken out of it", async () => {
    const { sound } = await aShift();
    const { db, person } = use.bench;
    await amend(sound, "7.86");
    const { version, rules } = await rulesInForce(db);
    await changeRules(
      db,
      version,
      { ...rules, ph: { ...rules.ph, duplicate_ph: 0.2 } },
      "wider",
      person,
      at(19),
    );
    const { confirmRejudging } = await import("../results/rejudge.server");
    const { runRejudging } = await import("../results/rejudgeRun.server");
    const job = await confirmRejudging(
      db,
      { kind: "rules", subject_id: shift.from },
      "wider",
      person,
      at(19),
    );
    await runRejudging(db, job, at(19));
    expect(await findReading(db, sound)).toMatchObject({ value: 7.86, rules_version: 2 });
  });

  it.each([
    ["", "Type a value."],
    ["seven", "is not a number"],
    ["<7", "one plain value"],
    ["7.6 mg/L", "does not fit here"],
  ])("to %s is refused in a sentence", async (text, sentence) => {
    const { sound } = await aShift();
    expect(await amend(sound, text)).toContain(sentence);
    expect(await findReading(use.bench.db, sound)).toMatchObject({ verdict: "sound" });
  });

  it("to what stands there already is none", async () => {
    const { sound } = await aShift();
    const present = must(await findReading(use.bench.db, sound)).value?.toFixed(2) ?? "";
    expect(await amend(sound, present)).toContain("what stands there already");
  });

  it("of something that changed meanwhile, or was taken out, is refused", async () => {
    const { sound } = await aShift();
    expect(await amend(sound, "7.86", 2)).toContain("judged anew meanwhile");
    await voidResults(use.bench.db, use.bench.person, sound.replace(/-ph$/, ""), "spilt", at(12));
    expect(await amend(sound, "7.86", 2)).toContain("taken out");
    expect(await amend("none", "7.86")).toContain("not there");
  });

  it("gives a sample its right name", async () => {
    const { sound } = await aShift();
    expect(await amend(sound, "BP-2", 1, "sample")).toBeNull();
    expect(await findReading(use.bench.db, sound)).toMatchObject({ sample: "BP-2", verdict: "sound" });
    expect(await amend(sound, " ", 2, "sample")).toContain("Type the name");
  });
});
