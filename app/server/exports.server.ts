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
    parameter: z.string(),
    value: z
      .number()
      .nullable()
      .meta({ description: "Mean of the portions that agree, drift taken out; null when none agree." }),
    measured_value: z.number().nullable().meta({ description: "The mean before any correction." }),
    grade: z.string().nullable().meta({ description: "Grade of a record whose check was off." }),
    unit: z.string(),
    temperature_c: z.number().nullable(),
    verdict: z.enum(["sound", "qualified", "held", "void"]),
    portions: z.array(z.number()).meta({ description: "Value of each portion measured, in order." }),
    meter: z.string(),
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
    version: z.literal(2),
    exported_at: z.string().meta({ format: "date-time" }),
    readings: z.array(exportedReadingSchema),
  })
  .strict();

/** The published JSON Schema of the readings file. */
export const readingsJsonSchema = () => ({
  ...z.toJSONSchema(readingsFileSchema, { target: "draft-7" }),
  title: "Brintel readings, version 2",
});

export function exportedReading(r: Reading): ExportedReading {
  const { calibration, portions } = r.evidence;
  return {
    id: r.id,
    taken_at: r.taken_at,
    site: r.site,
    sample: r.sample,
    parameter: r.parameter,
    value: r.value,
    measured_value: r.measured_value,
    grade: r.grade,
    unit: r.unit,
    temperature_c: r.temperature_c,
    verdict: r.verdict,
    portions: portions.map((p) => p.value),
    meter: r.meter,
    calibration_id: r.calibration_id,
    calibration: calibration?.headline ?? null,
    standard_lots: calibration?.points.flatMap((p) => p.lot_code ?? []) ?? [],
    findings: r.findings,
    observer: r.by,
    rules_version: r.rules_version,
  };
}

export const readingsJson = (readings: readonly Reading[], now: string): string =>
  JSON.stringify(
    { format: "brintel-readings", version: 2, exported_at: now, readings: readings.map(exportedReading) },
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
