import { describe, expect, it } from "vitest";
import { methodLibrary } from "../analysis/library";
import { libraryMethod } from "../simulation/runPlayer";
import { byPerishability, jobsOf } from "./fromMethod";
import { chainFrom, opsOf } from "./job";
import { planJobs } from "./planner";

describe("a method as the planner sees it", () => {
  it("waits only for what is left of a clock that started earlier", () => {
    const [strip] = jobsOf(libraryMethod("nitrite-nitrate-strip"), "S");
    const waits = strip?.parts.filter((p) => p.kind === "wait");
    expect(waits).toEqual([
      { kind: "wait", min_s: 30, max_s: 30 },
      { kind: "wait", min_s: 24, max_s: 24 },
    ]);
  });

  it("is one job a replicate; what is done once is in the first", () => {
    const jobs = jobsOf(libraryMethod("phosphate-photometer"), "S");
    expect(jobs.map((j) => j.name)).toEqual([
      "Phosphate, photometer, S (1 of 2)",
      "Phosphate, photometer, S (2 of 2)",
    ]);
    const hands = jobs.map((j) => j.parts.reduce((sum, p) => sum + (p.kind === "hands" ? p.seconds : 0), 0));
    expect((hands[0] ?? 0) - (hands[1] ?? 0)).toBe(40);
  });

  it("takes the photometer only while it reads", () => {
    const ops = jobsOf(libraryMethod("phosphate-photometer"), "S").flatMap(opsOf);
    expect(ops.some((op) => op.equipment.includes("photometer"))).toBe(true);
    expect(ops.filter((op) => op.equipment.length === 0).length).toBeGreaterThan(0);
  });

  it.each(methodLibrary.map((m) => [m.id, m] as const))(
    "%s can be planned alone in its own shortest time",
    (_, method) => {
      for (const job of jobsOf(method, "S")) {
        expect(planJobs([job], { people: 1 })?.makespan_s).toBeCloseTo(chainFrom(opsOf(job), 0), 6);
      }
    },
  );

  it("puts gases before pH, and pH before nutrients", () => {
    const order = [...methodLibrary].sort(byPerishability).map((m) => m.id);
    const at = (id: string) => order.indexOf(id);
    expect(at("ph-vial")).toBeLessThan(at("phosphate-photometer"));
    expect(at("oxygen-ampoule")).toBeLessThan(at("ammonia-salicylate"));
  });
});
