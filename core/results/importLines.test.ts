import { describe, expect, it } from "vitest";
import { measurandFacts } from "../quantity/measurand";
import {
  guessImport,
  type ImportMapping,
  importReader,
  nameInLedger,
  quantityNamed,
  quantityOf,
  unmappedOf,
} from "./importLines";

const context = {
  sites: new Map([
    ["bathing pond", "s1"],
    ["outfall", "s2"],
  ]),
  zone: "Europe/Berlin",
  now: "2026-04-20T12:00:00.000Z",
};
const long = ["Site", "Date", "Parameter", "Value", "Unit", "Meter"];
const wide = ["Station", "Date", "Time", "pH", "EC (mS/cm)", "Nitrate as NO3 (mg/L)", "Remarks"];

/** Reads one line of a file with this head. */
function read(head: string[], cells: string[], change: Partial<ImportMapping> = {}) {
  const mapping = { ...guessImport(head), ...change };
  return importReader(head, mapping, context)(Object.fromEntries(head.map((h, i) => [h, cells[i] ?? ""])), 2);
}
const reason = (cells: string[], change: Partial<ImportMapping> = {}) =>
  read(long, cells, change).refused[0]?.reason;

describe("what a file's head says", () => {
  it("is guessed: where, when, what, and which columns are quantities", () => {
    expect(guessImport(long).columns).toEqual({
      site: "Site",
      measured_at: "Date",
      parameter: "Parameter",
      value: "Value",
      unit: "Unit",
      instrument: "Meter",
    });
    expect(guessImport(wide).columns).toEqual({ site: "Station", measured_at: "Date", time: "Time" });
  });

  it.each([
    [["2026-04-12", "2026-04-13"], "year-first"],
    [["12.04.2026 10:00", "13.04.2026"], "day-first"],
    [["04/12/2026", "04/13/2026"], "month-first"],
    [["04/05/2026"], "day-first"],
    [["soon", ""], "year-first"],
  ])("dates like %o are read %s", (dates, order) => {
    expect(
      guessImport(
        ["Date", "pH"],
        dates.map((d) => ({ Date: d })),
      ).dates,
    ).toBe(order);
  });

  it.each([
    [["pH"], { columns: { measured_at: "pH" }, site: "" }, "names the site"],
    [["a", "pH"], { columns: {}, site: "Outfall" }, "holds the date"],
    [["d", "p"], { columns: { measured_at: "d", parameter: "p" }, site: "Outfall" }, "holds the value"],
    [["d", "x"], { columns: { measured_at: "d" }, site: "Outfall" }, "names what was measured"],
  ])("what is missing is asked for: %o", (head, mapping, words) => {
    expect(unmappedOf(head, { dates: "year-first", ...mapping })).toContain(words);
  });

  it.each([
    ["pH", "ph", ""],
    ["EC (mS/cm)", "conductivity", "mS/cm"],
    ["Dissolved oxygen [mg/L]", "oxygen", "mg/L"],
    ["Nitrate as NO3 (mg/L)", "nitrate", "mg/L"],
    ["E. coli", "e-coli", ""],
  ])("%s is a column of %s", (head, parameter, unit) => {
    expect(quantityOf(head)).toMatchObject({ test: { parameter }, unit });
  });
  it.each(["Remarks", "Date", "", "(mg/L)", "volume"])("%s is none", (head) =>
    expect(quantityOf(head)).toBeUndefined(),
  );
  it("what it gives bears the name that the ledger has for it already", () => {
    const name = (head: string) => {
      const found = quantityOf(head);
      if (!found) throw new Error(head);
      return nameInLedger({ ...found.test, species: found.species ?? found.test.species });
    };
    expect(["EC", "temp", "pH", "DO", "ORP"].map(name)).toEqual([
      measurandFacts.conductivity.name,
      measurandFacts.temperature.name,
      "pH",
      measurandFacts.oxygen.name,
      measurandFacts.redox.name,
    ]);
    expect(name("Nitrate as NO3-N")).toBe("Nitrate as NO3-N");
  });
  it("names of meters and of tests are known", () => {
    expect(quantityNamed("DO")?.test.unit).toBe("mg/L");
    expect(quantityNamed("ORP")?.test.parameter).toBe("redox");
    expect(quantityNamed("NH4-N")?.test.parameter).toBe("ammonia");
  });
});

