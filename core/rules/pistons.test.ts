import { describe, expect, it } from "vitest";
import { readPistons, showPistons } from "./pistons";

describe("piston pipettes as they are typed", () => {
  it("are read with their range and error, and written the same way", () => {
    const found = readPistons("0.5-5 mL, 0.8 %; 1 to 10 ml 0.6%;");
    expect(found).toEqual([
      { low_ml: 0.5, high_ml: 5, error_percent: 0.8 },
      { low_ml: 1, high_ml: 10, error_percent: 0.6 },
    ]);
    expect(showPistons(found ?? [])).toBe("0.5 – 5 mL, 0.8 %; 1 – 10 mL, 0.6 %");
    expect(readPistons(showPistons(found ?? []))).toEqual(found);
    expect(readPistons(" ")).toEqual([]);
  });
  it.each(["5 mL", "a – b mL, 1 %", "0.5 – 5 mL", "0.5 – 5 mL, 0.8 %; more"])("“%s” is no pipette", (text) =>
    expect(readPistons(text)).toBeNull(),
  );
});
