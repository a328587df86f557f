import { describe, expect, it } from "vitest";
import { methodLibrary } from "../methods/library";
import { libraryMethod, RunPlayer, testId } from "../simulation/runPlayer";
import { byPerishability, isBegun, jobsLeft, jobsOf, plannable } from "./fromMethod";
import { chainFrom, opsOf } from "./job";
import { planJobs } from "./planner";

const run = testId(1);

describe("a method as the planner sees it", () => {
  it("waits only for what is left of a clock that started earlier", () => {
    const [strip] = jobsOf(plannable(libraryMethod("nitrite-nitrate-strip")), "S", run);
    const waits = strip?.parts.filter((p) => p.kind === "wait");
    expect(waits).toEqual([
      { kind: "wait", min_s: 30, max_s: 30 },
      { kind: "wait", min_s: 24, max_s: 24 },
    ]);
  });

  it("is one job a replicate; what is done once is in the first", () => {
    const jobs = jobsOf(plannable(libraryMethod("phosphate-photometer")), "S", run);
    expect(jobs.map((j) => j.name)).toEqual([
      "Phosphate, photometer, S (1 of 2)",
      "Phosphate, photometer, S (2 of 2)",
    ]);
    const hands = jobs.map((j) => j.parts.reduce((sum, p) => sum + (p.kind === "hands" ? p.seconds : 0), 0));
    expect((hands[0] ?? 0) - (hands[1] ?? 0)).toBe(40);
  });

  it("takes the photometer only while it reads", () => {
    const ops = jobsOf(plannable(libraryMethod("phosphate-photometer")), "S", run).flatMap(opsOf);
    expect(ops.some((op) => op.equipment.includes("photometer"))).toBe(true);
    expect(ops.filter((op) => op.equipment.length === 0).length).toBeGreaterThan(0);
  });

  it.each(methodLibrary.map((m) => [m.id, m] as const))(
    "%s can be planned alone in its own shortest time",
    (_, method) => {
      for (const job of jobsOf(plannable(method), "S", run)) {
        expect(planJobs([job], { people: 1 })?.makespan_s).toBeCloseTo(chainFrom(opsOf(job), 0), 6);
      }
    },
  );

  it("puts gases before pH, and pH before nutrients", () => {
    const order = methodLibrary
      .map(plannable)
      .sort(byPerishability)
      .map((m) => m.id);
    const at = (id: string) => order.indexOf(id);
    expect(at("ph-vial")).toBeLessThan(at("phosphate-photometer"));
    expect(at("oxygen-ampoule")).toBeLessThan(at("ammonia-salicylate"));
  });
});

describe("what is left of a run under way", () => {
  const hands = (parts: readonly { kind: string; seconds?: number }[]) =>
    parts.reduce((sum, part) => sum + (part.seconds ?? 0), 0);

  it("is the whole of it just after it was opened", () => {
    const player = new RunPlayer(libraryMethod("phosphate-photometer"));
    const left = jobsLeft(player.state, run, player.clock);
    const whole = jobsOf(plannable(libraryMethod("phosphate-photometer")), "S", run);
    expect(left.map((job) => hands(job.parts))).toEqual([
      hands(whole[0]?.parts ?? []),
      // Nobody has done yet what is done once: it may fall to the second as well.
      hands(whole[0]?.parts ?? []),
    ]);
    expect(left.some((_, replicate) => isBegun(player.state, replicate))).toBe(false);
  });

  it("counts a clock that runs: exact, with its window as room", () => {
    const player = new RunPlayer(libraryMethod("nitrite-nitrate-strip"));
    const wait = player.state.method.steps.find((s) => s.kind === "wait");
    if (wait?.kind !== "wait") throw new Error("The strip waits.");
    while (!isBegun(player.state, 0) || player.state.replicates[0]?.steps[wait.from] === undefined) {
      const step = player.state.method.steps.find(
        (s) => s.kind !== "wait" && !(s.id in (player.state.replicates[0]?.steps ?? {})),
      );
      player.happen({ type: "done", replicate: 0, step: step?.id ?? "" }, 1);
    }
    const [job] = jobsLeft(player.state, run, player.clock + 10_000);
    expect(job?.release_s).toBeCloseTo(wait.seconds - wait.window_s - 10, 6);
    expect(job?.due_s).toBeCloseTo(wait.seconds + wait.window_s - 10, 6);
    const [late] = jobsLeft(player.state, run, player.clock + 60_000);
    expect(late).toMatchObject({ release_s: 0, due_s: null });
  });

  it("is less once the first has been read, and nothing when the run is finished", () => {
    const player = new RunPlayer(libraryMethod("phosphate-photometer"));
    const left = () =>
      jobsLeft(player.state, run, player.clock).reduce((sum, job) => sum + hands(job.parts), 0);
    const before = left();
    player.read(0.5);
    expect(left()).toBeLessThan(before);
    player.play(0.5);
    expect(jobsLeft(player.state, run, player.clock)).toEqual([]);
  });
});
