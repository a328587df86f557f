import { describe, expect, it } from "vitest";
import { defaultHouseRules } from "../rules/houseRules";
import { absorbanceOf, type DayStandard, dayCurve } from "../runs/techniques/dayCurve";
import { libraryMethod, RunPlayer } from "../simulation/runPlayer";
import { judgeAnalysis } from "./judgeAnalysis";
import { evidenceOfRun } from "./runEvidence";

const straight: DayStandard[] = [0, 0.5, 1, 2].map((concentration) => ({
  concentration,
  signal: 0.004 + 0.2 * concentration,
}));

/** A run with a curve of the day, both replicates read alike. */
function judged(curve: DayStandard[], signal: number) {
  const bench = new RunPlayer(libraryMethod("phosphate-curve"), { curve });
  for (const replicate of [0, 1]) {
    const step = bench.until("read");
    bench.happen({ type: "read", replicate, step: step.id, raw: { kind: "number", value: signal } }, 1);
  }
  const [evidence] = evidenceOfRun("r", bench.finish().state);
  if (!evidence) throw new Error("A run has a result.");
  return { evidence, ...judgeAnalysis(evidence, defaultHouseRules) };
}

describe("the curve of a day", () => {
  it("makes absorbance of light that passes, and refuses no light at all", () => {
    // Source: A = −log10 T, definition.
    expect(absorbanceOf(10, "percent-transmittance")).toEqual({ ok: true, value: 1 });
    expect(absorbanceOf(0.3, "absorbance")).toEqual({ ok: true, value: 0.3 });
    expect(absorbanceOf(0, "percent-transmittance")).toMatchObject({ error: { code: "no-light" } });
  });

  it("is the same from absorbance and from the light that passes", () => {
    const light = straight.map((s) => ({ ...s, signal: 100 * 10 ** -s.signal }));
    const [a, b] = [dayCurve(straight, "absorbance"), dayCurve(light, "percent-transmittance")];
    if (!a.ok || !b.ok) throw new Error("Both are lines.");
    expect(a.value.slope).toBeCloseTo(0.2, 10);
    expect(b.value.slope).toBeCloseTo(0.2, 10);
    expect(b.value.intercept).toBeCloseTo(0.004, 10);
  });

  it("says what the fit refuses", () => {
    expect(dayCurve(straight.slice(0, 2), "absorbance")).toMatchObject({ error: { code: "too-few" } });
    const falling = straight.map((s) => ({ ...s, signal: -s.signal }));
    expect(dayCurve(falling, "absorbance")).toMatchObject({ error: { code: "not-rising" } });
  });

  it("gives the result in place of the method's own curve, with its interval in the working", () => {
    const { evidence, verdict, findings } = judged(straight, 0.164);
    expect(evidence.reported).toMatchObject({ kind: "value" });
    expect(evidence.reported?.kind === "value" && evidence.reported.value).toBeCloseTo(0.8, 9);
    expect(evidence.replicates[0]?.working[0]).toContain("4 standards up to 2");
    expect(evidence.replicates[0]?.working.at(-1)).toMatch(/^95 %: /);
    expect(verdict).toBe("sound");
    expect(findings.find((f) => f.rule === "curve")?.measured).toBe("100 %, 100 %, 100 %");
  });

  it("never goes beyond its top standard: the result is above it, and a dilution is asked for", () => {
    const { evidence, findings } = judged(straight, 0.5);
    expect(evidence.reported).toEqual({ kind: "above", limit: 2 });
    expect(findings.find((f) => f.rule === "over-range")?.action).toContain("Dilute");
  });

  it("reports less than what its scatter lets it tell from nothing", () => {
    const scattered = straight.map((s, i) => ({ ...s, signal: s.signal + (i % 2 ? 0.01 : -0.01) }));
    const fitted = dayCurve(scattered, "absorbance");
    if (!fitted.ok) throw new Error("It is a line.");
    const { evidence } = judged(scattered, 0.03);
    expect(evidence.reported).toEqual({ kind: "below", limit: fitted.value.detectionLimit });
  });

  it("carries a note when a standard does not come back, however straight the line looks", () => {
    const off = straight.map((s) => (s.concentration === 0.5 ? { ...s, signal: s.signal + 0.02 } : s));
    const { verdict, findings } = judged(off, 0.164);
    expect(verdict).toBe("qualified");
    expect(findings.find((f) => f.rule === "curve")?.sentence).toMatch(
      /^The standard of 0\.50* mg\/L comes back as 1\d\d %/,
    );
  });

  it("is not needed: the method's own curve is used without one", () => {
    const bench = new RunPlayer(libraryMethod("phosphate-curve")).play(0.8);
    const [evidence] = evidenceOfRun("r", bench.state);
    expect(evidence?.curve).toBeNull();
    expect(evidence?.replicates[0]?.working.join()).toContain("(A − a) / b");
  });
});
