import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { methodLibrary } from "../methods/library";
import type { Method } from "../methods/method";
import type { Raw } from "../methods/raw";
import { defaultHouseRules } from "../rules/houseRules";
import { currentReplicate, type RunState } from "../runs/runState";
import { nextPoint, simulatedWater } from "./acidTitration";
import { photometerDisplay, simulatedSample } from "./photometer";
import { canPractise, practiceStart, practisedResults } from "./practiceRun";
import { endOf, type PracticeWater, practiceWater, smallestDose, tipAt } from "./practiceWater";
import { libraryMethod, RunPlayer } from "./runPlayer";

const practised = methodLibrary.filter(canPractise);
const { data: _, ...others } = defaultHouseRules;
const rules = { ...others, data: "own" as const };

/** Someone who sees well and keeps every wait, so many doses after the end point of a titration. */
class Practiser extends RunPlayer {
  readonly water: PracticeWater;
  constructor(
    method: Method,
    readonly seed: string,
  ) {
    super(method, practiceStart(method, rules, { id: "", at: "", by: "" }));
    this.water = practiceWater(method, seed);
  }

  practise(late = 0): this {
    while (this.reading) {
      const step = this.until("read");
      const replicate = currentReplicate(this.state);
      this.titrate(replicate, late);
      const raw = this.look(step.kind === "read" ? step.pad : null);
      this.happen({ type: "read", replicate, step: step.id, raw }, 1);
    }
    return this;
  }

  private get reading(): boolean {
    const { replicates, method } = this.state;
    return replicates.some((own) => method.steps.some((s) => s.kind === "read" && !(s.id in own.reads)));
  }

  private titrate(replicate: number, late: number): void {
    const { method } = this.state;
    const { measure } = method;
    if (measure.technique === "ph-endpoint") {
      const water = simulatedWater(this.seed, measure.sample_ml, measure.strength);
      for (;;) {
        const next = nextPoint(water, this.state.replicates[replicate]?.points ?? []);
        if (!next) return;
        this.happen({ type: "point", replicate, ...next, simulated: true }, 1);
      }
    }
    const used = this.toEnd(this.state, late);
    if (used === null || measure.technique === "digits") return;
    if (measure.technique === "drops") {
      for (let i = 0; i < used; i++) this.happen({ type: "drop", replicate }, 1);
      return;
    }
    this.happen({ type: "scale-start", replicate, value: 0 }, 1);
    const full = measure.technique === "syringe" ? measure.full : Number.POSITIVE_INFINITY;
    if (used > full) this.happen({ type: "refill", replicate, before: full, after: 0 }, 1);
    this.happen({ type: "scale-end", replicate, value: used > full ? used - full : used }, 1);
  }

  private toEnd(state: RunState, late: number): number | null {
    const end = endOf(state, this.water.held[state.method.result.parameter] ?? 0);
    const dose = smallestDose(state.method);
    return end === null ? null : Math.max(0, Math.ceil(end / dose - 1e-6) + late) * dose;
  }

  private look(pad: string | null): Raw {
    const { method } = this.state;
    const { measure, result } = method;
    const held = this.water.held[result.parameter] ?? 0;
    switch (measure.technique) {
      case "strip": {
        const own = measure.pads.find((p) => p.key === pad);
        return colourOf(own?.steps ?? [], this.water.held[own?.parameter ?? ""] ?? 0, 0);
      }
      case "comparator": {
        const scale = measure.scales.findIndex((s) => (s.steps.at(-1)?.value ?? 0) >= held);
        return colourOf(measure.scales[scale]?.steps ?? [], held, scale);
      }
      case "capillary":
        return { kind: "divisions", value: Math.round(tipAt(measure.table, held) * 10) / 10 };
      case "digits":
        return { kind: "number", value: this.toEnd(this.state, 0) ?? 0 };
      case "visual":
        return measure.kind === "two-depths"
          ? { kind: "depths", disappears: held + 1, reappears: held - 1 }
          : measure.kind === "height"
            ? { kind: "height", value: held, bottom: false }
            : { kind: "number", value: Math.round(held / measure.factor) };
      case "photometer":
      case "photometer-curve":
        return {
          kind: "number",
          value: photometerDisplay(
            method,
            simulatedSample(this.seed, method.range),
            { zeroed: true },
            this.seed,
            0,
          ),
        };
      default:
        return { kind: "titrated" };
    }
  }
}

