import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { replay } from "../bench/event";
import { methodLibrary } from "../methods/library";
import type { MethodStep } from "../methods/method";
import type { Raw } from "../methods/raw";
import { defaultHouseRules, type HouseRules } from "../rules/houseRules";
import { runFolding } from "../runs/run";
import { type RunEvent, runEventSchema } from "../runs/runEvents";
import { currentReplicate } from "../runs/runState";
import { runningWaits, timingsOf } from "../runs/timing";
import { libraryMethod, RunPlayer, testId } from "../simulation/runPlayer";
import { demoRules, first, judged, refusedBy } from "../testing/judgedRuns";
import { judgeAnalysis } from "./judgeAnalysis";
import { evidenceOfRun } from "./runEvidence";

/** A size that every method of the library can read. */
const sizes: Record<string, number> = {
  "phosphate-photometer": 0.8,
  "phosphate-curve": 0.8,
  "nitrate-curve": 0.8,
  "phosphate-ampoule": 0.6,
  "phosphate-tube": 0.2,
  "nitrate-tube": 2,
  "ammonia-iodomercurate": 0.8,
  "ammonia-salicylate": 0.4,
  "chloride-capillary": 3.4,
  "chloride-burette": 50,
  "hardness-burette": 200,
  "hardness-digits": 150,
  "alkalinity-burette": 120,
  "alkalinity-curve": 120,
  "alkalinity-photometer": 120,
  "conductivity-meter": 600,
  "redox-meter": 200,
  "temperature-meter": 14,
  "transparency-tube": 60,
  "secchi-disc": 180,
  "turbidity-column": 20,
  "ph-meter": 7.4,
  "ph-vial": 7,
};

describe("every method of the library", () => {
  it.each(methodLibrary.map((m) => [m.id] as const))(
    "%s runs from its first step to a judged result",
    (id) => {
      const bench = new RunPlayer(libraryMethod(id)).play(sizes[id] ?? 8);
      // What was recorded can be read back as it would come from a file or another device.
      const recorded = (JSON.parse(JSON.stringify(bench.events)) as unknown[]).map((e) =>
        runEventSchema.parse(e),
      );
      const { state, refused } = replay(recorded, runFolding);
      expect(refused).toEqual([]);
      expect(state?.status).toBe("finished");
      for (const { evidence, verdict, findings } of judged(bench)) {
        expect(evidence.reported, id).not.toBeNull();
        expect(verdict, JSON.stringify(findings.filter((f) => f.severity !== "ok"))).toBe("sound");
        expect(evidence.replicates[0]?.working.length).toBeGreaterThan(0);
      }
    },
  );
});

describe("what ships and is the demo's own", () => {
  const invented = methodLibrary.filter((m) => m.provenance.kind === "invented for the demo");

  it.each(invented.map((m) => [m.id]))("%s never gives a sound result in real records", (id) => {
    const bench = new RunPlayer(libraryMethod(id)).play(sizes[id] ?? 8);
    for (const { verdict, findings } of judged(bench, defaultHouseRules)) {
      expect(verdict).not.toBe("sound");
      expect(findings.find((f) => f.rule === "invented-scale")?.sentence).toContain(
        "is the demo's: enter your kit's.",
      );
    }
  });

  it("a method that is published or common practice is sound all the same", () => {
    const bench = new RunPlayer(libraryMethod("oxygen-burette")).play(8);
    expect(first(bench, defaultHouseRules).verdict).toBe("sound");
  });
});

describe("a result without a value", () => {
  const pads = (raw: Raw) => {
    const bench = new RunPlayer(libraryMethod("nitrate-tube"));
    bench.until("read");
    bench.happen({ type: "read", replicate: 0, step: "compare", raw });
    return bench;
  };
  const look = (step: number): Raw => ({ kind: "colour", scale: 0, step, place: "at" });

  it("is never sound: an agreed or second look of another kind is refused like a first one", () => {
    const bench = pads(look(2));
    const wrong: Raw = { kind: "number", value: 7 };
    bench.happen({ type: "second-look", replicate: 0, step: "compare", raw: wrong, observer: "Idris" });
    bench.happen({ type: "second-look", replicate: 0, step: "compare", raw: look(3), observer: "Idris" });
    bench.happen({ type: "agreed", replicate: 0, step: "compare", raw: wrong });
    bench.happen({ type: "agreed", replicate: 0, step: "compare", raw: look(99) });
    expect(refusedBy(bench)).toEqual(["wrong-kind", "wrong-kind", "no-such-step"]);
  });

  it("a step called __proto__ is no step", () => {
    const bench = pads(look(2));
    bench.happen({ type: "second-look", replicate: 0, step: "__proto__", raw: look(2), observer: "Idris" });
    expect(refusedBy(bench)).toEqual(["not-read"]);
  });

  it("is held with the reason, whatever else is fine", () => {
    const { evidence } = first(new RunPlayer(libraryMethod("nitrate-tube")).play(2));
    const none = { ...evidence, reported: null };
    const { verdict, findings } = judgeAnalysis(none, demoRules);
    expect(verdict).toBe("held");
    expect(findings.map((f) => f.rule)).toContain("no-result");
  });
});

