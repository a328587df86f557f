import { describe, expect, it } from "vitest";
import { cellValue, pastedCells } from "./pasted";

describe("what is pasted from a spreadsheet", () => {
  it("is taken cell by cell, whatever ends its lines", () => {
    expect(pastedCells("0\t7.8\r\n1,5\t6.2\r\n")).toEqual([
      ["0", "7.8"],
      ["1,5", "6.2"],
    ]);
    expect(pastedCells("0;7.8\n1.5; 6.2")).toEqual([
      ["0", "7.8"],
      ["1.5", "6.2"],
    ]);
    expect(pastedCells("1\n2\n3")).toEqual([["1"], ["2"], ["3"]]);
  });

  it("is left to the field itself when it is one value", () => {
    expect(pastedCells("7.02")).toBeNull();
    expect(pastedCells("7.02\n")).toBeNull();
  });
});

describe("a cell", () => {
  it("is a number in its unit, or the text that is no number", () => {
    expect(cellValue("1,5", { unit: "mL" })).toBe(1.5);
    expect(cellValue(" 7.02 ", {})).toBe(7.02);
    expect(cellValue("much", { unit: "mL" })).toBe("much");
    expect(cellValue("  ", { unit: "mL" })).toBeUndefined();
  });

  it("is a name or a choice where one belongs", () => {
    expect(cellValue("phosphate tube", { type: "string" })).toBe("phosphate tube");
    expect(cellValue("true", { type: "boolean" })).toBe(true);
    expect(cellValue("", { type: "boolean" })).toBe(false);
  });
});
