import { describe, expect, it } from "vitest";
import { certifiedValue } from "./certificate";
import { bufferIds, phBuffers } from "./phBuffers";

describe("certifiedValue", () => {
  it("reads on and between the rows, in whatever order they stand", () => {
    const table = [
      { temperature_c: 30, value: 6.9 },
      { temperature_c: 10, value: 7.1 },
      { temperature_c: 20, value: 7.0 },
    ];
    const at = (t: number) => {
      const found = certifiedValue(table, t);
      return found.ok ? found.value : found.error.code;
    };
    expect(at(10)).toBe(7.1);
    expect(at(30)).toBe(6.9);
    expect(at(15)).toBeCloseTo(7.05, 12);
    expect(at(27.5)).toBeCloseTo(6.925, 12);
    expect(at(9.9)).toBe("outside-table");
    expect(at(30.1)).toBe("outside-table");
    expect(at(Number.NaN)).toBe("outside-table");
  });
  it("has nothing to say without a table", () => {
    const none = certifiedValue([], 20);
    expect(none.ok ? "" : none.error.message).toContain("no table");
  });
});

describe("the buffers that ship", () => {
  it.each(bufferIds)("%s has a name, a source and every five degrees from 0 to 40", (id) => {
    const buffer = phBuffers[id];
    expect(buffer.id).toBe(id);
    expect(buffer.source).not.toBe("");
    expect(buffer.table.map((row) => row.temperature_c)).toEqual([0, 5, 10, 15, 20, 25, 30, 35, 40]);
    expect(Math.abs((buffer.table[5]?.value ?? 0) - Number(buffer.name.split(" ")[1]))).toBeLessThan(0.006);
  });
});
