import { stringify } from "csv-stringify/sync";
import { z } from "zod";
import type { Reading } from "./readings.server";

/** One exported reading: the published shape of the JSON file and the columns of the CSV file. */
const exportedReadingSchema = z
  .object({
    id: z.string().meta({ description: "Stable id of the reading." }),
    taken_at: z.string().meta({ format: "date-time", description: "When it was finished, UTC." }),
    site: z.string(),
    sample: z.string(),
    source: z.enum(["meter", "analysis"]),
    parameter: z.string(),
    analyte: z.string().meta({ description: "What was measured and what it is given as." }),
    value: z
      .number()
      .nullable()
      .meta({ description: "Mean of the portions that agree, drift taken out; null when none agree." }),
    measured_value: z.number().nullable().meta({ description: "The mean before any correction." }),
    relation: z
      .enum(["=", "<", ">", "between", "none"])
      .meta({ description: "How the value or its ends are to be read; `<` has only a high end." }),
    low: z.number().nullable(),
    high: z.number().nullable(),
    grade: z.string().nullable().meta({ description: "Grade of a record whose check was off." }),
    unit: z.string(),
    temperature_c: z.number().nullable(),
    verdict: z.enum(["sound", "qualified", "held", "void"]),
    portions: z.array(z.number()).meta({ description: "Value of each portion measured, in order." }),
    meter: z.string().meta({ description: "Code of the meter, or name of the method." }),
    calibration_id: z.string().nullable(),
    calibration: z.string().nullable().meta({ description: "What the calibration in force is known by." }),
    standard_lots: z.array(z.string()),
    findings: z.array(
      z.object({
        rule: z.string(),
        severity: z.enum(["ok", "qualify", "hold"]),
        measured: z.string(),
        limit: z.string(),
        sentence: z.string(),
        action: z.string(),
      }),
    ),
    observer: z.string(),
    rules_version: z.number().int(),
  })
  .strict();
export type ExportedReading = z.output<typeof exportedReadingSchema>;

export const readingsFileSchema = z
  .object({
    format: z.literal("brintel-readings"),
    version: z.literal(3),
    exported_at: z.string().meta({ format: "date-time" }),
    readings: z.array(exportedReadingSchema),
  })
  .strict();

/** The published JSON Schema of the readings file. */
export const readingsJsonSchema = () => ({
  ...z.toJSONSchema(readingsFileSchema, { target: "draft-7" }),
  title: "Brintel readings, version 3",
});

export function exportedReading(r: Reading): ExportedReading {
  const calibration = r.source === "meter" ? r.evidence.calibration : null;
  const portions =
    r.source === "meter"
      ? r.evidence.portions.map((p) => p.value)
      : r.evidence.replicates.flatMap((p) => (p.found?.kind === "value" ? [p.found.value] : []));
  return {
    id: r.id,
    taken_at: r.taken_at,
    site: r.site,
    sample: r.sample,
    source: r.source,
    parameter: r.parameter,
    analyte: r.analyte,
    value: r.value,
    measured_value: r.measured_value,
    relation: relationOf(r),
    low: r.low,
    high: r.high,
    grade: r.grade,
    unit: r.unit,
    temperature_c: r.temperature_c,
    verdict: r.verdict,
    portions,
    meter: r.meter,
    calibration_id: r.calibration_id,
    calibration: calibration?.headline ?? null,
    standard_lots: calibration?.points.flatMap((p) => p.lot_code ?? []) ?? [],
    findings: r.findings,
    observer: r.by,
    rules_version: r.rules_version,
  };
}

function relationOf(r: Reading): ExportedReading["relation"] {
  if (r.low === null && r.high === null) return r.value === null ? "none" : "=";
  if (r.low === null) return "<";
  if (r.high === null) return ">";
  return r.low === r.high ? "=" : "between";
}

export const readingsJson = (readings: readonly Reading[], now: string): string =>
  JSON.stringify(
    { format: "brintel-readings", version: 3, exported_at: now, readings: readings.map(exportedReading) },
    null,
    2,
  );

/** A cell a spreadsheet would take for a formula gets an apostrophe in front; numbers stay numbers. */
export const neutralised = (text: string): string => (/^[=+\-@\t\r]/.test(text) ? `'${text}` : text);

/** The readings as RFC 4180: comma, CRLF, quotes where needed, a header line, UTF-8 with a mark for spreadsheets. */
export function readingsCsv(readings: readonly Reading[]): string {
  const rows = readings.map(exportedReading).map((r) => ({
    ...r,
    portions: r.portions.map((value) => value.toFixed(3)).join("; "),
    standard_lots: r.standard_lots.join("; "),
    findings: r.findings
      .filter((f) => f.severity !== "ok")
      .map((f) => `${f.rule}: ${f.measured} (limit ${f.limit})`)
      .join("; "),
  }));
  return stringify(rows, {
    header: true,
    bom: true,
    record_delimiter: "windows",
    columns: Object.keys(exportedReadingSchema.shape),
    cast: { string: (value) => neutralised(value) },
  });
}
