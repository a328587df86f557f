import { z } from "zod";
import { foundOfEntry, readEntry } from "../quantity/entry";
import type { Found } from "../quantity/found";
import { siblingSpecies } from "../quantity/species";
import { columnsByHead } from "../quantity/tableHead";
import { type Unit, unitNamed } from "../quantity/unit";
import { dateOrderSchema, readWrittenMoment } from "../time/written";
import type { SampleInBatch } from "./custody";
import type { LabResult } from "./custodyEvents";
import { type LabTest, labTestNamed, labUnit } from "./labTests";

/** What of a laboratory's file can be taken over. */
export const labFields = [
  "sample",
  "parameter",
  "value",
  "unit",
  "method",
  "detection_limit",
  "measured_at",
] as const;
export type LabField = (typeof labFields)[number];

/** Fields without which a line says nothing. */
export const neededFields: readonly LabField[] = ["sample", "parameter", "value"];

/** Which column of the file holds what, and in which order its dates are written. Kept for the next file of the laboratory. */
export const labMappingSchema = z.object({
  columns: z.partialRecord(z.enum(labFields), z.string().max(120)),
  dates: dateOrderSchema,
});
export type LabMapping = z.infer<typeof labMappingSchema>;

/** A line of the file that cannot be taken, and why. */
export interface RefusedLine {
  line: number;
  column: string;
  reason: string;
}

const guesses: Record<LabField, RegExp> = {
  sample: /sample|client.?id|label/i,
  parameter: /parameter|analyte|test|determinand/i,
  value: /^(value|result)/i,
  unit: /unit/i,
  method: /method/i,
  detection_limit: /limit|lod|loq|mdl/i,
  measured_at: /analy[sz]ed|measured|date/i,
};

/** Which columns a file's head suggests. Check value: a column “Result” is the value. */
export function guessMapping(head: readonly string[]): LabMapping {
  const guessed = labFields.map((field) => [field, guesses[field]] as const);
  return { columns: columnsByHead(head, guessed), dates: "year-first" };
}

/** Whom the lines of a file are about. */
export interface LabContext {
  samples: readonly Pick<SampleInBatch, "id" | "code" | "collected_at">[];
  zone: string;
  /** The moment (ISO) at which the file is read: nothing was measured after it. */
  now: string;
}

/** A value as it was written, as a finding in the unit of the ledger; a sentence where it is none. */
export function readFound(
  written: string,
  unit: Unit | string,
  test: LabTest,
): { found: Found } | { message: string } {
  const own = unitNamed(test.unit);
  const given = unitNamed(unit);
  // Counts have no unit that converts; a concentration is brought to the ledger's.
  if (own === "" ? unit !== test.unit : given === "")
    return { message: `“${unit}” is not a unit for ${test.analyte}. It is kept in ${test.unit}.` };
  if (/^(not detected|nd|n\.d\.)$/i.test(written.trim()))
    return { message: "“Not detected” needs its limit: write it as < with the detection limit." };
  const whole = given === "" ? written : `${written} ${given}`;
  const read = foundOfEntry(readEntry(whole, own));
  // What is not understood is shown as it stood there.
  return "message" in read ? { message: read.message.replace(whole, written) } : read;
}

export const negative = (found: Found) =>
  (found.kind === "value" && found.value < 0) || (found.kind === "interval" && found.low < 0);

/**
 * Reads the lines of a laboratory's file by a mapping: what can be taken as results of the batch, and every line that cannot, with its
 * column and the reason. Nothing is taken that is not understood. Line 1 is the file's head. Check value: "<0.03" mg/L is below 0.03.
 */
export function readLabLines(
  rows: readonly { line: number; cells: Record<string, string> }[],
  mapping: LabMapping,
  context: LabContext,
): { results: LabResult[]; refused: RefusedLine[] } {
  const results: LabResult[] = [];
  const refused: RefusedLine[] = [];
  const seen = new Map<string, number>();
  for (const { line, cells } of rows) {
    const read = readLine(cells, line, mapping, context);
    if ("reason" in read) {
      refused.push(read);
      continue;
    }
    const key = `${read.sample_id} ${read.parameter}`;
    const before = seen.get(key);
    if (before !== undefined) {
      const column = mapping.columns.parameter ?? "";
      refused.push({ line, column, reason: `The same test of the same sample stands in line ${before}.` });
      continue;
    }
    seen.set(key, line);
    results.push(read);
  }
  return { results, refused };
}

function readLine(
  row: Record<string, string>,
  line: number,
  { columns, dates }: LabMapping,
  { samples, zone, now }: LabContext,
): LabResult | RefusedLine {
  const cell = (field: LabField) => (row[columns[field] ?? ""] ?? "").trim();
  const refuse = (field: LabField, reason: string): RefusedLine => ({
    line,
    column: columns[field] ?? field,
    reason,
  });
  const id = cell("sample");
  const sample = samples.find((s) => s.id === id || s.code.toLowerCase() === id.toLowerCase());
  if (!sample) return refuse("sample", id ? `No sample “${id}” is in this batch.` : "No sample is named.");
  const name = cell("parameter");
  const known = labTestNamed(name);
  if (!known) return refuse("parameter", name ? `“${name}” is not a test we know.` : "No test is named.");
  const { test } = known;
  const written = cell("value");
  if (!written) return refuse("value", "There is no value.");
  const said = cell("unit");
  const [unitText = "", as] = said.split(/\s+as\s+/i);
  const species = as ?? known.species ?? test.species;
  if (species !== test.species && !siblingSpecies(test.species).includes(species))
    return refuse("parameter", `${test.analyte} is not reported as ${species} here.`);
  const value = readFound(written, unitText ? labUnit(unitText) : test.unit, test);
  if ("message" in value)
    return refuse(said && value.message.includes("unit") ? "unit" : "value", value.message);
  if (negative(value.found)) return refuse("value", `A concentration is not below zero: ${written}.`);
  const limitText = cell("detection_limit");
  const limit = limitText
    ? readFound(limitText.replace(/^</, ""), unitText ? labUnit(unitText) : test.unit, test)
    : null;
  if (limit && ("message" in limit || limit.found.kind !== "value"))
    return refuse("detection_limit", `“${limitText}” is not a detection limit.`);
  const dateText = cell("measured_at");
  const measured_at = dateText ? readWrittenMoment(dateText, dates, zone) : null;
  if (dateText && !measured_at)
    return refuse(
      "measured_at",
      `“${dateText}” is not a date in the order chosen. Look at the order of dates.`,
    );
  if (measured_at && measured_at > now) return refuse("measured_at", `${dateText} lies in the future.`);
  if (measured_at && Date.parse(measured_at) < Date.parse(sample.collected_at) - 86_400_000)
    return refuse("measured_at", `${dateText} lies before the water was taken.`);
  return {
    sample_id: sample.id,
    parameter: test.parameter,
    analyte: test.analyte,
    species,
    unit: test.unit,
    decimals: test.decimals,
    found: value.found,
    written,
    written_unit: said || test.unit,
    method: cell("method") || null,
    detection_limit: limit && "found" in limit && limit.found.kind === "value" ? limit.found.value : null,
    measured_at,
    line,
  };
}
