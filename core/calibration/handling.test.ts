import { describe, expect, it } from "vitest";
import { afterTheLast, beforeTheFirst, settlingSeconds } from "./handling";

// Source of the times: common practice, as the docstrings say.
describe("how a meter is handled", () => {
  it("waits in a solution as long as the slowest sensor needs", () => {
    expect(settlingSeconds(["conductivity"])).toBe(15);
    expect(settlingSeconds(["ph", "conductivity"])).toBe(60);
    expect(settlingSeconds(["oxygen", "ph"])).toBe(300);
    expect(settlingSeconds(["absorbance"])).toBe(0);
  });

  it("asks what the display shows only where somebody reads it", () => {
    expect(beforeTheFirst(["ph"], false)).toContain("The display shows pH, in its measuring mode.");
    expect(beforeTheFirst(["ph"], true).join()).not.toContain("display");
    expect(beforeTheFirst(["conductivity", "ph"], false).at(-1)).toContain("conductivity and pH");
    expect(beforeTheFirst(["volume"], false)).toEqual([]);
  });

  it("ends with the rinse and with where each probe is kept", () => {
    expect(afterTheLast(["ph"])[0]).toContain("cap and the cup");
    expect(afterTheLast(["oxygen"]).join()).toContain("eats oxygen");
    expect(afterTheLast(["absorbance"])).toEqual([]);
  });
});
