import { describe, expect, it } from "vitest";
import { replay } from "../bench/event";
import { type Happening, libraryMethod, RunPlayer } from "../simulation/runPlayer";
import { runFolding } from "./run";
import { counted, currentReplicate, currentStep, isMeasured, outcomesOf, stepsLeft } from "./runState";

const refused = (bench: RunPlayer) => bench.replayed.refused.map((r) => r.code);
const titrated = { kind: "titrated" } as const;

/** A run of a shipped method, up to where it is read. */
function toRead(id: string, more: ConstructorParameters<typeof RunPlayer>[1] = {}) {
  const bench = new RunPlayer(libraryMethod(id), more);
  const step = bench.until("read").id;
  const happen = (event: object, after_s = 1) =>
    bench.happen({ replicate: 0, ...event } as Happening, after_s);
  return { bench, step, happen };
}

describe("a burette", () => {
  it("is read at the beginning and at the end, with refills between", () => {
    const { bench, step, happen } = toRead("oxygen-burette");
    happen({ type: "scale-start", value: 0.5 });
    happen({ type: "refill", before: 7, after: 0.1 });
    happen({ type: "scale-end", value: 1.6 });
    happen({ type: "read", step, raw: titrated });
    expect(refused(bench)).toEqual([]);
    expect(bench.state.replicates[0]?.volumes).toEqual({
      start: 0.5,
      refills: [{ before: 7, after: 0.1 }],
      end: 1.6,
    });
    expect(isMeasured(bench.state, 0)).toBe(true);
  });

  it.each([
    ["read at its end before its beginning", [{ type: "scale-end", value: 3 }], "not-read"],
    [
      "read at its beginning twice",
      [
        { type: "scale-start", value: 0 },
        { type: "scale-start", value: 1 },
      ],
      "already-done",
    ],
    [
      "that runs backwards",
      [
        { type: "scale-start", value: 5 },
        { type: "scale-end", value: 4.9 },
      ],
      "backwards",
    ],
    [
      "refilled from less than it stood at",
      [
        { type: "scale-start", value: 5 },
        { type: "refill", before: 4, after: 0 },
      ],
      "backwards",
    ],
    [
      "refilled after its end",
      [
        { type: "scale-start", value: 0 },
        { type: "scale-end", value: 4 },
        { type: "refill", before: 5, after: 0 },
      ],
      "already-done",
    ],
    [
      "whose end lies before its first end point",
      [
        { type: "scale-start", value: 0 },
        { type: "scale-first", value: 2 },
        { type: "scale-end", value: 1.9 },
      ],
      "backwards",
    ],
    [
      "whose first end point comes after a refill",
      [
        { type: "scale-start", value: 0 },
        { type: "refill", before: 4, after: 0 },
        { type: "scale-first", value: 2 },
      ],
      "not-its-turn",
    ],
    ["that counts drops", [{ type: "drop" }], "not-its-turn"],
    ["that takes points of pH", [{ type: "point", ml: 1, ph: 7 }], "not-its-turn"],
    ["read before anything was titrated", [{ type: "read", step: "titrate", raw: titrated }], "not-read"],
    [
      "read as a colour",
      [{ type: "read", step: "titrate", raw: { kind: "colour", scale: 0, step: 0, place: "at" } }],
      "wrong-kind",
    ],
  ])("%s is refused, and nothing changes but what came before", (_, events, code) => {
    const { bench, happen } = toRead("alkalinity-burette");
    const allowed = events.slice(0, -1);
    for (const event of allowed) happen(event);
    const before = bench.state;
    happen(events.at(-1) ?? {});
    expect(refused(bench)).toEqual([code]);
    expect(bench.state).toEqual(before);
  });

  it("that was brought back with more than it gave says so when it is read", () => {
    const { bench, step, happen } = toRead("oxygen-burette");
    happen({ type: "scale-start", value: 0 });
    happen({ type: "scale-end", value: 1 });
    happen({ type: "overshot", back_ml: 2 });
    happen({ type: "read", step, raw: titrated });
    expect(refused(bench)).toEqual(["backwards"]);
    happen({ type: "overshot", back_ml: 0.4 });
    happen({ type: "read", step, raw: titrated });
    expect(refused(bench)).toEqual(["backwards"]);
    expect(isMeasured(bench.state, 0)).toBe(true);
  });
});

describe("drops", () => {
  it("are counted one by one, and taken back as far as there are any", () => {
    const { bench, step, happen } = toRead("oxygen-drops");
    happen({ type: "drop-undone" });
    for (let i = 0; i < 8; i++) happen({ type: "drop" }, 0.2);
    happen({ type: "drop-undone" });
    expect(refused(bench)).toEqual(["nothing-to-undo"]);
    expect(bench.state.replicates[0]?.drops).toBe(7);
    happen({ type: "overshot", back_ml: 1.5 });
    expect(refused(bench)).toEqual(["nothing-to-undo", "not-whole"]);
    happen({ type: "read", step, raw: titrated });
    // The titration is over: no drop comes late.
    happen({ type: "drop" });
    expect(bench.state.replicates[0]?.drops).toBe(7);
  });
});

