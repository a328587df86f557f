import { describe, expect, it } from "vitest";
import { replay } from "../bench/event";
import { methodLibrary } from "../methods/library";
import { runFolding } from "../runs/run";
import { rinsesOf } from "../runs/runState";
import { libraryMethod, RunPlayer, testId } from "../simulation/runPlayer";
import { first, refusedBy } from "../testing/judgedRuns";
import { evidenceOfRun } from "./runEvidence";

/** A method of one replicate whose first step asks for three rinses. */
const method = { ...libraryMethod("ammonia-salicylate"), replicates: 1 };
const filling = method.steps.find((s) => s.kind === "do" && s.rinses > 0);
if (!filling) throw new Error("No step asks for rinses.");
const step = filling.id;

/** A run whose filling was rinsed so often, and told with this count. */
function rinsed(times: number, told: number | undefined = times): RunPlayer {
  const player = new RunPlayer(method);
  for (let i = 0; i < times; i++) player.happen({ type: "rinsed", replicate: 0, step }, 4);
  return player.happen(
    { type: "done", replicate: 0, step, ...(told === undefined ? {} : { rinses: told }) },
    4,
  );
}

describe("rinses that a step asks for", () => {
  it("are ticked one by one, and counted", () => {
    const player = new RunPlayer(method);
    const counts = [0, 1, 2, 3].map((n) => {
      if (n > 0) player.happen({ type: "rinsed", replicate: 0, step }, 4);
      return rinsesOf(player.state.replicates[0], filling).ticked;
    });
    expect(counts).toEqual([0, 1, 2, 3]);
    expect(rinsesOf(player.state.replicates[0], filling).asked).toBe(3);
  });

  it("are no more than the method asks for, and only of the step in hand", () => {
    const player = rinsed(3);
    expect(refusedBy(player)).toEqual([]);
    const over = new RunPlayer(method);
    for (let i = 0; i < 4; i++) over.happen({ type: "rinsed", replicate: 0, step }, 4);
    expect(refusedBy(over)).toEqual(["already-done"]);
    player.happen({ type: "rinsed", replicate: 0, step }, 4);
    expect(refusedBy(player)).toEqual(["not-its-turn"]);
  });

  it("are as many as were ticked, whatever the end of the step says", () => {
    const player = rinsed(1, 3);
    expect(refusedBy(player)).toEqual([]);
    expect(player.state.replicates[0]?.steps[step]?.rinses).toBe(1);
  });

  it("count though one was still on its way when the step was done", () => {
    const player = rinsed(2);
    const done = player.events.at(-1);
    if (!done) throw new Error("Nothing was done.");
    // Ticked on another device a second before, and sent later.
    const at = new Date(Date.parse(done.at) - 1000).toISOString();
    player.arrives({ id: testId(99), type: "rinsed", replicate: 0, step, at, by: "q" });
    expect(refusedBy(player)).toEqual([]);
    expect(player.state.replicates[0]?.steps[step]?.rinses).toBe(3);
  });

  it("can be taken back, each by itself", () => {
    const player = new RunPlayer(method);
    for (let i = 0; i < 2; i++) player.happen({ type: "rinsed", replicate: 0, step }, 4);
    const last = player.events.at(-1)?.id ?? "";
    player.happen({ type: "undone", target: last }, 1);
    expect(rinsesOf(player.state.replicates[0], filling).ticked).toBe(1);
  });

  it("stay with their own replicate", () => {
    const two = new RunPlayer({ ...method, replicates: 2 });
    two.happen({ type: "rinsed", replicate: 1, step }, 4);
    expect(two.state.replicates.map((r) => rinsesOf(r, filling).ticked)).toEqual([0, 1]);
  });

  it.each([
    [3, "ok", "rinsed 3 times", "Every vessel was rinsed as often as the method asks."],
    [1, "qualify", "rinsed once", `“${filling.text}” asks for 3 rinses, and the vessel was rinsed once.`],
    [0, "qualify", "not rinsed", `“${filling.text}” asks for 3 rinses, and the vessel was not rinsed.`],
  ])("%i of three are %s in the result", (times, severity, measured, sentence) => {
    const found = first(rinsed(times).read(0.4).finish()).findings.filter((f) => /rins/.test(f.rule));
    expect(found).toMatchObject([{ severity, measured, sentence }]);
  });

  it("say nothing where nobody counted, as before they were ticked", () => {
    const player = new RunPlayer(method).happen({ type: "done", replicate: 0, step }, 4).read(0.4).finish();
    const [result] = evidenceOfRun("r", player.state);
    expect(result?.replicates[0]).not.toHaveProperty("rinsed");
    expect(first(player).findings.filter((f) => /rins/.test(f.rule))).toEqual([]);
  });

  it("are asked for by every method of the library whose vessel is to be rinsed with the sample", () => {
    const asked = methodLibrary.filter((m) => /rinsed .*with the sample/.test(m.sample.container));
    expect(asked.length).toBeGreaterThan(10);
    for (const m of asked)
      expect([m.id, m.steps.some((s) => s.kind === "do" && s.rinses >= 2)]).toEqual([m.id, true]);
  });

  it("are ticked by whoever plays a run, so that its replay is whole", () => {
    const player = new RunPlayer(method).play(0.4);
    expect(replay(player.events, runFolding).refused).toEqual([]);
    expect(player.events.filter((e) => e.type === "rinsed")).toHaveLength(3);
  });
});
