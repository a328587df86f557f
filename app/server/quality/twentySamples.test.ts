import { ulid } from "ulid";
import { describe, expect, it } from "vitest";
import type { Subject } from "../../../core/bench/subject";
import { defaultHouseRules } from "../../../core/rules/houseRules";
import { libraryMethod, RunPlayer } from "../../../core/simulation/runPlayer";
import { voidResults } from "../bench/void.server";
import { changeRules } from "../rules/rules.server";
import { benchForEachTest } from "../testing/benchForEachTest";
import { openTestRun, postPlayed } from "../testing/benchRun";
import { phosphateBench, spikeOf } from "../testing/phosphateBench";

const use = benchForEachTest();
const method = libraryMethod("phosphate-photometer");
const bench = phosphateBench(use);
const at = (minute: number) =>
  new Date(Date.parse("2026-04-12T06:00:00.000Z") + minute * 60_000).toISOString();

/** A run that holds so much, begun so many minutes into the day. */
const run = (size: number, minute: number, subject?: Subject) => bench.run(size, at(minute), subject);

type Check = "blank" | "control" | "spike";
const good: Record<Check, number> = { blank: 0, control: 1, spike: (0.8 * 10 + 0.1 * 50) / 10.1 };
const bad: Record<Check, number> = { blank: 0.3, control: 1.3, spike: 0.95 };

const subjectOf = (check: Check, unspiked_id: string): Subject =>
  check === "blank"
    ? { kind: "blank", of: "reagent" }
    : check === "control"
      ? { kind: "control", code: "CS-1", lot_id: null, expected: 1, uncertainty: null }
      : spikeOf(unspiked_id);

/** A batch of twenty samples with what of its checks is done, and how they came out; how the samples are judged. */
async function batch(done: Partial<Record<Check, number>>): Promise<{ verdicts: Set<string>; said: string }> {
  const { db, person } = use.bench;
  const owed = { blank: "every", control: "every", spike: "every" } as const;
  const rules = { ...defaultHouseRules, data: "demo" as const };
  await changeRules(db, 1, { ...rules, quality: { ...rules.quality, ...owed } }, "all owed", person, at(0));
  const samples: string[] = [];
  for (let i = 0; i < 20; i++) samples.push(await run(0.8, 10 + 5 * i));
  for (const [i, check] of (["blank", "control", "spike"] as const).entries()) {
    const size = done[check];
    if (size !== undefined) await run(size, 150 + 5 * i, subjectOf(check, samples[19] ?? ""));
  }
  const rows: { verdict: string; findings: string }[] = await db("readings").whereIn("id", samples);
  expect(rows).toHaveLength(20);
  return { verdicts: new Set(rows.map((r) => r.verdict)), said: rows.map((r) => r.findings).join(" ") };
}

describe("a control that is owed after two samples", () => {
  const lateOnes = async (order: readonly number[]) => {
    const { db, person } = use.bench;
    const rules = { ...defaultHouseRules, data: "demo" as const };
    const quality = { ...rules.quality, control: "every" as const, every: 2 };
    await changeRules(db, 1, { ...rules, quality }, "a control in two", person, at(0));
    await run(1, 10, subjectOf("control", ""));
    const ids = new Map<number, string>();
    for (const i of order) ids.set(i, await run(0.8, 20 + 10 * i));
    const said = async (i: number) => {
      const { verdict, findings } = await bench.read(ids.get(i) ?? "");
      return [verdict, findings.find((f) => f.rule === "batch-control" && f.severity !== "ok")?.sentence];
    };
    return { ids, said };
  };

  it.each([[[1, 2, 3]], [[3, 2, 1]], [[2, 3, 1]]])(
    "qualifies the third, whatever order they come in: %j",
    async (order) => {
      const { said } = await lateOnes(order);
      expect([await said(1), await said(2)]).toEqual([
        ["sound", undefined],
        ["sound", undefined],
      ]);
      expect(await said(3)).toEqual(["qualified", "The last control sample is 3 samples ago."]);
    },
  );

  it("is not owed any more where one of them is taken out", async () => {
    const { ids, said } = await lateOnes([1, 2, 3]);
    const { db, person } = use.bench;
    const work = (ids.get(1) ?? "").replace("-phosphate", "");
    expect(await voidResults(db, person, work, "the wrong bottle", at(90))).toBe(1);
    expect(await said(3)).toEqual(["sound", undefined]);
  });
});

describe("a batch of twenty samples that is owed a blank, a control and a spike", () => {
  it("is sound with all of them, in duplicate", async () => {
    expect((await batch(good)).verdicts).toEqual(new Set(["sound"]));
  });

  it.each(["blank", "control", "spike"] as const)("is qualified by name without its %s", async (missing) => {
    const { [missing]: _, ...rest } = good;
    const { verdicts, said } = await batch(rest);
    expect(verdicts).toEqual(new Set(["qualified"]));
    expect(said.match(/"rule":"batch-/g)).toHaveLength(20);
    expect(said).toContain(`"rule":"batch-${missing}"`);
  });

  it.each(["blank", "control", "spike"] as const)("is held as a whole when its %s fails", async (failing) => {
    const { verdicts, said } = await batch({ ...good, [failing]: bad[failing] });
    expect(verdicts).toEqual(new Set(["held"]));
    expect(said).toContain("of its batch is out");
  });

  it("holds only the sample whose duplicates fall apart", async () => {
    await batch(good);
    const begun = at(200);
    const work = ulid(Date.parse(begun));
    await openTestRun(use.bench, method, begun, { work });
    const apart = new RunPlayer(method, {}, Date.parse(begun)).read(0.8).read(1.2).read(1.8).finish();
    await postPlayed(use.bench, work, apart.events, begun);
    const held = await use.bench.db("readings").where({ verdict: "held" }).select("work_id");
    expect(held).toEqual([{ work_id: work }]);
  });
});