describe("how long a sample keeps", () => {
  it("is judged from when the water was taken to when it was measured", () => {
    const { evidence } = first(new RunPlayer(libraryMethod("nitrate-tube")).play(2));
    const waited = (minutes: number) => ({
      ...evidence,
      collected_at: new Date(Date.parse(evidence.measured_at) - minutes * 60_000).toISOString(),
    });
    const keeps = evidence.method.keeps_min ?? Number.NaN;
    expect(judgeAnalysis(waited(keeps), demoRules).verdict).toBe("sound");
    const late = judgeAnalysis(waited(keeps + 1), demoRules);
    expect(late.verdict).toBe("qualified");
    expect(late.findings.find((f) => f.rule === "holding-time")?.severity).toBe("qualify");
  });
});

describe("a two-pad strip", () => {
  const strip = () =>
    new RunPlayer(libraryMethod("nitrite-nitrate-strip"))
      .happen({ type: "done", replicate: 0, step: "fill" }, 20)
      .happen({ type: "done", replicate: 0, step: "ready" }, 1)
      .happen({ type: "done", replicate: 0, step: "dip" }, 5);
  const read = (step: string) =>
    ({ type: "read", replicate: 0, step, raw: { kind: "colour", scale: 0, step: 1, place: "at" } }) as const;

  it("starts both clocks with one tap", () => {
    const bench = strip();
    expect(runningWaits(bench.state).map((w) => [w.step.id, (w.due - bench.clock) / 1000])).toEqual([
      ["wait-nitrite", 30],
      ["wait-nitrate", 60],
    ]);
  });

  it("is on time at 30 and 60 s", () => {
    const bench = strip().happen(read("read-nitrite"), 30).happen(read("read-nitrate"), 30);
    expect(timingsOf(bench.state).every((t) => t.early_s === 0 && t.late_s === 0)).toBe(true);
  });

  it("is late by 11 s at 41 s, judged so, and the other pad is not blamed", () => {
    const bench = strip().happen(read("read-nitrite"), 41).happen(read("read-nitrate"), 19).finish();
    const [nitrite, nitrate] = judged(bench);
    expect(nitrite?.verdict).toBe("qualified");
    expect(nitrite?.findings.find((f) => f.rule === "read-late")?.sentence).toBe(
      "Reading nitrite was late by 11 s.",
    );
    expect(nitrate?.verdict).toBe("sound");
  });

  it("is early before its window", () => {
    const bench = strip().happen(read("read-nitrite"), 20);
    expect(timingsOf(bench.state)[0]?.early_s).toBe(10);
  });

  it("takes a printed step 0 for less than the first that is not", () => {
    const bench = strip()
      .happen({ ...read("read-nitrite"), raw: { kind: "colour", scale: 0, step: 0, place: "at" } }, 30)
      .happen({ ...read("read-nitrate"), raw: { kind: "colour", scale: 0, step: 3, place: "between" } }, 30);
    const [nitrite, nitrate] = evidenceOfRun("r", bench.state);
    expect(nitrite?.reported).toEqual({ kind: "below", limit: 0.15 });
    expect(nitrate?.reported).toEqual({ kind: "interval", low: 5, high: 10 });
  });
});

describe("a cold sample", () => {
  it("waits longer: twice at 10 °C, never more than four times", () => {
    const due = (temperature_c: number) => {
      const bench = new RunPlayer(libraryMethod("phosphate-photometer"), { temperature_c });
      bench.until("mix");
      bench.happen({ type: "done", replicate: 0, step: "shake" }, 1);
      return ((runningWaits(bench.state)[0]?.due ?? 0) - bench.clock) / 1000;
    };
    expect(due(20)).toBe(120);
    expect(due(10)).toBe(240);
    expect(due(-5)).toBe(480);
  });

  it("is said to be too cold for the method", () => {
    const bench = new RunPlayer(libraryMethod("phosphate-photometer"), { temperature_c: 6 }).play(0.8);
    expect(first(bench).findings.find((f) => f.rule === "sample-temperature")?.severity).toBe("qualify");
  });
});

