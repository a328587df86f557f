import Ajv from "ajv";
import addFormats from "ajv-formats";
import Papa from "papaparse";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { dayBounds } from "../../../core/time/zone";
import { postEvents } from "../bench/bench.server";
import { ledgerPage, ledgerQuerySchema, pageOfIds, placeOf } from "../results/ledger.server";
import {
  beginCalibration,
  beginReading,
  liveCapture,
  openTestBench,
  type TestBench,
  testNow,
  wholeRun,
} from "../testing/testBench";
import { neutralised, readingsJsonSchema } from "./exports.server";
import { exportPieces } from "./ledgerExport.server";

let bench: TestBench;
const days = dayBounds("UTC");
const samples = ['=HYPERLINK("x")', 'BP, "the second"', "+1", "plain", "-2", "@SUM(A1)"];

beforeAll(async () => {
  bench = await openTestBench();
  const calibration = await beginCalibration(bench);
  await postEvents(
    bench.db,
    bench.person,
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
      bench.person,
      work,
      wholeRun(bench, [liveCapture(mv, 15), liveCapture(mv - 0.2, 15)], at),
      at,
    );
  }
});
afterAll(() => bench.db.destroy());

/** The whole file, oldest first. */
async function file(format: "csv" | "json", change: object = {}): Promise<string> {
  const query = ledgerQuerySchema.parse({ order: "asc", ...change });
  let text = "";
  for await (const piece of exportPieces(bench.db, { query, format, now: testNow })) text += piece;
  return text;
}

describe("the CSV file", () => {
  it("is read whole by an independent parser, with CRLF and quotes as RFC 4180 has them", async () => {
    const csv = await file("csv");
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
    const { readings } = JSON.parse(await file("json"));
    expect(Number(parsed.data[0]?.value)).toBeCloseTo(readings[0].value, 12);
    expect(parsed.data[0]?.relation).toBe("equal");
  });

  it("gives a spreadsheet no formula to run", async () => {
    const csv = await file("csv");
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

  it("takes a name that looks like a number for a name", () => {
    expect(neutralised("-2")).toBe("'-2");
  });

  it("has its first line when nothing is found", async () => {
    expect(await file("csv", { site: "elsewhere" })).toContain("measured_value");
    expect(JSON.parse(await file("json", { site: "elsewhere" })).readings).toEqual([]);
  });
});

describe("the JSON file", () => {
  it("fits its published schema, by an independent validator", async () => {
    const ajv = new Ajv({ strict: false });
    addFormats(ajv);
    const validate = ajv.compile(readingsJsonSchema());
    const read = JSON.parse(await file("json"));
    expect(validate(read), JSON.stringify(validate.errors)).toBe(true);
    expect(read.readings).toHaveLength(samples.length);
    read.readings[0].verdict = "fine";
    expect(validate(read)).toBe(false);
  });
});

describe("the ledger", () => {
  const page = (query: object) => ledgerPage(bench.db, ledgerQuerySchema.parse(query), days);
  it("filters by verdict, text, day and site", async () => {
    expect((await page({ verdict: "qualified" })).rows.map((r) => r.sample)).toEqual(["plain"]);
    expect((await page({ text: 'bp, "THE' })).total).toBe(1);
    expect((await page({ text: "the" })).total).toBe(0);
    expect((await page({ text: "%" })).total).toBe(0);
    expect((await page({ from: "2026-04-13" })).total).toBe(0);
    expect((await page({ from: "2026-04-12", to: "2026-04-12" })).total).toBe(6);
    expect((await page({ site: "elsewhere" })).total).toBe(0);
  });
  it("sorts by what is asked and falls back from what it cannot read", async () => {
    const { rows } = await page({ sort: "value", order: "asc", after: "nonsense", verdict: "nice" });
    const values = rows.map((r) => r.value ?? 0);
    expect(values).toEqual([...values].sort((a, b) => a - b));
    expect(rows).toHaveLength(6);
  });

  it.each(
    ["measured_at", "value", "sample"].flatMap((sort) =>
      [false, true].map((common) => [sort, common] as const),
    ),
  )(
    "is walked through both ways by %s, each row once, whether the sample is common (%s) or not",
    async (sort, common) => {
      const days = dayBounds("UTC");
      for (const order of ["asc", "desc"]) {
        const query = ledgerQuerySchema.parse({ sort, order, text: "b" });
        const whole = (await pageOfIds(bench.db, query, days, 100, common)).ids;
        const forth: string[] = [];
        let after: string | undefined;
        for (let pages = 0; pages < 10; pages++) {
          const { ids, atEnd } = await pageOfIds(bench.db, { ...query, after }, days, 2, common);
          forth.push(...ids);
          const row = await bench
            .db("readings")
            .where({ id: ids.at(-1) })
            .first();
          after = placeOf(row, query);
          if (atEnd) break;
        }
        expect(forth).toEqual(whole);
        const { ids: last } = await pageOfIds(bench.db, { ...query, end: "last" }, days, 2, common);
        expect(last).toEqual(whole.slice(-2));
        const first = await bench.db("readings").where({ id: last[0] }).first();
        const { ids: before } = await pageOfIds(
          bench.db,
          { ...query, before: placeOf(first, query) },
          days,
          3,
          common,
        );
        expect(before).toEqual(whole.slice(-5, -2));
      }
    },
  );
});
