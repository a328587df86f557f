import { z } from "zod";
import { analyteName } from "../methods/methodWords";
import type { Found } from "../quantity/found";
import { measurandFacts, measurands } from "../quantity/measurand";
import { siblingSpecies } from "../quantity/species";
import { columnsByHead } from "../quantity/tableHead";
import { negative, type RefusedLine, readFound } from "../samples/labResults";
import { type LabTest, labTestNamed, labUnit } from "../samples/labTests";
import { dateOrderSchema, guessDateOrder, readWrittenMoment } from "../time/written";
import { momentReader } from "../time/zone";

/** A line of a file, by the names of its columns. */
type Row = Readonly<Record<string, string>>;

/** What of a file's columns can be taken over. A file may have a line for each result, or a column for each quantity. */
export const importFields = [
  "site",
  "measured_at",
  "time",
  "parameter",
  "value",
  "unit",
  "sample",
  "instrument",
  "observer",
] as const;
export type ImportField = (typeof importFields)[number];

export const importMappingSchema = z.object({
  columns: z.partialRecord(z.enum(importFields), z.string().max(120)),
  dates: dateOrderSchema,
  /** The site of all lines, where no column names it: the memory of one meter. */
  site: z.string().max(120),
});
export type ImportMapping = z.infer<typeof importMappingSchema>;

const guesses: Record<ImportField, RegExp> = {
  site: /site|station|location|place/i,
  measured_at: /date|measured|moment|timestamp/i,
  time: /^time$|clock/i,
  parameter: /parameter|analyte|determinand|quantity/i,
  value: /^(value|result)/i,
  unit: /^units?$/i,
  sample: /sample|label|bottle/i,
  instrument: /instrument|meter|method|device/i,
  observer: /observer|technician|measured.?by|^by$/i,
};

/** Which columns a file's head suggests. Dates say by themselves in which order they are written. Check value: of “Date, pH, EC (µS/cm)” the first is the moment, and two are quantities. */
export function guessImport(head: readonly string[], rows: readonly Row[] = []): ImportMapping {
  const guessed = importFields.map((field) => [field, guesses[field]] as const);
  // A column named after a quantity holds its values.
  const columns = columnsByHead(head, guessed, (h) => !quantityOf(h));
  const dates = rows.map((r) => r[columns.measured_at ?? ""] ?? "").filter(Boolean);
  return { columns, dates: guessDateOrder(dates), site: "" };
}

const meterTests: readonly LabTest[] = measurands
  .filter((m) => m !== "absorbance" && m !== "volume")
  .map((m) => {
    const { name, species, unit, decimals } = measurandFacts[m];
    return { parameter: m, analyte: name, species, unit, decimals };
  });

const meterNames: Record<string, string> = {
  ec: "conductivity",
  "electrical conductivity": "conductivity",
  "specific conductance": "conductivity",
  do: "oxygen",
  "dissolved oxygen": "oxygen",
  temp: "temperature",
  "water temperature": "temperature",
  orp: "redox",
};

/** What a name in a file means: what a meter measures, or a test. Undefined when none is known by it. Check value: "EC" is conductivity. */
export function quantityNamed(name: string): { test: LabTest; species?: string } | undefined {
  const key = name.trim().toLowerCase();
  const meter = meterTests.find(
    (t) => t.parameter === (meterNames[key] ?? key) || t.analyte.toLowerCase() === key,
  );
  return meter ? { test: meter } : labTestNamed(name);
}

/** The quantity that a column's head names, with the unit in its brackets. Check value: "EC (mS/cm)" is conductivity in mS/cm. */
export function quantityOf(head: string): { test: LabTest; species?: string; unit: string } | undefined {
  const match = /^([^([]+?)\s*(?:[([]([^)\]]+)[)\]])?\s*$/.exec(head);
  const found = match?.[1] ? quantityNamed(match[1]) : undefined;
  return found && { ...found, unit: match?.[2]?.trim() ?? "" };
}

/** A result of a file that can be taken over. */
export interface ImportedLine {
  line: number;
  site_id: string;
  parameter: string;
  analyte: string;
  species: string;
  unit: string;
  decimals: number;
  found: Found;
  written: string;
  measured_at: string;
  sample: string;
  instrument: string | null;
  observer: string | null;
}

/** What the ledger calls it: what a meter measures by its own name, a test with the species it is reported as. Check value: conductivity is "Conductivity". */
export const nameInLedger = (line: Pick<ImportedLine, "parameter" | "analyte" | "species">): string =>
  meterTests.some((t) => t.parameter === line.parameter) ? line.analyte : analyteName(line);

export interface ImportContext {
  /** Ids of sites by their names in small letters. */
  sites: ReadonlyMap<string, string>;
  zone: string;
  /** The moment (ISO) at which the file is read: nothing was measured after it. */
  now: string;
}

