import { describe, expect, it } from "vitest";
import { guessMapping, type LabMapping, readLabLines } from "./labResults";
import { labTestNamed } from "./labTests";

const columns = {
  sample: "Sample",
  parameter: "Test",
  value: "Result",
  unit: "Unit",
  method: "Method",
  detection_limit: "LOD",
  measured_at: "Analysed",
};
const mapping: LabMapping = { columns, dates: "year-first" };
const context = {
  samples: [
    { id: "01KP0000000000000000000001", code: "E1-0412-1", collected_at: "2026-04-12T09:00:00.000Z" },
  ],
  zone: "UTC",
  now: "2026-04-20T12:00:00.000Z",
};
const line = (over: Record<string, string> = {}) => ({
  Sample: "e1-0412-1",
  Test: "Nitrate",
  Result: "2.4",
  Unit: "mg/L",
  Method: "IC",
  LOD: "0.1",
  Analysed: "2026-04-13",
  ...over,
});
const one = (over: Record<string, string>) =>
  readLabLines([{ line: 2, cells: line(over) }], mapping, context);
const found = (over: Record<string, string>) => one(over).results[0];
const why = (over: Record<string, string>) => one(over).refused[0];

describe("the lines of a laboratory's file", () => {
  it("become results of the batch, in the unit of the ledger, with what stood in the file", () => {
    expect(found({})).toEqual({
      sample_id: "01KP0000000000000000000001",
      parameter: "nitrate",
      analyte: "Nitrate",
      species: "NO3-N",
      unit: "mg/L",
      decimals: 2,
      found: { kind: "value", value: 2.4 },
      written: "2.4",
      written_unit: "mg/L",
      method: "IC",
      detection_limit: 0.1,
      measured_at: "2026-04-13T00:00:00.000Z",
      line: 2,
    });
  });

  it.each([
    [{ Result: "<0.03" }, { kind: "below", limit: 0.03 }],
    [
      { Result: "> 2419", Test: "E. coli", Unit: "MPN/100 mL", LOD: "" },
      { kind: "above", limit: 2419 },
    ],
    [{ Result: "7,4" }, { kind: "value", value: 7.4 }],
    [
      { Result: "2400", Unit: "µg/L", LOD: "" },
      { kind: "value", value: 2.4 },
    ],
    [{ Result: "0.2-0.5" }, { kind: "interval", low: 0.2, high: 0.5 }],
    [
      { Result: "120", Test: "Escherichia coli", Unit: "CFU/100ml", LOD: "" },
      { kind: "value", value: 120 },
    ],
  ])("%j is %j", (over, expected) => {
    expect(found(over as unknown as Record<string, string>)?.found).toEqual(expected);
  });

  it.each([
    [{ Test: "Nitrate as NO3" }, "NO3"],
    [{ Test: "NO3-N" }, "NO3-N"],
    [{ Unit: "mg/L as NO3" }, "NO3"],
    [{ Test: "NH4-N" }, "NH3-N"],
  ])("%j is reported as %s", (over, species) => {
    expect(found(over as unknown as Record<string, string>)?.species).toBe(species);
  });

  it("finds the sample by the id that a scanner read", () => {
    expect(found({ Sample: "01KP0000000000000000000001" })?.sample_id).toBe("01KP0000000000000000000001");
  });

  it.each([
    [{ Sample: "X-9" }, "Sample", "No sample “X-9” is in this batch."],
    [{ Test: "Unobtainium" }, "Test", "“Unobtainium” is not a test we know."],
    [{ Test: "Nitrate as PO4" }, "Test", "Nitrate is not reported as PO4 here."],
    [{ Result: "" }, "Result", "There is no value."],
    [{ Result: "not detected" }, "Result", "write it as <"],
    [{ Result: "1,320" }, "Result", "can be read two ways"],
    [{ Result: "-0.2" }, "Result", "not below zero"],
    [{ Unit: "furlong" }, "Unit", "is not a unit for Nitrate"],
    [{ Unit: "mg/L", Test: "E. coli" }, "Unit", "is not a unit for E. coli"],
    [{ LOD: "low" }, "LOD", "is not a detection limit"],
    [{ Analysed: "13.04.2026" }, "Analysed", "Look at the order of dates"],
    [{ Analysed: "2026-04-21" }, "Analysed", "lies in the future"],
    [{ Analysed: "2026-04-02" }, "Analysed", "before the water was taken"],
  ])("%j is refused at column %s", (over, column, words) => {
    const refused = why(over as unknown as Record<string, string>);
    expect(refused).toMatchObject({ line: 2, column });
    expect(refused?.reason).toContain(words);
  });

  it("refuses the same test of the same sample a second time", () => {
    const { results, refused } = readLabLines(
      [
        { line: 2, cells: line() },
        { line: 4, cells: line({ Result: "9" }) },
      ],
      mapping,
      context,
    );
    expect(results).toHaveLength(1);
    expect(refused).toEqual([
      { line: 4, column: "Test", reason: "The same test of the same sample stands in line 2." },
    ]);
  });
});

describe("what a laboratory's file is like", () => {
  it("is guessed from its first line", () => {
    const head = ["Client ID", "Parameter", "Result", "Units", "Method", "MDL", "Date analysed"];
    expect(guessMapping(head).columns).toEqual({
      sample: "Client ID",
      parameter: "Parameter",
      value: "Result",
      unit: "Units",
      method: "Method",
      detection_limit: "MDL",
      measured_at: "Date analysed",
    });
  });

  it("calls the same test by many names", () => {
    for (const name of ["Nitrate", "nitrate", "NO3-N", "NO3"])
      expect(labTestNamed(name)?.test.parameter).toBe("nitrate");
    expect(labTestNamed("Sulphate")?.test.parameter).toBe("sulfate");
    expect(labTestNamed("Total phosphorus")?.test.parameter).toBe("total-phosphorus");
    expect(labTestNamed("Mystery")).toBeUndefined();
  });
});
