import { describe, expect, it } from "vitest";
import { defaultHouseRules } from "../../../core/rules/houseRules";
import { verifyJournal } from "../bench/verifyJournal.server";
import { voidResults } from "../bench/void.server";
import { confirmRejudging } from "../results/rejudge.server";
import { runRejudging } from "../results/rejudgeRun.server";
import { amendReading } from "../review/amend.server";
import { changeRules } from "../rules/rules.server";
import { benchForEachTest } from "../testing/benchForEachTest";
import { at, phosphateBench, spikeOf } from "../testing/phosphateBench";

const use = benchForEachTest();
const { run, read, verdictOf, saidOf } = phosphateBench(use);

describe("a spike", () => {
  it("is held when too little comes back, by what was there before", async () => {
    const { db, person } = use.bench;
    const sample = await run(0.8, at(8));
    // 0.8 mg/L in 10 mL and 0.1 mL of 50 mg/L make 1.287 mg/L.
    expect(await verdictOf(await run(1.29, at(9), spikeOf(sample)))).toBe("sound");
    expect(await verdictOf(sample)).toBe("sound");
    const little = await run(1.1, at(8, 30), spikeOf(sample));
    expect(await verdictOf(little)).toBe("held");
    expect(await saidOf(little)).toContain("Less comes back than was added");
    expect(await verdictOf(sample)).toBe("held");
    // A slip of the pen: what comes back follows what was read.
    const amendment = { what: "value" as const, text: "1.29", reason: "misread", judgement: 1 };
    expect(await amendReading(db, little, amendment, person, at(9))).toBeNull();
    expect(await verdictOf(little)).toBe("qualified");
    expect(await verdictOf(sample)).toBe("qualified");
  });

  it("follows the water it was added to when that is amended, or taken out", async () => {
    const { db, person } = use.bench;
    const sample = await run(0.8, at(8));
    const other = await run(0.8, at(8, 30));
    const back = await run(1.29, at(9), spikeOf(sample));
    const untouched = await run(1.29, at(9, 30), spikeOf(other));
    const recovered = async (id: string) => {
      const { evidence } = await read(id);
      return "quality" in evidence ? evidence.quality?.spike : undefined;
    };
    expect(await recovered(back)).toMatchObject({
      unspiked: 0.8,
      recovery_percent: expect.closeTo(100.4, 0),
    });
    const judgements = (id: string) => db("reading_judgements").where({ reading_id: id });
    const before = (await judgements(untouched)).length;
    // Read as 0.80, meant as 1.10: of 0.495 mg/L that were added 0.201 came back.
    const amendment = { what: "value" as const, text: "1.10", reason: "misread" };
    const { judgements: judgement } = await db("readings").where({ id: sample }).first("judgements");
    expect(await amendReading(db, sample, { ...amendment, judgement }, person, at(10))).toBeNull();
    expect(await recovered(back)).toMatchObject({ unspiked: 1.1, recovery_percent: expect.closeTo(40.6, 0) });
    expect(await verdictOf(back)).toBe("held");
    expect(await judgements(untouched)).toHaveLength(before);
    await voidResults(db, person, sample.slice(0, 26), "wrong bottle", at(11));
    expect(await recovered(back)).toMatchObject({ unspiked: null, recovery_percent: null });
    expect(await saidOf(back)).toContain("or was taken out");
    expect(await recovered(untouched)).toMatchObject({ unspiked: 0.8 });
    expect(await verifyJournal(db)).toBeNull();
  });

  it("follows the water it was added to when new rules no longer let its portions agree", async () => {
    const { db, person } = use.bench;
    const sample = await run([0.75, 0.85], at(8));
    const back = await run(1.29, at(9), spikeOf(sample));
    expect(await verdictOf(back)).toBe("sound");
    const analysis = { ...defaultHouseRules.analysis, duplicate_percent: 5 };
    const rules = { ...defaultHouseRules, data: "demo" as const, analysis };
    await changeRules(db, 1, rules, "closer", person, at(10));
    const request = { kind: "rules" as const, subject_id: at(7) };
    await runRejudging(db, await confirmRejudging(db, request, "closer duplicates", person, at(10)), at(11));
    expect((await read(sample)).value).toBeNull();
    const { evidence } = await read(back);
    expect("quality" in evidence && evidence.quality?.spike).toMatchObject({
      unspiked: null,
      recovery_percent: null,
    });
    expect(await verdictOf(back)).toBe("held");
    expect(await verifyJournal(db)).toBeNull();
  });
});
