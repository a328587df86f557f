import { describe, expect, it } from "vitest";
import { libraryMethod, RunPlayer } from "../simulation/runPlayer";
import { endedAt, runningWaits, sequel, timingsOf, waitBefore } from "./timing";

const at = (iso: string) => Date.parse(iso);
const look = (step: number) => ({ kind: "colour", scale: 0, step, place: "at" }) as const;

/** A strip whose pads are read 30 and 60 s after the dip, each within 5 s. */
const dipped = () =>
  new RunPlayer(libraryMethod("nitrite-nitrate-strip"))
    .happen({ type: "rinsed", replicate: 0, step: "fill" }, 1)
    .happen({ type: "done", replicate: 0, step: "fill" }, 1)
    .happen({ type: "done", replicate: 0, step: "ready" }, 1)
    .happen({ type: "done", replicate: 0, step: "dip" }, 1);
const readNitrite = (after_s: number) =>
  dipped().happen({ type: "read", replicate: 0, step: "read-nitrite", raw: look(1) }, after_s);

describe("the clocks of a strip", () => {
  it("are two from one dip, each for its own pad", () => {
    const { state, clock } = dipped();
    const waits = runningWaits(state);
    expect(waits.map((w) => [w.target.id, (w.due - clock) / 1000])).toEqual([
      ["read-nitrite", 30],
      ["read-nitrate", 60],
    ]);
    expect(waits.map((w) => [(w.opens - w.due) / 1000, ((w.closes ?? 0) - w.due) / 1000])).toEqual([
      [-5, 5],
      [-5, 5],
    ]);
  });

  it("stop one after the other, as each pad is read", () => {
    const bench = readNitrite(30);
    expect(runningWaits(bench.state).map((w) => w.target.id)).toEqual(["read-nitrate"]);
    bench.happen({ type: "read", replicate: 0, step: "read-nitrate", raw: look(1) }, 30);
    expect(runningWaits(bench.state)).toEqual([]);
  });

  it("do not run before the dip, nor in a run that was given up", () => {
    const player = new RunPlayer(libraryMethod("nitrite-nitrate-strip"));
    expect(runningWaits(player.state)).toEqual([]);
    const given = dipped().happen({ type: "abandoned", reason: "dropped it" }, 3);
    expect(runningWaits(given.state)).toEqual([]);
  });

  it("hold back the step that they are for, and no other", () => {
    const { state } = dipped();
    const step = (id: string) => {
      const found = state.method.steps.find((s) => s.id === id);
      if (!found) throw new Error(id);
      return found;
    };
    expect(waitBefore(state, 0, step("read-nitrite"))?.step.id).toBe("wait-nitrite");
    expect(waitBefore(state, 0, step("fill"))).toBeNull();
  });

  it.each([
    [25, 0, 0],
    [30, 0, 0],
    [35, 0, 0],
    // A moment is a second: half of one more is on time still.
    [35.4, 0, 0],
    [36, 0, 6],
    [41, 0, 11],
    [24.6, 0, 0],
    [24, 6, 0],
    [20, 10, 0],
  ])("read at %s s are early by %s s and late by %s s", (after, early, late) => {
    const [timing] = timingsOf(readNitrite(after).state);
    expect(timing).toMatchObject({ replicate: 0, due_s: 30, early_s: early, late_s: late });
    expect(timing?.after_s).toBeCloseTo(after, 6);
  });

  it("say nothing of a pad that is not read yet", () => {
    expect(timingsOf(readNitrite(30).state).map((t) => t.target.id)).toEqual(["read-nitrite"]);
    expect(timingsOf(dipped().state)).toEqual([]);
  });
});

describe("the clock of a colour that develops", () => {
  /** Shaken and left to stand for at least 2 and at most 10 minutes, longer in the cold. */
  const shaken = (temperature_c: number | null) => {
    const player = new RunPlayer(libraryMethod("phosphate-photometer"), { temperature_c });
    player.until("mix");
    return player.happen({ type: "done", replicate: 0, step: "shake" }, 15);
  };
  const waitOf = (temperature_c: number | null) => {
    const { state, clock } = shaken(temperature_c);
    const [wait] = runningWaits(state);
    if (!wait) throw new Error("No clock runs.");
    const seconds = (ms: number | null) => (ms === null ? null : (ms - clock) / 1000);
    return { due: seconds(wait.due), opens: seconds(wait.opens), closes: seconds(wait.closes) };
  };

  it("is a least time: it opens when it is due, and closes when the colour fades", () => {
    expect(waitOf(20)).toEqual({ due: 120, opens: 120, closes: 600 });
    expect(waitOf(25)).toEqual({ due: 120, opens: 120, closes: 600 });
    expect(waitOf(null)).toEqual({ due: 120, opens: 120, closes: 600 });
  });

  it("is twice as long for ten degrees less, and at most four times", () => {
    // Source: common practice, a rule of thumb.
    expect(waitOf(10).due).toBeCloseTo(240, 6);
    expect(waitOf(0).due).toBeCloseTo(480, 6);
    expect(waitOf(-5).due).toBeCloseTo(480, 6);
    // It never closes before it is due.
    expect(waitOf(0).closes).toBe(600);
  });

  it("counts as early what was read before, and as late only what was read after it faded", () => {
    const read = (after_s: number) => {
      const player = shaken(20);
      const step = player.state.method.steps.find((s) => s.kind === "read")?.id ?? "";
      player.happen({ type: "read", replicate: 0, step, raw: { kind: "number", value: 0.5 } }, after_s);
      return timingsOf(player.state)[0];
    };
    expect(read(60)).toMatchObject({ early_s: 60, late_s: 0 });
    expect(read(300)).toMatchObject({ early_s: 0, late_s: 0 });
    expect(read(630)).toMatchObject({ early_s: 0, late_s: 30 });
  });
});

describe("a step that is done once", () => {
  it("is ended for every replicate when one has done it", () => {
    const player = new RunPlayer(libraryMethod("phosphate-photometer"));
    player.until("add");
    const { state } = player;
    const blank = state.method.steps.find((s) => s.kind === "blank");
    const own = state.replicates[1];
    if (!blank || !own) throw new Error("Two replicates and a blank.");
    const done = endedAt(state, own, { ...blank, once: true });
    expect(done && at(done)).toBeGreaterThan(at(state.started_at));
    expect(endedAt(state, own, { ...blank, once: false })).toBeNull();
  });
});

it("a wait is for the next step that is none", () => {
  const method = libraryMethod("nitrite-nitrate-strip");
  const waits = method.steps.flatMap((s) => (s.kind === "wait" ? [s] : []));
  expect(waits.map((w) => sequel(method, w)?.id)).toEqual(["read-nitrite", "read-nitrate"]);
});
