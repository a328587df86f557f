import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { Job } from "./job";
import { faultsOf, problemOf } from "./plan";
import { planJobs } from "./planner";

const job = (name: string, before: number, wait: number, after: number, exact = true): Job => ({
  name,
  parts: [
    { kind: "hands", seconds: before },
    { kind: "wait", min_s: wait, max_s: exact ? wait : null },
    { kind: "hands", seconds: after },
  ],
});

describe("the planner", () => {
  it("begins a 3-minute wait 2 minutes after a 5-minute one when they are read together", () => {
    // Source: common practice, two colour tubes read side by side.
    const plan = planJobs([job("phosphate", 0, 300, 0), job("nitrate", 0, 180, 0)], {
      people: 1,
      align: "together",
    });
    expect(plan?.makespan_s).toBe(300);
    expect(plan?.starts.map((s) => Math.round(s[0] as number))).toEqual([0, 120]);
  });

  it("begins both at once when each result is wanted as soon as can be", () => {
    const plan = planJobs([job("phosphate", 0, 300, 0), job("nitrate", 0, 180, 0)], { people: 1 });
    expect(plan?.starts.map((s) => s[0])).toEqual([0, 0]);
  });

  it("puts short hands into long waits", () => {
    const plan = planJobs([job("long", 30, 300, 20), job("short", 30, 60, 20)], { people: 1 });
    expect(plan?.makespan_s).toBe(350);
    expect(plan?.serial_s).toBe(460);
    expect(plan?.stretch_s).toBe(0);
  });

  it("shares the work between two people, and one thing between them", () => {
    const reads = (name: string): Job => ({
      name,
      parts: [
        { kind: "hands", seconds: 60 },
        { kind: "hands", seconds: 60, equipment: "photometer" },
      ],
    });
    const apart = planJobs([job("a", 60, 0, 60), job("b", 60, 0, 60)], { people: 2 });
    expect(apart?.makespan_s).toBe(120);
    const shared = planJobs([reads("a"), reads("b")], { people: 2 });
    expect(shared?.makespan_s).toBe(180);
  });

  it("keeps what is under way: a read that is due, by the one who has it", () => {
    const under: Job = {
      name: "strip",
      parts: [{ kind: "hands", seconds: 5 }],
      release_s: 40,
      due_s: 40,
      person: 0,
    };
    const plan = planJobs([under, job("b", 60, 60, 10)], { people: 1 });
    expect(plan?.starts[0]).toEqual([40]);
    expect(plan && faultsOf(problemOf([under, job("b", 60, 60, 10)], 1), plan)).toEqual([]);
  });

  it("lets whoever has nothing in hand go first to a thing that the other needs too", () => {
    const burette = (seconds: number): Job["parts"][number] => ({
      kind: "hands",
      seconds,
      equipment: "burette",
    });
    const under: Job = {
      name: "under way",
      parts: [burette(1), { kind: "wait", min_s: 2, max_s: 2 }, { kind: "hands", seconds: 1 }],
      person: 0,
      due_s: 3,
    };
    const next: Job = {
      name: "next",
      parts: [burette(3), { kind: "wait", min_s: 3, max_s: 3 }, { kind: "hands", seconds: 1 }],
    };
    const plan = planJobs([under, next], { people: 2 });
    expect(plan).toMatchObject({
      starts: [
        [3, 6],
        [0, 6],
      ],
      person: [0, 1],
      makespan_s: 7,
      proved: true,
    });
  });

  it("says so when what is under way can no longer be kept", () => {
    const due = (name: string): Job => ({
      name,
      parts: [{ kind: "hands", seconds: 30 }],
      release_s: 10,
      due_s: 10,
      person: 0,
    });
    expect(planJobs([due("a"), due("b")], { people: 1 })).toBeNull();
  });

  it("begins the replicates of a run in their order, whatever is quicker", () => {
    // Alone, the second would go first: its long wait would hold the hands of the first.
    const first = { ...job("r (1 of 2)", 40, 30, 10), run: "r" };
    const second = { ...job("r (2 of 2)", 10, 200, 10), run: "r" };
    for (const people of [1, 2]) {
      const plan = planJobs([first, second], { people });
      const [one, two] = plan?.starts.map((row) => row[0] as number) ?? [];
      expect(one).toBeLessThanOrEqual(two as number);
      expect(plan && faultsOf(problemOf([first, second], people), plan)).toEqual([]);
    }
    const turned = {
      starts: [
        [10, 80],
        [0, 210],
      ],
      person: [0, 0],
    };
    expect(faultsOf(problemOf([first, second], 1), turned)).toContain("r (2 of 2): begins before r (1 of 2)");
  });

  it("begins with what keeps least where that costs no time", () => {
    const nutrient = { ...job("nitrate", 30, 120, 20), keeps_min: 2880 };
    const gas = { ...job("oxygen", 30, 120, 20), keeps_min: 15 };
    for (const jobs of [
      [nutrient, gas],
      [gas, nutrient],
      [nutrient, nutrient, nutrient, gas],
    ]) {
      const plan = planJobs(jobs, { people: 1 });
      expect(plan?.starts[jobs.indexOf(gas)]?.[0]).toBe(0);
    }
  });

  it("finds a place for a look that takes no time beside hands that begin at the same moment", () => {
    const jobs = [
      job("a", 0, 0, 0),
      job("b", 1, 0, 0, false),
      job("c", 0, 0, 0, false),
      job("d", 0, 1, 1, false),
    ];
    const plan = planJobs(jobs, { people: 1, stop: () => true });
    expect(plan && faultsOf(problemOf(jobs, 1), plan)).toEqual([]);
    expect(plan?.makespan_s).toBe(2);
  });

  it("breaks no rule, and is no shorter than its bound and no longer than one after another", () => {
    const jobs = fc.array(
      fc.record({
        before: fc.integer({ min: 0, max: 90 }),
        wait: fc.integer({ min: 0, max: 300 }),
        after: fc.integer({ min: 0, max: 60 }),
        exact: fc.boolean(),
        run: fc.constantFrom("a", "b", undefined),
        keeps_min: fc.constantFrom(15, 480, undefined),
      }),
      { minLength: 1, maxLength: 12 },
    );
    fc.assert(
      fc.property(
        jobs,
        fc.integer({ min: 1, max: 2 }),
        fc.constantFrom("earliest", "together"),
        (list, people, align) => {
          const all = list.map((j, i) => ({
            ...job(`${i}`, j.before, j.wait, j.after, j.exact),
            ...(j.run && { run: j.run }),
            ...(j.keeps_min && { keeps_min: j.keeps_min }),
          }));
          let tries = 40;
          const plan = planJobs(all, { people, align: align as "earliest", stop: () => tries-- < 0 });
          expect(plan).not.toBeNull();
          if (!plan) return;
          expect(faultsOf(problemOf(all, people), plan)).toEqual([]);
          expect(plan.makespan_s).toBeGreaterThanOrEqual(plan.lower_bound_s - 1e-6);
          expect(plan.makespan_s).toBeLessThanOrEqual(plan.serial_s + 1e-6);
        },
      ),
      { numRuns: 40 },
    );
  });
});
