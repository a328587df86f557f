import { describe, expect, it } from "vitest";
import { replay } from "../bench/event";
import { runFolding } from "../runs/run";
import { slowFrom } from "../runs/slowDown";
import { libraryMethod, RunPlayer } from "../simulation/runPlayer";
import { first, refusedBy } from "../testing/judgedRuns";
import { evidenceOfRun } from "./runEvidence";

describe("a titration that was brought back", () => {
  it("takes what was added back from what was given", () => {
    const bench = new RunPlayer(libraryMethod("oxygen-drops"));
    bench.until("read");
    for (let i = 0; i < 9; i++) bench.happen({ type: "drop", replicate: 0 });
    bench.happen({ type: "overshot", replicate: 0, back_ml: 0.5 });
    bench.happen({ type: "overshot", replicate: 0, back_ml: 2 });
    bench.happen({ type: "read", replicate: 0, step: "titrate", raw: { kind: "titrated" } });
    expect(refusedBy(bench)).toEqual(["not-whole"]);
    const { evidence } = first(bench);
    expect(evidence.replicates[0]?.found).toEqual({ kind: "value", value: 7 });
    expect(evidence.replicates[0]?.working[0]).toBe("9 drops, 2 added back");
  });
});

describe("duplicates of oxygen", () => {
  const titrated = (...sizes_: number[]) => {
    const bench = new RunPlayer(libraryMethod("oxygen-syringe"));
    for (const size of sizes_) bench.read(size);
    return bench;
  };

  it("that agree report their mean", () => {
    const bench = titrated(8.0, 8.4).finish();
    const { evidence, verdict } = first(bench);
    expect(evidence.reported).toEqual({ kind: "value", value: 8.2 });
    expect(verdict).toBe("sound");
  });

  it("that disagree are titrated again from the same bottles, and then may agree", () => {
    const bench = titrated(8.0, 9.2);
    expect(bench.state.replicates.length).toBe(3);
    // A retest begins at the measuring, not at the river.
    expect(bench.state.method.steps[bench.state.replicates[2]?.from ?? 0]?.id).toBe("measure");
    const again = titrated(8.0, 9.2, 8.2).finish();
    expect(first(again).evidence).toMatchObject({ pair: [0, 2], reported: { kind: "value", value: 8.1 } });
    expect(first(again).verdict).toBe("sound");
  });

  it("count when any two of four agree", () => {
    const bench = titrated(7.0, 9.2, 8.1, 9.0).finish();
    expect(first(bench).evidence.pair).toEqual([1, 3]);
  });

  it("of which no two agree ask for new samples", () => {
    const bench = titrated(6.0, 9.2, 8.1, 7.1).finish();
    const { verdict, evidence, findings } = first(bench);
    expect(evidence.reported).toBeNull();
    expect(verdict).toBe("held");
    expect(findings.find((f) => f.rule === "duplicates")?.action).toContain("Collect new samples");
  });

  it("end at once where the house wants new water at once", () => {
    const bench = new RunPlayer(libraryMethod("oxygen-syringe"), { disagree: "resample" });
    bench.read(8).read(9.5);
    expect(bench.state.replicates.length).toBe(2);
  });

  it("by drops may be two drops apart, and three are too many", () => {
    const drops = (a: number, b: number) =>
      new RunPlayer(libraryMethod("oxygen-drops")).read(a).read(b).state.replicates.length;
    expect(drops(8, 10)).toBe(2);
    expect(drops(8, 11)).toBe(3);
  });
});

