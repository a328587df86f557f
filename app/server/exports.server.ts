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
    value: z.number().nullable().meta({ description: "Mean of the portions that agree; null when none do." }),
    unit: z.string(),
    temperature_c: z.number().nullable(),
    verdict: z.enum(["sound", "qualified", "held", "void"]),
    portions: z.array(z.number()).meta({ description: "pH of each portion measured, in order." }),
    meter: z.string(),
    calibration_id: z.string().nullable(),
    slope_percent: z.number().nullable(),
    offset_mv: z.number().nullable(),
    buffer_lots: z.array(z.string()),
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
    version: z.literal(1),
    exported_at: z.string().meta({ format: "date-time" }),
    readings: z.array(exportedReadingSchema),
  })
  .strict();

/** The published JSON Schema of the readings file. */
export const readingsJsonSchema = () => ({
  ...z.toJSONSchema(readingsFileSchema, { target: "draft-7" }),
  title: "Brintel readings, version 1",
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
    unit: r.unit,
    temperature_c: r.temperature_c,
    verdict: r.verdict,
    portions: portions.map((p) => p.ph),
    meter: r.meter,
    calibration_id: r.calibration_id,
    slope_percent: calibration?.slope_percent ?? null,
    offset_mv: calibration?.offset_mv ?? null,
    buffer_lots: calibration?.points.map((p) => p.lot_code) ?? [],
    findings: r.findings,
    observer: r.by,
    rules_version: r.rules_version,
  };
}

export const readingsJson = (readings: readonly Reading[], now: string): string =>
  JSON.stringify(
    { format: "brintel-readings", version: 1, exported_at: now, readings: readings.map(exportedReading) },
    null,
    2,
  );

/** A cell a spreadsheet would take for a formula gets an apostrophe in front; numbers stay numbers. */
export const neutralised = (text: string): string => (/^[=+\-@\t\r]/.test(text) ? `'${text}` : text);

/** The readings as RFC 4180: comma, CRLF, quotes where needed, a header line, UTF-8 with a mark for spreadsheets. */
export function readingsCsv(readings: readonly Reading[]): string {
  const rows = readings.map(exportedReading).map((r) => ({
    ...r,
    portions: r.portions.map((ph) => ph.toFixed(3)).join("; "),
    buffer_lots: r.buffer_lots.join("; "),
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