describe("what is beyond the range", () => {
  it("is over range, asks for a dilution, and the factor counts once", () => {
    const over = new RunPlayer(libraryMethod("phosphate-photometer")).play(3.2);
    expect(first(over)).toMatchObject({
      verdict: "held",
      evidence: { reported: { kind: "above", limit: 2 } },
    });
    const diluted = new RunPlayer(libraryMethod("phosphate-photometer"), { dilution: 5, dilutes: "r" }).play(
      0.64,
    );
    expect(first(diluted).evidence.reported).toEqual({ kind: "value", value: 3.2 });
  });

  /** Every reading of a run the same, as `rawOf` makes it. */
  const playWith = (id: string, rawOf: (step: MethodStep) => Raw): RunPlayer => {
    const method = libraryMethod(id);
    const bench = new RunPlayer(method);
    const count = method.replicates * method.steps.filter((s) => s.kind === "read").length;
    for (let i = 0; i < count; i++) {
      const step = bench.until("read");
      const replicate = currentReplicate(bench.state);
      bench.happen({ type: "read", replicate, step: step.id, raw: rawOf(step) });
    }
    return bench.finish();
  };
  const darkest = (id: string) =>
    playWith(id, (step) => {
      const { measure } = libraryMethod(id);
      const scale =
        measure.technique === "strip"
          ? measure.pads.find((p) => step.kind === "read" && p.key === step.pad)
          : measure.technique === "comparator"
            ? measure.scales[0]
            : undefined;
      return { kind: "colour", scale: 0, step: (scale?.steps.length ?? 1) - 1, place: "above" };
    });
  const advice = (bench: RunPlayer, parameter: string) =>
    judged(bench)
      .find((j) => j.evidence.result.parameter === parameter)
      ?.findings.find((f) => f.rule === "over-range")?.action;

  it.each([
    ["oxygen-ampoule", "oxygen"],
    ["ph-strip", "ph"],
    ["four-pad-strip", "ph"],
  ])("of %s asks for another method, where a dilution would change the %s", (id, parameter) => {
    expect(advice(darkest(id), parameter)).toContain("a wider range");
  });

  it("on a pad beside the pH asks for a dilution all the same", () => {
    expect(advice(darkest("four-pad-strip"), "hardness")).toContain("Dilute the sample");
  });

  it.each(["transparency-tube", "secchi-disc"])("of %s is an answer, and a sound one", (id) => {
    const bench = playWith(id, () => ({ kind: "height", value: 120, bottom: true }));
    expect(first(bench)).toMatchObject({
      verdict: "sound",
      evidence: { reported: { kind: "above", limit: 120 } },
    });
  });

  it("is less than the limit, never zero", () => {
    const under = new RunPlayer(libraryMethod("phosphate-photometer")).play(0.01);
    expect(first(under)).toMatchObject({
      verdict: "sound",
      evidence: { reported: { kind: "below", limit: 0.05 } },
    });
  });
});

