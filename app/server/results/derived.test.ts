import { ulid } from "ulid";
import { describe, expect, it } from "vitest";
import { defaultHouseRules } from "../../../core/rules/houseRules";
import { libraryMethod, RunPlayer } from "../../../core/simulation/runPlayer";
import { recordId } from "../bench/benchWork.server";
import { verifyJournal } from "../bench/verifyJournal.server";
import { voidResults } from "../bench/void.server";
import { changeRules } from "../rules/rules.server";
import { receiveSample } from "../samples/receiveSample.server";
import { benchForEachTest } from "../testing/benchForEachTest";
import { openTestRun, postPlayed } from "../testing/benchRun";
import { calibratedPond, checkedPond, pondReading } from "../testing/testBench";
import { findReading, judgementsOf } from "./readings.server";
import { confirmRejudging } from "./rejudge.server";
import { previewRejudging } from "./rejudgeChanges.server";
import { runRejudging } from "./rejudgeRun.server";

const use = benchForEachTest();
const at = (h: number, min = 0) =>
  `2026-04-12T${String(h).padStart(2, "0")}:${String(min).padStart(2, "0")}:00.000Z`;
const water = { conductivity: 600, ph: -62, oxygen: 85 };
/** Steady, in the check's standards. */
const right = { conductivity: 718, ph: 0, oxygen: 90 };

/** Total ammonia of the pond, begun at a moment. */
async function ammonia(begun: string, size = 0.5): Promise<string> {
  const method = libraryMethod("ammonia-salicylate");
  const work = ulid(Date.parse(begun));
  await openTestRun(use.bench, method, begun, { work });
  const played = new RunPlayer(method, {}, Date.parse(begun)).play(size);
  await postPlayed(use.bench, work, played.events, at(22));
  return `${work}-ammonia`;
}

const free = (id: string) => findReading(use.bench.db, `${id}-free-ammonia`);

describe("un-ionised ammonia of a water", () => {
  it("is a result once ammonia and pH are there, whichever came last, and names both", async () => {
    const { db } = use.bench;
    await calibratedPond(use.bench, at(8));
    const first = await ammonia(at(9));
    expect(await free(first)).toBeUndefined();
    const ph = recordId(await pondReading(use.bench, water, at(9, 20)), "ph");
    const afterwards = await ammonia(at(9, 30));
    for (const id of [first, afterwards]) {
      const derived = await free(id);
      if (derived?.source !== "derived") throw new Error("Nothing was derived.");
      expect(derived).toMatchObject({ verdict: "sound", unit: "mg/L", analyte: "Un-ionised ammonia as NH3" });
      expect(derived.evidence.from.map((s) => s.reading_id)).toEqual([id, ph]);
      // pH 8.05 at 25 °C: 5.97 % of 0.5 mg/L, times 1.2159. Source: Emerson et al. 1975.
      expect(derived.value).toBeCloseTo(0.5 * 1.2159 * 0.0597, 3);
    }
    expect(await verifyJournal(db)).toBeNull();
  });

  it("is not made of a pH of another hour or another site", async () => {
    await calibratedPond(use.bench, at(8));
    await pondReading(use.bench, water, at(11));
    expect(await free(await ammonia(at(9)))).toBeUndefined();
  });

  it("is held once the bottle of its pH turns out to be of other water", async () => {
    const { db, person, site } = use.bench;
    await calibratedPond(use.bench, at(8));
    const id = await ammonia(at(12));
    await pondReading(use.bench, water, at(12, 20), "X-9");
    expect((await free(id))?.verdict).toBe("sound");
    const bottle = { id: ulid(), code: "X-9", site: site.id, type: "general", collected_at: at(9) };
    const brought = { ...bottle, from: "The lifeguard", temperature_c: 5, note: "", methods: [] };
    expect(await receiveSample(db, brought, person, at(14))).toBeNull();
    const derived = await free(id);
    expect(derived?.verdict).toBe("held");
    expect(derived?.findings.map((f) => f.rule)).toContain("one-water");
    // The next one is not made of it at all.
    expect(await free(await ammonia(at(12, 40)))).toBeUndefined();
  });

  it("follows its pH when that is taken out, and says so", async () => {
    const { db, person } = use.bench;
    await calibratedPond(use.bench, at(8));
    const work = await pondReading(use.bench, water, at(9));
    const id = await ammonia(at(9));
    await voidResults(db, person, work, "the cap was on", at(10));
    expect(await free(id)).toMatchObject({ verdict: "held", value: expect.any(Number) });
    expect((await free(id))?.findings[0]?.sentence).toBe("pH, from which it derives, was taken out.");
    // Measured once more within the hour: it rests on that, and is sound again.
    const again = recordId(await pondReading(use.bench, { ...water, ph: -50 }, at(9, 30)), "ph");
    const derived = await free(id);
    expect(derived?.verdict).toBe("sound");
    expect(derived?.source === "derived" && derived.evidence.from[1]?.reading_id).toBe(again);
    expect((await judgementsOf(db, `${id}-free-ammonia`)).map((j) => [j.verdict, j.cause])).toEqual([
      ["sound", "first judgement"],
      ["held", "what it derives from has changed"],
      ["sound", "what it derives from has changed"],
    ]);
  });

  it("is judged anew with its pH by a check that failed, as the preview said, and becomes current with it", async () => {
    const { db, person } = use.bench;
    await calibratedPond(use.bench, at(8));
    await pondReading(use.bench, water, at(12));
    const id = await ammonia(at(12));
    const before = (await free(id))?.value ?? Number.NaN;
    const check = await checkedPond(use.bench, { ...right, ph: -17.75 }, at(16));
    const request = { kind: "check" as const, subject_id: check };
    const preview = await previewRejudging(db, request);
    expect(preview).toMatchObject({ readings: 2, changed: 2, corrected: 2 });
    await runRejudging(db, await confirmRejudging(db, request, "drift", person, at(16)), at(17));
    const derived = await free(id);
    expect(derived?.verdict).toBe("qualified");
    // Half of +0.30 pH is taken out: less of the ammonia is un-ionised.
    expect(derived?.value).toBeLessThan(before * 0.8);
    expect((await judgementsOf(db, `${id}-free-ammonia`)).at(-1)?.cause).toBe("drift");
    expect(await verifyJournal(db)).toBeNull();
  });
});

describe("oxygen saturation, dissolved solids and degrees", () => {
  it("are kept as the house rules ask, and changed with them", async () => {
    const { db, person } = use.bench;
    await calibratedPond(use.bench, at(8));
    const work = await pondReading(use.bench, water, at(9));
    const saturation = await findReading(db, `${recordId(work, "oxygen")}-saturation`);
    expect(saturation).toMatchObject({ unit: "%", verdict: "sound" });
    // 85 of 90 nA in saturated air, of which half a nA is there without oxygen.
    expect(saturation?.value).toBeCloseTo((100 * (85 - 0.5)) / (90 - 0.5), 0);
    expect(await findReading(db, `${recordId(work, "conductivity")}-tds`)).toBeUndefined();
    const rules = { ...defaultHouseRules, data: "demo" as const };
    const derived = { ...rules.derived, tds: true };
    await changeRules(db, 1, { ...rules, derived }, "asked for", person, at(9, 30));
    const later = await pondReading(use.bench, water, at(10));
    const tds = await findReading(db, `${recordId(later, "conductivity")}-tds`);
    const conductivity = await findReading(db, recordId(later, "conductivity"));
    expect(tds?.value).toBeCloseTo(0.65 * (conductivity?.value ?? 0), 6);
  });
});