function colourOf(steps: readonly { value: number }[], held: number, scale: number): Raw {
  const step = steps.findLastIndex((s) => s.value <= held);
  return { kind: "colour", scale, step, place: "between" };
}

describe("a practised run", () => {
  it("finds what the water held, whatever the method, where it is done with care", () => {
    for (const method of practised)
      fc.assert(
        fc.property(fc.integer({ min: 1, max: 999_999 }), (n) => {
          const run = new Practiser(method, `seed ${n}`).practise().finish();
          for (const result of practisedResults(run.state, run.water, rules)) {
            const { held, found } = result;
            expect(
              result.near,
              `${method.id}, ${result.result.parameter}: ${JSON.stringify({ held, found })}`,
            ).toBe(true);
            expect(result.ends.every((end) => end.doses === 0)).toBe(true);
            expect(
              result.verdict,
              `${method.id}: ${JSON.stringify(result.findings.filter((f) => f.severity !== "ok"))}`,
            ).toBe("sound");
          }
        }),
        { seed: 3, numRuns: 6 },
      );
  });

  it("says how many doses past the end point a titration went, and how far off that is", () => {
    for (const [id, late, per_dose] of [
      ["oxygen-drops", 3, 1],
      ["oxygen-syringe", 7, 0.1],
    ] as const) {
      const run = new Practiser(libraryMethod(id), "late").practise(late).finish();
      const [result] = practisedResults(run.state, run.water, rules);
      expect(result?.ends.map((end) => end.doses)).toEqual([late, late]);
      expect(result?.off).toBeGreaterThanOrEqual((late - 1e-6) * per_dose);
      expect(result?.near).toBe(false);
    }
  });

  it("counts a titration that stopped early as so many doses too few", () => {
    const run = new Practiser(libraryMethod("oxygen-drops"), "early").practise(-4).finish();
    const [result] = practisedResults(run.state, run.water, rules);
    expect(result?.ends[0]).toMatchObject({ replicate: 0, doses: -4 });
    expect(result?.off).toBeLessThan(-2);
  });

  it("takes a colour for near up to the middle of the gap beside its step, and no further", () => {
    const method = libraryMethod("oxygen-ampoule");
    const at = (step: number, place: "at" | "between" | "below" | "above", held: number) => {
      const run = new RunPlayer(method);
      const read = run.until("read");
      run
        .happen({ type: "read", replicate: 0, step: read.id, raw: { kind: "colour", scale: 0, step, place } })
        .finish();
      return practisedResults(run.state, { seed: "x", held: { oxygen: held } }, rules)[0];
    };
    // The scale goes 4, 5, 6, 8, 10.
    expect(at(6, "at", 6.9)).toMatchObject({ near: true, off: expect.closeTo(-0.9, 9) });
    expect(at(6, "at", 7.1)?.near).toBe(false);
    expect(at(6, "at", 5.4)?.near).toBe(false);
    expect(at(6, "between", 6)).toMatchObject({ near: true, off: 0 });
    expect(at(6, "between", 5.8)?.near).toBe(true);
    expect(at(6, "between", 5.5)?.near).toBe(false);
    expect(at(9, "above", 11)?.near).toBe(false);
  });

  it("is judged as a real one would be: a wait that was not kept is said", () => {
    const method = libraryMethod("oxygen-ampoule");
    const wait = method.steps.find((s) => s.kind === "wait");
    const run = new RunPlayer(method, { lots: [] });
    const read = run.until("read");
    run.clock -= (wait?.kind === "wait" ? wait.seconds : 0) * 900;
    run
      .happen({
        type: "read",
        replicate: 0,
        step: read.id,
        raw: { kind: "colour", scale: 0, step: 6, place: "at" },
      })
      .finish();
    const [result] = practisedResults(run.state, { seed: "x", held: { oxygen: 6 } }, rules);
    expect(result?.verdict).not.toBe("sound");
    expect(result?.findings.some((f) => f.rule.includes("early") || f.sentence.includes("early"))).toBe(true);
  });

  it("has no result where nothing was read", () => {
    const run = new RunPlayer(libraryMethod("oxygen-drops"));
    const [result] = practisedResults(run.state, practiceWater(libraryMethod("oxygen-drops"), "none"), rules);
    expect(result).toMatchObject({ found: null, off: null, near: false, ends: [] });
  });
});