describe("steps", () => {
  it("come in their order, once, and are left out with a reason alone", () => {
    const bench = new RunPlayer(libraryMethod("phosphate-photometer"));
    const happen = (event: object) => bench.happen({ replicate: 0, ...event } as Happening, 1);
    happen({ type: "done", step: "add-powder" });
    happen({ type: "done", step: "nothing-like-it" });
    happen({ type: "skipped", step: "fill", reason: "filled already" });
    happen({ type: "done", step: "fill" });
    expect(refused(bench)).toEqual(["not-its-turn", "no-such-step", "already-done"]);
    expect(bench.state.replicates[0]?.steps.fill).toMatchObject({ skipped: "filled already" });
    expect(currentStep(bench.state, 0)?.id).toBe("zero");
  });

  it("that read are read, not done and not left out", () => {
    const { bench, step, happen } = toRead("phosphate-photometer");
    happen({ type: "done", step });
    happen({ type: "skipped", step, reason: "no time" });
    expect(refused(bench)).toEqual(["not-read", "not-read"]);
  });

  it("that rinse are ticked as often as the method asks", () => {
    const bench = new RunPlayer(libraryMethod("phosphate-photometer"));
    for (let i = 0; i < 4; i++) bench.happen({ type: "rinsed", replicate: 0, step: "fill" }, 1);
    bench.happen({ type: "done", replicate: 0, step: "fill", rinses: 9 }, 1);
    expect(refused(bench)).toEqual(["already-done"]);
    // What counts are the ticks, whatever was said of them.
    expect(bench.state.replicates[0]?.steps.fill?.rinses).toBe(3);
  });

  it("of a replicate that the run does not have are refused", () => {
    const bench = new RunPlayer(libraryMethod("phosphate-photometer"));
    bench.happen({ type: "done", replicate: 7, step: "fill" }, 1);
    expect(refused(bench)).toEqual(["no-such-replicate"]);
  });
});

describe("replicates", () => {
  /** Results of drops, one after the other, for as long as the run asks for them. */
  const dropped = (results: number[], more: ConstructorParameters<typeof RunPlayer>[1] = {}) => {
    const bench = new RunPlayer(libraryMethod("oxygen-burette"), more);
    for (const result of results) {
      const { state } = bench;
      if (!state.replicates.every((_, i) => isMeasured(state, i))) bench.read(result);
    }
    return bench;
  };

  it("that agree are as many as the method asks", () => {
    const { state } = dropped([8, 8.2]);
    expect(state.replicates).toHaveLength(2);
    expect(outcomesOf(state)[0]?.agreement.pair).toEqual([0, 1]);
  });

  it("that fall apart are titrated again from the kept sample, each bottle once more", () => {
    const first = dropped([8, 9]);
    expect(first.state.replicates).toHaveLength(3);
    // From where the sample is measured: it is fixed already.
    expect(first.until("do").id).toBe("measure");
    const all = dropped([8, 9, 10, 11, 12, 13]);
    expect(all.state.replicates).toHaveLength(4);
    expect(outcomesOf(all.state)[0]?.agreement.pair).toBeNull();
  });

  it("that fall apart are one more from the beginning where a third is asked for", () => {
    const { state } = dropped([8, 9, 10, 11, 12], { disagree: "third" });
    expect(state.replicates).toHaveLength(3);
    expect(state.replicates[2]?.from).toBe(0);
  });

  it("that fall apart stay so where only new water will do", () => {
    expect(dropped([8, 9, 8.5], { disagree: "resample" }).state.replicates).toHaveLength(2);
  });

  it("that are discarded are made good by others", () => {
    const { bench, happen } = toRead("oxygen-burette");
    happen({ type: "scale-start", value: 0 });
    happen({ type: "overshot", back_ml: null });
    expect(stepsLeft(bench.state, 0)).toEqual([]);
    expect(currentReplicate(bench.state)).toBe(1);
    bench.read(8);
    expect(bench.state.replicates).toHaveLength(3);
    bench.read(8.1);
    expect(counted(bench.state)).toHaveLength(2);
    expect(outcomesOf(bench.state)[0]?.found.map((f) => f.kind)).toEqual(["value", "value"]);
    bench.finish();
    expect(bench.state.status).toBe("finished");
  });
});

describe("a run", () => {
  it("is finished when every replicate is, and closed then", () => {
    const bench = new RunPlayer(libraryMethod("oxygen-burette"));
    bench.happen({ type: "finished" }, 1);
    expect(refused(bench)).toEqual(["not-complete"]);
    bench.play(8);
    expect(bench.state.status).toBe("finished");
    bench.happen({ type: "control", reacted: true }, 1);
    expect(refused(bench)).toEqual(["not-complete", "closed"]);
    // A note may come at any time.
    bench.happen({ type: "noted", text: "read by torchlight" }, 1);
    expect(bench.state.notes.map((n) => n.text)).toEqual(["read by torchlight"]);
  });

  it("begins once, and nothing happens before it", () => {
    const bench = new RunPlayer(libraryMethod("oxygen-burette"));
    const [started] = bench.events;
    if (started?.type !== "started") throw new Error("It began.");
    bench.happen({ ...started, id: undefined } as unknown as Happening, 1);
    expect(refused(bench)).toEqual(["already-started"]);
    const alone = replay([{ id: started.id, at: started.at, by: "p", type: "finished" }], runFolding);
    expect(alone.refused.map((r) => r.code)).toEqual(["not-started"]);
  });

  it("comes to the same in whatever order its events arrive", () => {
    const bench = new RunPlayer(libraryMethod("oxygen-drops")).play(7);
    const turned = replay([...bench.events].reverse(), runFolding);
    expect(turned.state).toEqual(bench.state);
    const twice = replay([...bench.events, ...bench.events], runFolding);
    expect(twice.state).toEqual(bench.state);
    expect(twice.refused).toEqual([]);
  });
});
