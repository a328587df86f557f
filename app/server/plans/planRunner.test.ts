import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { calculate } from "../../../core/calculators/registry";
import * as workers from "../platform/workers.server";
import { calculateApart } from "./planRunner.server";

/** What the threads were asked and have not answered yet. */
const asked: (() => void)[] = [];
beforeEach(() => {
  vi.spyOn(workers, "workersExist").mockReturnValue(true);
  vi.spyOn(workers, "askWorker").mockImplementation(
    () => new Promise((done) => asked.push(() => done({ outputs: {} }))),
  );
});
afterEach(() => {
  for (const answer of asked.splice(0)) answer();
  vi.restoreAllMocks();
});

describe("a calculator that searches", () => {
  it("is done beside the server, two at a time; a third is told to ask again, not made to wait", async () => {
    const [first, second] = [calculateApart("stagger", {}), calculateApart("stagger", {})];
    expect(asked).toHaveLength(2);
    expect(await calculateApart("stagger", {})).toBeNull();
    expect(asked).toHaveLength(2);
    asked.splice(0, 1)[0]?.();
    await first;
    const again = calculateApart("stagger", {});
    expect(asked).toHaveLength(2);
    for (const answer of asked.splice(0)) answer();
    expect(await Promise.all([second, again])).toEqual([{ outputs: {} }, { outputs: {} }]);
  });

  it("takes no more tests than anybody has hands for", () => {
    const task = { hands_before_s: 1, wait_s: 1, hands_after_s: 1, exact: false };
    const answer = calculate("stagger", { tasks: Array.from({ length: 41 }, () => task) });
    expect("errors" in answer && answer.errors[0]?.path).toBe("tasks");
  });
});
