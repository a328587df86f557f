import { describe, expect, it } from "vitest";
import { seededRandom } from "../quantity/random";
import type { AnalysisEvidence } from "../results/analysisEvidence";
import { evidenceOfRun } from "../results/runEvidence";
import { libraryMethod, RunPlayer } from "../simulation/runPlayer";
import { coverageOf, coveredTechniques } from "../testing/coverage";
import { readingEvidenceOf } from "../testing/readingEvidence";
import { expandedWords, standardUncertaintyOf, uncertaintyOf } from "./uncertainty";

/** A finished run of a method on a water that holds so much. */
function run(
  method: string,
  size: number,
  more: ConstructorParameters<typeof RunPlayer>[1] = {},
): AnalysisEvidence {
  const played = new RunPlayer(libraryMethod(method), more).play(size);
  const { state } = played.replayed;
  const [evidence] = state ? evidenceOfRun("r", state) : [];
  if (!evidence) throw new Error("The run gave nothing.");
  return evidence;
}

describe("the uncertainty of an analysis", () => {
  it("of a drop count is half a drop twice and the sample's volume, less in the mean of two", () => {
    const evidence = run("oxygen-drops", 8);
    const found = uncertaintyOf(evidence);
    const n = evidence.pair ? 2 : 1;
    // Rectangular: 0.5/√3 of a drop of 1 mg/L, twice; 0.5 % of 8 mg/L. Source: JCGM 100, 4.3.7.
    expect(found?.u).toBeCloseTo(Math.sqrt((0.5 / 3 + 0.04 ** 2 / 3) / n), 6);
    expect(found?.parts[0]?.what).toBe("whole drops only");
    expect(found?.parts.reduce((sum, p) => sum + p.share, 0)).toBeCloseTo(1, 9);
  });
  it("of a burette grows with the uncertainty of its titrant, and shares are by variance", () => {
    const plain = run("oxygen-burette", 8, { strength: 0.025, strength_uncertainty: null });
    const strong = run("oxygen-burette", 8, { strength: 0.025, strength_uncertainty: 0.00025 });
    const [a, b] = [uncertaintyOf(plain), uncertaintyOf(strong)];
    expect(b?.u).toBeCloseTo(Math.hypot(a?.u ?? 0, (b?.value ?? 0) * 0.01), 6);
    expect(b?.parts[0]?.what).toBe("strength of the titrant");
  });
  it("takes repeatability from known pairs where these say more than the hand's resolution, never both", () => {
    const evidence = run("oxygen-burette", 8);
    const known = { ...evidence, repeatability: { sd: 0.3, n: 12 } };
    const few = { ...evidence, repeatability: { sd: 0.3, n: 9 } };
    expect(uncertaintyOf(known)?.parts.map((p) => p.what)).toEqual(["repeatability, mean of two"]);
    expect(uncertaintyOf(known)?.u).toBeCloseTo(0.3 / Math.SQRT2, 9);
    expect(uncertaintyOf(few)).toEqual(uncertaintyOf(evidence));
  });
  it("of a range is half of it over the root of three, and of less than a limit nothing", () => {
    const range = { ...run("nitrate-tube", 1), reported: { kind: "interval", low: 0.2, high: 0.5 } as const };
    expect(standardUncertaintyOf(range)).toBeCloseTo(0.0866, 4);
    expect(uncertaintyOf(range)).toBeNull();
    expect(standardUncertaintyOf({ ...range, reported: { kind: "below", limit: 0.2 } })).toBeNull();
    expect(standardUncertaintyOf({ ...range, reported: null })).toBeNull();
  });
  it("says what was assumed of a maker's factor", () => {
    expect(uncertaintyOf(run("phosphate-photometer", 0.8))?.assumed).toEqual([
      "The maker's factor or scale is taken as it is: nobody says how sure it is.",
    ]);
  });
  it("counts a dilution", () => {
    const [once, five] = [run("oxygen-burette", 8), run("oxygen-burette", 8, { dilution: 5 })];
    expect(uncertaintyOf(once)?.parts.some((p) => p.what === "dilution")).toBe(false);
    expect(uncertaintyOf(five)?.parts.some((p) => p.what === "dilution")).toBe(true);
  });
});

describe("the uncertainty of a reading", () => {
  it("takes each buffer by its weight in the line", () => {
    const evidence = readingEvidenceOf({ ph: 8.5, buffers: [7, 10], uncertainty: 0.01 });
    const parts = uncertaintyOf(evidence)?.parts ?? [];
    const of = (name: string) => parts.find((p) => p.what.includes(name))?.u;
    // Halfway between two buffers each counts half. Worked by hand.
    expect(of("Buffer 7")).toBeCloseTo(0.005, 6);
    expect(of("Buffer 10")).toBeCloseTo(0.005, 6);
    expect(parts.find((p) => p.what === "last digit")?.u).toBeCloseTo(0.005 / Math.sqrt(3) / Math.SQRT2, 6);
  });
  it("outside its buffers grows with the distance", () => {
    const repeatability = { sd: 0.001, n: 30 };
    const at = (ph: number) =>
      uncertaintyOf(readingEvidenceOf({ ph, buffers: [7, 10], uncertainty: 0.01, repeatability }))?.u ?? 0;
    expect(at(11.5)).toBeGreaterThan(at(8.5) * 1.5);
  });
});

describe("coverage of 2 000 simulated measurements with a known truth", () => {
  // k = 2 holds 95.4 of a hundred of a normal distribution. Source: JCGM 100, 6.3 and G.6.6.
  it.each(coveredTechniques().map((c, i) => [c.technique, c, 20260 + i] as const))(
    "by %s: the stated U holds it in 93 to 97 of a hundred",
    (_technique, covered, seed) => {
      const share = coverageOf(covered, 2000, seededRandom(seed));
      expect(share).toBeGreaterThanOrEqual(0.93);
      expect(share).toBeLessThanOrEqual(0.97);
    },
  );
});

describe("a number with its uncertainty", () => {
  it.each([
    [0.147, 2, "± 0.29"],
    [0.0121, 2, "± 0.024"],
    [3.77, 0, "± 7.5"],
    [0.289, 0, "± 0.6"],
    [12, 0, "± 24"],
  ])("of u %d at %d decimals is written %s", (u, decimals, words) => {
    expect(expandedWords(u, decimals)).toBe(words);
  });
});