/** What the columns of a file leave open; null where it can be read. A sentence. */
export function unmappedOf(head: readonly string[], { columns, site }: ImportMapping): string | null {
  const has = (field: ImportField) => head.includes(columns[field] ?? "");
  if (!has("site") && !site) return "Say which column names the site, or of which site all lines are.";
  if (!has("measured_at")) return "Say which column holds the date.";
  if (has("parameter") && !has("value")) return "Say which column holds the value.";
  if (!has("parameter") && quantityColumns(head, columns).length === 0)
    return "Say which column names what was measured, or name a column after it: pH, EC (µS/cm), Nitrate as NO3-N.";
  return null;
}

/** The columns that each hold one quantity, of a file that has no column for its name. */
const quantityColumns = (head: readonly string[], columns: ImportMapping["columns"]) =>
  head.flatMap((h) => {
    const quantity = Object.values(columns).includes(h) ? undefined : quantityOf(h);
    return quantity ? [{ column: h, quantity }] : [];
  });

/**
 * Makes a reader of a file's lines by a mapping: what each gives that can be taken, and what of it cannot, with column and reason. Nothing is
 * taken that is not understood. Line 1 is the file's head. Check value: "<0.03" in a column "Nitrite (mg/L)" is below 0.03.
 */
export function importReader(
  head: readonly string[],
  mapping: ImportMapping,
  { sites, zone, now }: ImportContext,
): (row: Row, line: number) => { taken: ImportedLine[]; refused: RefusedLine[] } {
  const { columns, dates } = mapping;
  const wide = columns.parameter && head.includes(columns.parameter) ? null : quantityColumns(head, columns);
  // Lines of one visit bear the same moment: it is read once.
  const moments = new Map<string, string | null>();
  const local = momentReader(zone);
  const momentOf = (text: string) => {
    const known = moments.get(text);
    if (known !== undefined) return known;
    const read = readWrittenMoment(text, dates, zone, local);
    if (moments.size > 50_000) moments.clear();
    moments.set(text, read);
    return read;
  };
  return (row, line) => {
    const cell = (field: ImportField) => (row[columns[field] ?? ""] ?? "").trim();
    const refuse = (column: string | undefined, reason: string) => ({
      taken: [],
      refused: [{ line, column: column ?? "", reason }],
    });
    const name = cell("site") || mapping.site;
    const site_id = sites.get(name.toLowerCase());
    if (!site_id)
      return refuse(columns.site, name ? `No site is called “${name}” here.` : "No site is named.");
    const text = [cell("measured_at"), cell("time")].filter(Boolean).join(" ");
    const measured_at = text ? momentOf(text) : null;
    if (!measured_at)
      return refuse(
        columns.measured_at,
        text
          ? `“${text}” is not a date in the order chosen. Look at the order of dates.`
          : "There is no date.",
      );
    if (measured_at > now) return refuse(columns.measured_at, `${text} lies in the future.`);
    const sample = cell("sample");
    if (sample.length > 60) return refuse(columns.sample, "The name of a sample has at most 60 characters.");
    const common = {
      line,
      site_id,
      measured_at,
      sample,
      instrument: cell("instrument").slice(0, 120) || null,
      observer: cell("observer").slice(0, 120) || null,
    };
    const taken: ImportedLine[] = [];
    const refused: RefusedLine[] = [];
    const take = (column: string, read: Taken | string) => {
      if (typeof read === "string") refused.push({ line, column, reason: read });
      else taken.push({ ...common, ...read });
    };
    if (wide) {
      for (const { column, quantity } of wide) {
        const written = (row[column] ?? "").trim();
        // An empty cell of a wide file is what was not measured.
        if (written) take(column, takeValue(quantity, written, quantity.unit));
      }
      if (taken.length + refused.length === 0)
        return refuse(wide[0]?.column, "There is no value in this line.");
      return { taken, refused };
    }
    const parameter = cell("parameter");
    const quantity = quantityNamed(parameter);
    if (!quantity)
      return refuse(
        columns.parameter,
        parameter ? `“${parameter}” is not known here.` : "Nothing is named that was measured.",
      );
    const written = cell("value");
    if (!written) return refuse(columns.value, "There is no value.");
    take(columns.value ?? "", takeValue(quantity, written, cell("unit")));
    return { taken, refused };
  };
}

type Taken = Pick<
  ImportedLine,
  "parameter" | "analyte" | "species" | "unit" | "decimals" | "found" | "written"
>;

/** A value as it was written, in the unit of the ledger; a sentence where it is none. */
function takeValue(
  { test, species: named }: { test: LabTest; species?: string },
  written: string,
  said: string,
): Taken | string {
  const [unitText = "", as] = said.split(/\s+as\s+/i);
  const species = as ?? named ?? test.species;
  if (species !== test.species && !siblingSpecies(test.species).includes(species))
    return `${test.analyte} is not reported as ${species} here.`;
  const value = readFound(written, unitText ? labUnit(unitText) : test.unit, test);
  if ("message" in value) return value.message;
  if (negative(value.found) && test.parameter !== "temperature" && test.parameter !== "redox")
    return `${test.analyte} is not below zero: ${written}.`;
  const { parameter, analyte, unit, decimals } = test;
  return { parameter, analyte, species, unit, decimals, found: value.found, written: written.slice(0, 120) };
}
