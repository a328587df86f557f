import { stringify } from "csv-stringify/sync";
import { z } from "zod";
import { resultKinds } from "../../../core/bench/resultKinds";
import { verdicts } from "../../../core/judgement/finding";
import { isSimulated } from "../../../core/results/rules/source";
import type { LimitSet } from "../../../core/rules/limitSets";
import type { Reading } from "../results/readings.server";
import { meaningsKept } from "../sites/meaning.server";

/** One exported reading: the published shape of the JSON file and the columns of the CSV file. */
export const exportedReadingSchema = z
  .object({
    id: z.string().meta({ description: "Stable id of the reading." }),
    collected_at: z.string().nullable().meta({
      format: "date-time",
      description: "When the water was taken, UTC; null when it was measured in place.",
    }),
    measured_at: z.string().meta({
      format: "date-time",
      description: "When the last portion or read that counts was taken, UTC.",
    }),
    finished_at: z.string().meta({ format: "date-time", description: "When it was judged, UTC." }),
    site: z.string(),
    sample: z.string(),
    source: z.enum(["meter", "analysis", "laboratory", "imported", "derived"]),
    kind: z.enum(resultKinds).meta({ description: "The water itself, or a check of its batch." }),
    bottle: z
      .string()
      .nullable()
      .meta({ description: "Lot of the control, the standard or the addition; null for a sample." }),
    parameter: z.string(),
    analyte: z.string().meta({ description: "What was measured and what it is given as." }),
    value: z
      .number()
      .nullable()
      .meta({ description: "Mean of the portions that agree, drift taken out; null when none agree." }),
    measured_value: z.number().nullable().meta({ description: "The mean before any correction." }),
    relation: z
      .enum(["equal", "less-than", "greater-than", "between", "none"])
      .meta({ description: "How the value or its ends are to be read; `less-than` has only a high end." }),
    simulated: z
      .boolean()
      .meta({ description: "Whether a simulated instrument took part: practice, no record." }),
    low: z.number().nullable(),
    high: z.number().nullable(),
    standard_uncertainty: z.number().nullable().meta({
      description: "In the unit of the value; null where nobody can say. Expanded (k = 2) it is twice that.",
    }),
    grade: z.string().nullable().meta({ description: "Grade of a record whose check was off." }),
    unit: z.string(),
    temperature_c: z.number().nullable(),
    verdict: z.enum(verdicts),
    meanings: z
      .array(z.object({ set: z.string(), words: z.string(), kept: z.boolean().nullable() }))
      .meta({ description: "What the value means by the limits that were chosen when it was written." }),
    portions: z.array(z.number()).meta({ description: "Value of each portion measured, in order." }),
    meter: z.string().meta({ description: "Code of the meter, or name of the method." }),
    calibration_id: z.string().nullable(),
    calibration: z.string().nullable().meta({ description: "What the calibration in force is known by." }),
    standard_lots: z.array(z.string()),
    reagent_lots: z
      .array(z.string())
      .meta({ description: "Lots of reagents, kits and titrants, by their codes." }),
    derived_from: z
      .array(z.string())
      .meta({ description: "Ids of the readings that a derived one rests on." }),
    /** What stands against it; what is fine is left out. */
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

const readingsFileSchema = z
  .object({
    format: z.literal("brintel-readings"),
    version: z.literal(8),
    exported_at: z.string().meta({ format: "date-time" }),
    readings: z.array(exportedReadingSchema),
  })
  .strict();

/** The published JSON Schema of the readings file. */
export const readingsJsonSchema = () => ({
  ...z.toJSONSchema(readingsFileSchema, { target: "draft-7" }),
  title: "Brintel readings, version 8",
});

export function exportedReading(r: Reading, sets: readonly LimitSet[]): ExportedReading {
  const calibration = r.source === "meter" ? r.evidence.calibration : null;
  return {
    id: r.id,
    collected_at: r.collected_at,
    measured_at: r.measured_at,
    finished_at: r.finished_at,
    site: r.site,
    sample: r.sample,
    source: r.source,
    kind: r.kind,
    bottle: r.subject_code,
    parameter: r.parameter,
    analyte: r.analyte,
    value: r.value,
    measured_value: r.measured_value,
    relation: relationOf(r),
    simulated: isSimulated(r.evidence),
    low: r.low,
    high: r.high,
    standard_uncertainty: r.uncertainty,
    grade: r.grade,
    unit: r.unit,
    temperature_c: r.temperature_c,
    verdict: r.verdict,
    meanings: meaningsKept(r, sets).map(({ id, words, kept }) => ({ set: id, words, kept })),
    portions: portionsOf(r),
    meter: r.meter,
    calibration_id: r.calibration_id,
    calibration: calibration?.headline ?? null,
    standard_lots: calibration?.points.flatMap((p) => p.lot_code ?? []) ?? [],
    reagent_lots: r.source === "analysis" ? r.evidence.lots.map((l) => l.code) : [],
    derived_from: r.source === "derived" ? r.evidence.from.map((s) => s.reading_id) : [],
    findings: r.findings,
    observer: r.by,
    rules_version: r.rules_version,
  };
}

function portionsOf(r: Reading): number[] {
  if (r.source === "meter") return r.evidence.portions.map((p) => p.value);
  if (r.source === "laboratory" || r.source === "imported" || r.source === "derived") return [];
  return r.evidence.replicates.flatMap((p) => (p.found?.kind === "value" ? [p.found.value] : []));
}

function relationOf(r: Reading): ExportedReading["relation"] {
  if (r.low === null && r.high === null) return r.value === null ? "none" : "equal";
  if (r.low === null) return "less-than";
  if (r.high === null) return "greater-than";
  return r.low === r.high ? "equal" : "between";
}

/** The JSON file in pieces: its head, readings as they come, its foot. */
export const jsonHead = (now: string): string =>
  `{"format":"brintel-readings","version":8,"exported_at":${JSON.stringify(now)},"readings":[\n`;
export const jsonRows = (readings: readonly Reading[], sets: readonly LimitSet[], first: boolean): string =>
  readings
    .map((r, i) => `${first && i === 0 ? "" : ",\n"}${JSON.stringify(exportedReading(r, sets))}`)
    .join("");
export const jsonFoot = "\n]}\n";

/** A cell a spreadsheet would take for a formula gets an apostrophe in front; numbers stay numbers. */
export const neutralised = (text: string): string => (/^[=+\-@\t\r]/.test(text) ? `'${text}` : text);

export const csvColumns = Object.keys(exportedReadingSchema.shape);

const csv = (rows: readonly Record<string, unknown>[], header: boolean): string =>
  stringify([...rows], {
    header,
    bom: header,
    record_delimiter: "windows",
    columns: csvColumns,
    cast: { string: (value) => neutralised(value), boolean: String },
  });

/** The CSV file's first line, with a mark for spreadsheets. RFC 4180: comma, CRLF, quotes where needed, UTF-8. */
export const csvHead = (): string => csv([], true);

/** Readings as lines of the CSV file. */
export const csvRows = (readings: readonly Reading[], sets: readonly LimitSet[]): string =>
  csv(
    readings
      .map((r) => exportedReading(r, sets))
      .map((r) => ({
        ...r,
        meanings: r.meanings.map((m) => `${m.words} (${m.set})`).join(" "),
        portions: r.portions.map((value) => value.toFixed(3)).join("; "),
        standard_lots: r.standard_lots.join("; "),
        reagent_lots: r.reagent_lots.join("; "),
        derived_from: r.derived_from.join("; "),
        findings: r.findings.map((f) => `${f.rule}: ${f.measured} (limit ${f.limit})`).join("; "),
      })),
    false,
  );
