import { describe, expect, it } from "vitest";
import { steepnessAt, tableFound } from "./table";

/** Source: from memory, the shape of such tables: each division stands for more than the one before. */
const table = [
  { division: 1, value: 28 },
  { division: 2, value: 55 },
  { division: 3, value: 91 },
  { division: 8, value: 590 },
];

describe("the table on a tube", () => {
  it.each([
    [1, 28],
    [1.4, 38.8],
    [2, 55],
    [2.5, 73],
    [3, 91],
    [5.5, 340.5],
    [8, 590],
  ])("read at %s is %s", (division, value) => {
    const found = tableFound(table, division);
    expect(found.kind).toBe("value");
    expect(found.kind === "value" && found.value).toBeCloseTo(value, 9);
  });

  it("says nothing but below and above beyond its ends", () => {
    expect(tableFound(table, 0.9)).toEqual({ kind: "below", limit: 28 });
    expect(tableFound(table, 8.1)).toEqual({ kind: "above", limit: 590 });
  });

  it("is read alike in whatever order its rows stand", () => {
    const turned = [...table].reverse();
    for (const division of [0, 1, 1.7, 2, 4.2, 8, 9])
      expect(tableFound(turned, division)).toEqual(tableFound(table, division));
  });

  it("with a row that stands twice gives a number all the same", () => {
    const twice = [{ division: 1, value: 28 }, ...table];
    expect(tableFound(twice, 1)).toEqual({ kind: "value", value: 28 });
    expect(tableFound(twice, 1.4)).toEqual(tableFound(table, 1.4));
  });

  it("of a single row has nothing to read between", () => {
    expect(tableFound([{ division: 1, value: 28 }], 1)).toEqual({ kind: "below", limit: 28 });
    expect(steepnessAt([{ division: 1, value: 28 }], 1)).toBe(0);
  });

  it("is as steep as it is where it was read", () => {
    expect(steepnessAt(table, 1.4)).toBeCloseTo(27, 9);
    expect(steepnessAt(table, 2.5)).toBeCloseTo(36, 9);
    expect(steepnessAt(table, 5)).toBeCloseTo(99.8, 9);
    // Beyond its ends as between the two rows there.
    expect(steepnessAt(table, 0.5)).toBeCloseTo(27, 9);
    expect(steepnessAt(table, 9)).toBeCloseTo(99.8, 9);
  });
});
