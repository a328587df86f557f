import Ajv from "ajv";
import addFormats from "ajv-formats";
import Papa from "papaparse";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { postEvents } from "./bench.server";
import { dayBounds } from "./day.server";
import { neutralised, readingsCsv, readingsJson, readingsJsonSchema } from "./exports.server";
import { ledgerAll, ledgerPage, ledgerQuerySchema } from "./readings.server";
import {
  beginCalibration,
  beginReading,
  liveCapture,
  openTestBench,
  type TestBench,
  testNow,
  wholeRun,
} from "./testing/testBench";

let bench: TestBench;
const days = dayBounds("UTC");
const samples = ['=HYPERLINK("x")', 'BP, "the second"', "+1", "plain", "-2", "@SUM(A1)"];

beforeAll(async () => {
  bench = await openTestBench();
  const calibration = await beginCalibration(bench);
  await postEvents(
    bench.db,
    calibration,
    wholeRun(
      bench,
      [-4, -179.6, -131.5].map((mv) => liveCapture(mv)),
    ),
    testNow,
  );
  for (const [i, sample] of samples.entries()) {
    const at = `2026-04-12T09:0${i}:00.000Z`;
    const work = await beginReading(bench, sample, at);
    // The fourth lies above the highest buffer.
    const mv = i === 3 ? -190 : -50 - 5 * i;
    await postEvents(
      bench.db,
      work,
      wholeRun(bench, [liveCapture(mv, 15), liveCapture(mv - 0.2, 15)], at),
      at,
    );
  }
});
afterAll(() => bench.db.destroy());

const all = () => ledgerAll(bench.db, ledgerQuerySchema.parse({ order: "asc" }), days);

describe("the CSV file", () => {
  it("is read whole by an independent parser, with CRLF and quotes as RFC 4180 has them", async () => {
    const csv = readingsCsv(await all());
    expect(csv.startsWith("\ufeff")).toBe(true);
    const parsed = Papa.parse<Record<string, string>>(csv.slice(1), {
      header: true,
      newline: "\r\n",
      skipEmptyLines: true,
    });
    expect(parsed.errors).toEqual([]);
    expect(parsed.data).toHaveLength(samples.length);
    expect(parsed.data[1]?.sample).toBe('BP, "the second"');
    expect(parsed.data[0]).toMatchObject({
      site: "Bathing pond",
      unit: "pH",
      verdict: "sound",
      observer: "Noor",
    });
    expect(Number(parsed.data[0]?.value)).toBeCloseTo((await all())[0]?.value ?? 0, 12);
  });

  it("gives a spreadsheet no formula to run", async () => {
    const csv = readingsCsv(await all());
    const rows = Papa.parse<Record<string, string>>(csv.slice(1), {
      header: true,
      skipEmptyLines: true,
    }).data;
    expect(rows.map((r) => r.sample)).toEqual([
      '\'=HYPERLINK("x")',
      'BP, "the second"',
      "'+1",
      "plain",
      "'-2",
      "'@SUM(A1)",
    ]);
    for (const row of rows) for (const cell of Object.values(row)) expect(cell).not.toMatch(/^[=+@\t\r]/);
  });

  it("leaves negative numbers numbers", () => {
    expect(neutralised("-2")).toBe("'-2");
    expect(readingsCsv([])).toContain("measured_value");
  });
});

describe("the JSON file", () => {
  it("fits its published schema, by an independent validator", async () => {
    const ajv = new Ajv({ strict: false });
    addFormats(ajv);
    const validate = ajv.compile(readingsJsonSchema());
    const file = JSON.parse(readingsJson(await all(), testNow));
    expect(validate(file), JSON.stringify(validate.errors)).toBe(true);
    expect(file.readings).toHaveLength(samples.length);
    file.readings[0].verdict = "fine";
    expect(validate(file)).toBe(false);
  });
});

describe("the ledger", () => {
  const page = (query: object) => ledgerPage(bench.db, ledgerQuerySchema.parse(query), days);
  it("filters by verdict, text, day and site", async () => {
    expect((await page({ verdict: "qualified" })).rows.map((r) => r.sample)).toEqual(["plain"]);
    expect((await page({ text: "second" })).total).toBe(1);
    expect((await page({ text: "%" })).total).toBe(0);
    expect((await page({ from: "2026-04-13" })).total).toBe(0);
    expect((await page({ from: "2026-04-12", to: "2026-04-12" })).total).toBe(6);
    expect((await page({ site: "elsewhere" })).total).toBe(0);
  });
  it("sorts by what is asked and falls back from what it cannot read", async () => {
    const { rows } = await page({ sort: "value", order: "asc", page: "nonsense", verdict: "nice" });
    const values = rows.map((r) => r.value ?? 0);
    expect(values).toEqual([...values].sort((a, b) => a - b));
    expect(rows).toHaveLength(6);
  });
  it("pages", async () => {
    expect((await page({ page: 2 })).rows).toEqual([]);
    expect((await page({ page: 2 })).total).toBe(6);
  });
});
