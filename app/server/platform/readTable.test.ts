import fc from "fast-check";
import Papa from "papaparse";
import { describe, expect, it } from "vitest";
import { readTable } from "./readTable.server";

const table = (text: string) => {
  const read = readTable(text);
  if ("message" in read) throw new Error(read.message);
  return read;
};
const said = (text: string) => {
  const read = readTable(text);
  return "message" in read ? read.message : "";
};

describe("a table of text", () => {
  it.each([",", ";", "\t"])("may have %j between its columns, and a mark at its beginning", (between) => {
    const text = `\uFEFF${["Site", " Value "].join(between)}\r\n${["Mill pond", "7.4"].join(between)}\r\n`;
    expect(table(text)).toEqual({
      head: ["Site", "Value"],
      rows: [{ line: 2, cells: { Site: "Mill pond", Value: "7.4" } }],
    });
  });

  it("counts empty lines and passes over them, before its head too", () => {
    const { head, rows } = table("\n\nSite;Value\n;\nPond;1\n\n  ;  \nWeir;2\n\n");
    expect(head).toEqual(["Site", "Value"]);
    expect(rows.map((r) => [r.line, r.cells.Site])).toEqual([
      [5, "Pond"],
      [8, "Weir"],
    ]);
  });

  it("tells columns of one name apart, and leaves out those without", () => {
    const { head, rows } = table("Value,Value,,Value_1\n1,2,3,4");
    expect(head).toEqual(["Value", "Value_1", "Value_1_1"]);
    expect(rows[0]?.cells).toMatchObject({ Value: "1", Value_1: "2", Value_1_1: "4" });
  });

  it("names the line that is broken", () => {
    expect(said("a,b\n\n1,2\n3")).toContain("Line 4 has another number of columns");
    expect(said('a,b\n1,2\n"3,4\n5,6')).toContain("In line 3 a quotation mark");
    expect(said('a,b\n"x" y,2')).toContain("In line 2 a quotation mark");
    for (const empty of ["", " \n", "a,b", "a,b\n,\n"]) expect(said(empty)).toContain("at least one line");
  });

  it("brings back whatever a program wrote that quotes what it has to", () => {
    const cell = fc.string({ unit: "grapheme", maxLength: 12 });
    fc.assert(
      fc.property(fc.array(fc.tuple(cell, cell), { minLength: 1, maxLength: 8 }), (cells) => {
        // What is nothing but blanks is an empty line.
        const kept = cells.map(([a, b]) => [`=${a}`, b]);
        const text = Papa.unparse([["Site", "Note"], ...kept], { quotes: true });
        expect(table(text).rows.map((r) => [r.cells.Site, r.cells.Note])).toEqual(kept);
      }),
    );
  });
});
