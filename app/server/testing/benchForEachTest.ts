import { afterEach, beforeEach } from "vitest";
import type { HouseRules } from "../../../core/rules/houseRules";
import { openTestBench, type Past, type TestBench } from "./testBench";

/** A test bench for each test of a file, opened and closed around it. */
export function benchForEachTest(data?: HouseRules["data"], past?: Past): { readonly bench: TestBench } {
  const holder: { bench?: TestBench } = {};
  beforeEach(async () => {
    holder.bench = await openTestBench(null, data, past);
  });
  afterEach(() => holder.bench?.db.destroy());
  return {
    get bench() {
      if (!holder.bench) throw new Error("The bench opens with the first test.");
      return holder.bench;
    },
  };
}