describe("a titration", () => {
  it("adds refills up", () => {
    const bench = new RunPlayer(libraryMethod("oxygen-syringe")).read(12.4);
    expect(bench.state.replicates[0]?.volumes.refills.length).toBe(1);
    expect(evidenceOfRun("r", bench.state)[0]?.replicates[0]?.found).toEqual({ kind: "value", value: 12.4 });
  });

  it("refuses a scale that goes back, and a reading without its end", () => {
    const bench = new RunPlayer(libraryMethod("oxygen-burette"));
    bench.until("read");
    bench
      .happen({ type: "scale-start", replicate: 0, value: 5 })
      .happen({ type: "scale-end", replicate: 0, value: 4 });
    expect(refusedBy(bench)).toEqual(["backwards"]);
    bench.happen({ type: "read", replicate: 0, step: "titrate", raw: { kind: "titrated" } });
    expect(refusedBy(bench)).toEqual(["backwards", "not-read"]);
  });

  it("of alkalinity with a first end point says what the alkalinity is made of", () => {
    const bench = new RunPlayer(libraryMethod("alkalinity-burette"));
    bench.until("read");
    bench.happen({ type: "scale-start", replicate: 0, value: 0 });
    bench.happen({ type: "scale-first", replicate: 0, value: 2 });
    bench.happen({ type: "scale-first", replicate: 0, value: 3 });
    bench.happen({ type: "scale-end", replicate: 0, value: 1 });
    expect(refusedBy(bench)).toEqual(["already-done", "backwards"]);
    bench.happen({ type: "scale-end", replicate: 0, value: 10 });
    bench.happen({ type: "read", replicate: 0, step: "titrate", raw: { kind: "titrated" } });
    // P 20 and T 100 mg/L: carbonate 40, bicarbonate 60 (Standard Methods 2320, table 2320:II).
    expect(evidenceOfRun("r", bench.state)[0]?.replicates[0]?.working.at(-1)).toBe(
      "hydroxide 0, carbonate 40.00, bicarbonate 60.00 mg/L CaCO3",
    );
  });

  it("counts two hundred drops, one by one, and takes back what was too much", () => {
    const bench = new RunPlayer(libraryMethod("oxygen-drops"));
    bench.until("read");
    for (let i = 0; i < 203; i++) bench.happen({ type: "drop", replicate: 0 }, 0.1);
    for (let i = 0; i < 3; i++) bench.happen({ type: "drop-undone", replicate: 0 });
    expect(bench.state.replicates[0]?.drops).toBe(200);
    const twice = replay([...bench.events, ...bench.events], runFolding);
    expect(twice.state?.replicates[0]?.drops).toBe(200);
  });

  it("says slow down in the last tenth", () => {
    const bench = new RunPlayer(libraryMethod("oxygen-drops"), { expected: 10 });
    bench.until("read");
    expect(slowFrom(bench.state, 0)).toBeCloseTo(9);
  });

  it("says slow down before the end of the first replicate, its blank and refills taken into account", () => {
    const bench = new RunPlayer(libraryMethod("chloride-burette"), {
      expected: 30,
      dilution: 1,
      blank_ml: 0.3,
    });
    bench.until("read");
    // 30 mg/L are 30 · 100 / (0.0141 · 35 450) = 6.002 mL, and 0.3 mL of blank.
    expect(slowFrom(bench.state, 0)).toBeCloseTo(0.9 * (0.3 + 3000 / (0.0141 * 35_450)), 6);
    bench.happen({ type: "scale-start", replicate: 0, value: 1 }, 5);
    bench.happen({ type: "refill", replicate: 0, before: 5, after: 0 }, 5);
    bench.happen({ type: "scale-end", replicate: 0, value: 2 }, 5);
    const step = bench.until("read");
    bench.happen({ type: "read", replicate: 0, step: step.id, raw: { kind: "titrated" } }, 5);
    bench.until("read");
    expect(slowFrom(bench.state, 1)).toBeCloseTo(0.9 * 6);
    expect(slowFrom(new RunPlayer(libraryMethod("phosphate-photometer")).state, 0)).toBeNull();
  });

  it("that was overshot is discarded and repeated, or brought back with a note", () => {
    const bench = new RunPlayer(libraryMethod("oxygen-drops")).read(8);
    bench.until("read");
    bench.happen({ type: "overshot", replicate: 1, back_ml: null });
    expect(bench.state.replicates.length).toBe(3);
    bench.read(9).finish();
    const { evidence } = first(bench);
    expect(evidence.replicates.map((r) => r.discarded)).toEqual([false, true, false]);
    expect(evidence.reported).toEqual({ kind: "value", value: 8.5 });
  });
});