describe("house rules of analyses", () => {
  const strict: HouseRules = {
    ...demoRules,
    analysis: { ...demoRules.analysis, positive_control: true, second_look: "blind" },
  };

  it("hold “not detected” until a known addition has reacted", () => {
    const bench = new RunPlayer(libraryMethod("phosphate-photometer")).play(0.01);
    expect(first(bench, strict).verdict).toBe("held");
    const control = (reacted: boolean) => {
      const run = new RunPlayer(libraryMethod("phosphate-photometer"))
        .happen({ type: "control", reacted })
        .play(0.01);
      return first(run, strict).verdict;
    };
    expect([control(true), control(false)]).toEqual(["sound", "held"]);
  });

  it("ask for a second, blind look, and for agreement when it differs", () => {
    const looked = (second: number | null, agreed: number | null) => {
      const bench = new RunPlayer(libraryMethod("oxygen-ampoule")).read(8);
      const colour = (step: number) => ({ kind: "colour", scale: 0, step, place: "at" }) as const;
      const base = { replicate: 0, step: "compare" };
      if (second !== null)
        bench.happen({ type: "second-look", ...base, raw: colour(second), observer: "Ines" });
      if (agreed !== null) bench.happen({ type: "agreed", ...base, raw: colour(agreed) });
      return first(bench.finish(), strict);
    };
    expect(looked(null, null).verdict).toBe("qualified");
    expect(looked(7, null).verdict).toBe("sound");
    expect(looked(8, null).verdict).toBe("held");
    expect(looked(8, 8)).toMatchObject({ verdict: "sound", evidence: { reported: { value: 10 } } });
  });

  it("note a lot that has expired, one that nobody named, and a step left out", () => {
    const lot = {
      material: "powder",
      name: "Phosphate reagent powder",
      code: "P-9",
      expires_on: "2026-01-31",
      reason: "No other here.",
    };
    const bench = new RunPlayer(libraryMethod("phosphate-photometer"), { lots: [lot] }).play(0.8);
    expect(first(bench).findings.find((f) => f.rule === "lot-expired")?.sentence).toContain("No other here.");
    const doubted = { ...lot, expires_on: "2027-01-31", reason: "Both are numbered alike." };
    const kept = new RunPlayer(libraryMethod("phosphate-photometer"), { lots: [doubted] }).play(0.8);
    expect(first(kept)).toMatchObject({ verdict: "qualified" });
    expect(first(kept).findings.find((f) => f.rule === "lot-questioned")?.sentence).toContain(
      "numbered alike",
    );
    const nameless = new RunPlayer(libraryMethod("phosphate-photometer"), { lots: [] });
    nameless.happen({ type: "skipped", replicate: 0, step: "fill", reason: "Filled before." }).play(0.8);
    expect(
      first(nameless)
        .findings.filter((f) => f.severity === "qualify")
        .map((f) => f.rule),
    ).toEqual(["step-skipped", "lot-missing"]);
  });
});

describe("the fold of a run", () => {
  const played = (id: string) => new RunPlayer(libraryMethod(id)).play(sizes[id] ?? 8).events;

  it("gives the same state for any order of arrival and any duplication", () => {
    fc.assert(
      fc.property(
        fc.constantFrom(
          "oxygen-drops",
          "nitrite-nitrate-strip",
          "phosphate-photometer",
          "alkalinity-curve",
          "oxygen-burette",
        ),
        fc.infiniteStream(fc.nat()),
        (id, numbers) => {
          const events = played(id);
          const shuffled = [...events, ...events.filter((_, i) => i % 3 === 0)]
            .map((event) => ({ event, key: numbers.next().value as number }))
            .sort((a, b) => a.key - b.key)
            .map(({ event }) => event);
          expect(replay(shuffled, runFolding).state).toEqual(replay(events, runFolding).state);
        },
      ),
      { numRuns: 60 },
    );
  });

  it("refuses what cannot happen with a reason, and it changes nothing", () => {
    const nonsense: ((n: number) => Record<string, unknown>)[] = [
      () => ({ type: "done", replicate: 0, step: "no-such-step" }),
      () => ({ type: "done", replicate: 9, step: "fill" }),
      () => ({ type: "drop", replicate: 7 }),
      () => ({ type: "scale-end", replicate: 0, value: 3 }),
      () => ({ type: "finished" }),
      () => ({
        type: "started",
        ...Object.fromEntries(
          Object.entries(played("oxygen-drops")[0] ?? {}).filter(
            ([k]) => !["id", "at", "by", "type"].includes(k),
          ),
        ),
      }),
      () => ({
        type: "second-look",
        replicate: 0,
        step: "titrate",
        raw: { kind: "titrated" },
        observer: "x",
      }),
    ];
    fc.assert(
      fc.property(fc.nat({ max: 30 }), fc.constantFrom(...nonsense), (place, make) => {
        const events = played("oxygen-drops");
        const cut = events.slice(0, 1 + (place % (events.length - 2)));
        const at = cut.at(-1)?.at ?? "";
        const wrong = { ...make(place), id: testId(9999), at, by: "p" } as RunEvent;
        const [before, after] = [replay(cut, runFolding), replay([...cut, wrong], runFolding)];
        expect(after.refused.map((r) => r.event.id)).toEqual([wrong.id]);
        expect(after.refused[0]?.message.length).toBeGreaterThan(10);
        expect(after.state).toEqual(before.state);
      }),
      { numRuns: 100 },
    );
  });
});
