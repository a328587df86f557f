import { createHash } from "node:crypto";
import Papa from "papaparse";
import { describe, expect, it } from "vitest";
import { benchForEachTest } from "../testing/benchForEachTest";
import { calibratedPh, phReading } from "../testing/testBench";
import { unzip } from "../testing/unzip";
import { readingFields } from "./dataPackage.server";
import { csvColumns } from "./exports.server";
import { exportOf } from "./ledgerExport.server";

const use = benchForEachTest();

/** What a reader of the description makes of a cell. Source: Frictionless Table Schema 1, types and missing values. */
function read(cell: string, field: ReturnType<typeof readingFields>[number]): unknown {
  if (cell === "") {
    if ("required" in field.constraints) throw new Error(`${field.name} is missing.`);
    return null;
  }
  switch (field.type) {
    case "number":
    case "integer": {
      const value = Number(cell);
      if (!Number.isFinite(value) || (field.type === "integer" && !Number.isInteger(value)))
        throw new Error(`${field.name}: ${cell} is no ${field.type}.`);
      return value;
    }
    case "boolean":
      if (cell === "true") return true;
      if (cell === "false") return false;
      throw new Error(`${field.name}: ${cell} is neither.`);
    case "datetime":
      if (!/^\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d(\.\d+)?Z$/.test(cell))
        throw new Error(`${field.name}: ${cell} is no moment.`);
      return cell;
    default: {
      const { enum: choice } = field.constraints as { enum?: string[] };
      if (choice && !choice.includes(cell)) throw new Error(`${field.name}: ${cell} is none of its words.`);
      return cell;
    }
  }
}

describe("a data package", () => {
  it("describes every column, with the words of the schema that the JSON file has", () => {
    const fields = readingFields();
    expect(fields.map((f) => f.name)).toEqual(csvColumns);
    const byName = new Map(fields.map((f) => [f.name, f]));
    expect(byName.get("value")).toMatchObject({ type: "number" });
    expect(byName.get("measured_at")).toMatchObject({ type: "datetime" });
    expect(byName.get("simulated")).toMatchObject({ type: "boolean" });
    expect(byName.get("verdict")?.constraints).toMatchObject({
      enum: ["sound", "qualified", "held", "void"],
    });
    expect(byName.get("portions")).toMatchObject({ type: "string" });
    expect(byName.get("rules_version")?.constraints).toMatchObject({ required: true });
  });

  it("is a zip whose file fits its description: size, hash, every cell", async () => {
    const { bench } = use;
    await calibratedPh(bench);
    await phReading(bench, -40, "2026-04-12T09:00:00.000Z", 'BP, "µ" 1');
    await phReading(bench, 420, "2026-04-12T10:00:00.000Z", "=1+1");
    const response = exportOf(bench.db, new URL("http://bench.test/ledger/export.zip?order=asc"), "zip");
    expect(response.headers.get("Content-Type")).toBe("application/zip");
    const files = await unzip(Buffer.from(await response.arrayBuffer()));
    expect([...files.keys()]).toEqual(["readings.csv", "datapackage.json"]);
    const csv = files.get("readings.csv") ?? Buffer.alloc(0);
    const { resources } = JSON.parse(files.get("datapackage.json")?.toString() ?? "");
    const [resource] = resources;
    expect(resource.bytes).toBe(csv.length);
    expect(resource.hash).toBe(`sha256:${createHash("sha256").update(csv).digest("hex")}`);
    expect(csv.subarray(0, 3).toString()).toBe("id,");
    const { data, errors } = Papa.parse<Record<string, string>>(csv.toString(), {
      header: true,
      skipEmptyLines: true,
      newline: resource.dialect.lineTerminator,
    });
    expect(errors).toEqual([]);
    const fields: ReturnType<typeof readingFields> = resource.schema.fields;
    const rows = data.map((row) =>
      Object.fromEntries(fields.map((f) => [f.name, read(row[f.name] ?? "", f)])),
    );
    expect(rows.map((r) => [r.sample, r.verdict, r.simulated, typeof r.value])).toEqual([
      ['BP, "µ" 1', "sound", true, "number"],
      ["'=1+1", "qualified", true, "number"],
    ]);
    expect(new Set(rows.map((r) => r[resource.schema.primaryKey])).size).toBe(2);
  });
});