describe("a line", () => {
  it("of a long file gives one result, in the unit of the ledger, at its moment in the house's zone", () => {
    expect(read(long, ["Bathing pond", "2026-04-12 14:05", "EC", "1,32", "mS/cm", "M-1"])).toEqual({
      refused: [],
      taken: [
        {
          line: 2,
          site_id: "s1",
          parameter: "conductivity",
          analyte: "Conductivity",
          species: "µS/cm",
          unit: "µS/cm",
          decimals: 0,
          found: { kind: "value", value: 1320 },
          written: "1,32",
          measured_at: "2026-04-12T12:05:00.000Z",
          sample: "",
          instrument: "M-1",
          observer: null,
        },
      ],
    });
  });

  it("of a wide file gives a result for each cell that is filled; what is no quantity is left alone", () => {
    const { taken, refused } = read(wide, ["outfall", "2026-04-12", "9:15", "7.4", "", "<0.5", "windy"]);
    expect(refused).toEqual([]);
    expect(taken.map((t) => [t.parameter, t.species, t.found])).toEqual([
      ["ph", "pH", { kind: "value", value: 7.4 }],
      ["nitrate", "NO3", { kind: "below", limit: 0.5 }],
    ]);
    expect(taken[0]?.measured_at).toBe("2026-04-12T07:15:00.000Z");
  });

  it("of one meter's memory belongs to the site that was said", () => {
    const { taken } = read(["Date", "pH"], ["2026-04-12T09:15:00Z", "7.4"], { site: "Outfall" });
    expect(taken).toMatchObject([{ site_id: "s2", measured_at: "2026-04-12T09:15:00.000Z" }]);
  });

  it("takes what can be taken of a wide line, and says what cannot", () => {
    const { taken, refused } = read(wide, ["outfall", "2026-04-12", "", "seven", "0.64", "", ""]);
    expect(taken.map((t) => t.parameter)).toEqual(["conductivity"]);
    expect(refused).toMatchObject([
      { line: 2, column: "pH", reason: expect.stringContaining("not a number") },
    ]);
  });

  it.each([
    [["Nowhere", "2026-04-12", "pH", "7", "", ""], "No site is called “Nowhere” here."],
    [["", "2026-04-12", "pH", "7", "", ""], "No site is named."],
    [["Outfall", "", "pH", "7", "", ""], "There is no date."],
    [["Outfall", "12.04.2026", "pH", "7", "", ""], "not a date in the order chosen"],
    [["Outfall", "2026-02-30", "pH", "7", "", ""], "not a date"],
    [["Outfall", "2026-04-21", "pH", "7", "", ""], "lies in the future"],
    [["Outfall", "2026-04-12", "colour of the sky", "7", "", ""], "is not known here"],
    [["Outfall", "2026-04-12", "", "7", "", ""], "Nothing is named"],
    [["Outfall", "2026-04-12", "pH", "", "", ""], "There is no value."],
    [["Outfall", "2026-04-12", "pH", "=1+1", "", ""], "not a number"],
    [["Outfall", "2026-04-12", "EC", "1,320", "", ""], "can be read two ways"],
    [["Outfall", "2026-04-12", "EC", "500", "mg/L", ""], "does not fit here"],
    [["Outfall", "2026-04-12", "Nitrate", "-1", "mg/L", ""], "not below zero"],
    [["Outfall", "2026-04-12", "Nitrate", "1", "mg/L as CaCO3", ""], "not reported as CaCO3"],
  ])("%o is refused in a sentence", (cells, words) => expect(reason(cells)).toContain(words));

  it("of a temperature or a redox may be below zero", () => {
    expect(read(long, ["Outfall", "2026-04-12", "Temperature", "-0.4", "°C", ""]).taken).toHaveLength(1);
    expect(read(long, ["Outfall", "2026-04-12", "Redox", "-120", "mV", ""]).taken).toHaveLength(1);
  });

  it("with dates of another order is read by the order that is chosen", () => {
    expect(
      read(long, ["Outfall", "12.04.2026", "pH", "7", "", ""], { dates: "day-first" }).taken,
    ).toHaveLength(1);
  });
});
