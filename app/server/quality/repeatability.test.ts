import { describe, expect, it } from "vitest";
import { voidResults } from "../bench/void.server";
import { benchForEachTest } from "../testing/benchForEachTest";
import { at, phosphateBench } from "../testing/phosphateBench";
import { repeatabilityOf } from "./repeatability.server";

const use = benchForEachTest();
const { run } = phosphateBench(use);
const own = { instrument_id: "phosphate-photometer", parameter: "phosphate", value: 2 };

/** So many runs, an hour after each other, whose two portions lay so far apart. */
async function pairs(n: number, value: number, apart: number): Promise<string[]> {
  const ids: string[] = [];
  for (let i = 0; i < n; i++) ids.push(await run(value, at(6 + i, Math.round(apart * 10))));
  await use.bench.db("readings").whereIn("id", ids).update({ pair_range: apart });
  return ids;
}

describe("how well a method repeats", () => {
  it("is a share of the value, from ten pairs at least, of those before the moment", async () => {
    const { db } = use.bench;
    await pairs(9, 0.8, 0.08);
    expect(await repeatabilityOf(db, own, at(18))).toBeUndefined();
    await pairs(1, 0.8, 0.08);
    const found = await repeatabilityOf(db, own, at(18));
    expect(found?.n).toBe(10);
    // Source: pooled variance of pairs, s = √(Σ d² / 2n): a tenth of the value apart, at 2 mg/L.
    expect(found?.sd).toBeCloseTo((0.1 / Math.SQRT2) * 2, 9);
    expect(await repeatabilityOf(db, own, at(12))).toBeUndefined();
    expect(await repeatabilityOf(db, { ...own, value: null }, at(18))).toBeUndefined();
  });

  it("is not told by a pair that was taken out", async () => {
    const { db, person } = use.bench;
    const [slip = ""] = await pairs(1, 0.8, 0.7);
    await pairs(10, 0.8, 0.08);
    expect((await repeatabilityOf(db, own, at(18)))?.sd).toBeGreaterThan(0.3);
    await voidResults(db, person, slip.slice(0, 26), "read from the wrong cuvette", at(12));
    const found = await repeatabilityOf(db, own, at(18));
    expect(found?.n).toBe(10);
    expect(found?.sd).toBeCloseTo((0.1 / Math.SQRT2) * 2, 9);
  });
});
