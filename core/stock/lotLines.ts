import { z } from "zod";
import { columnsByHead } from "../quantity/tableHead";
import { bufferIds, phBuffers } from "../reference/phBuffers";
import { redoxStandards } from "../reference/redox";
import { dateOrderSchema, guessDateOrder, readWrittenDay } from "../time/written";
import { hazardNames } from "./hazards";
import { standardFacts, standardKinds } from "./standard";
import { supplyFacts, supplyKinds } from "./supply";

/** A line of a file, by the names of its columns. */
type Row = Readonly<Record<string, string>>;

/** What of a file's columns can be taken over into a lot: the names of the fields of its form. */
export const lotFields = [
  "kind",
  "material",
  "code",
  "name",
  "value",
  "percent_per_c",
  "uncertainty",
  "serves",
  "strength",
  "strength_u",
  "strength_unit",
  "strength_of",
  "formula",
  "purity_percent",
  "received_on",
  "opened_on",
  "expires_on",
  "shelf_life_open_days",
  "size",
  "unit",
  "portion",
  "place",
  "hazard",
] as const;
export type LotField = (typeof lotFields)[number];

export const lotMappingSchema = z.object({
  columns: z.partialRecord(z.enum(lotFields), z.string().max(120)),
  dates: dateOrderSchema,
});
export type LotMapping = z.infer<typeof lotMappingSchema>;

/** In which order columns are given away: what is told best by its head comes first. */
const guesses: readonly [LotField, RegExp][] = [
  ["expires_on", /expir|best before|use by/i],
  ["received_on", /receiv|arriv/i],
  ["shelf_life_open_days", /keeps|shelf.?life|days.*open|open.*days/i],
  ["opened_on", /^open/i],
  ["strength_u", /strength.*uncertainty|uncertainty.*strength/i],
  ["strength_unit", /strength.*unit/i],
  ["strength_of", /strength of/i],
  ["strength", /strength|normality/i],
  ["uncertainty", /uncertainty|^u$/i],
  ["percent_per_c", /coefficient/i],
  ["purity_percent", /purity/i],
  ["formula", /formula/i],
  ["serves", /serves|used as/i],
  ["material", /material|which (buffer|standard)/i],
  ["hazard", /hazard|pictogram/i],
  ["portion", /portion|one use|per (use|test)/i],
  ["size", /size|content|amount|volume|quantity/i],
  ["unit", /^units?$|counted in/i],
  ["value", /value|nominal|certified/i],
  ["place", /place|shelf|stands|location/i],
  ["kind", /kind|type|category/i],
  ["code", /^lot|code|batch/i],
  ["name", /name|product|reagent|item|standard/i],
];

/** Which columns a file's head suggests, and in which order its dates are written. Check value: of “Kind, Lot, Name, Expires” all four are known. */
export function guessLots(head: readonly string[], rows: readonly Row[] = []): LotMapping {
  const columns = columnsByHead(head, guesses);
  const dates = rows.map((r) => r[columns.expires_on ?? ""] ?? "").filter(Boolean);
  return { columns, dates: guessDateOrder(dates) };
}

/** Whether a table is one of lots and not of results: it says of each line which lot it is and when that expires. */
export function looksLikeLots(head: readonly string[]): boolean {
  const { columns } = guessLots(head);
  return columns.expires_on !== undefined && columns.code !== undefined;
}

/** What the columns of a file leave open; null where it can be read. A sentence. */
export function unmappedLots(head: readonly string[], { columns }: LotMapping): string | null {
  const has = (field: LotField) => head.includes(columns[field] ?? "");
  if (!has("kind")) return "Say which column names the kind: pH buffer, titrant, test kit.";
  if (!has("code")) return "Say which column holds the lot on the bottle.";
  if (!has("expires_on")) return "Say which column says when it expires.";
  return null;
}

const plain = (text: string) =>
  text
    .trim()
    .toLowerCase()
    .replace(/[-_\s]+/g, " ");
const kinds = new Map<string, string>([
  ...standardKinds.flatMap((k): [string, string][] => [
    [plain(k), k],
    [plain(standardFacts[k].words), k],
  ]),
  ...supplyKinds.flatMap((k): [string, string][] => [
    [plain(k), k],
    [plain(supplyFacts[k].words), k],
    [plain(supplyFacts[k].many), k],
  ]),
  ["kit", "kit"],
  ["standard conductivity", "conductivity-standard"],
]);

/** Which kind of thing a line means; null where none is known by it. Check value: "Test strips" is strips. */
export const lotKindNamed = (text: string): string | null => kinds.get(plain(text)) ?? null;

/** Which buffer or redox standard a text names, by its id or its name; the text itself where it is none. */
function materialNamed(text: string): string {
  const sought = plain(text);
  const buffer = bufferIds.find((id) => plain(id) === sought || plain(phBuffers[id].name) === sought);
  return buffer ?? redoxStandards.find((id) => plain(id) === sought) ?? text.trim();
}

const days: readonly LotField[] = ["received_on", "opened_on", "expires_on"];
const lists: readonly LotField[] = ["serves", "hazard"];

export interface LotEntry {
  /** What a person would have put into each field of the form. */
  fields: Partial<Record<LotField | "reference", readonly string[]>>;
  /** Cells that are not understood. */
  wrong: { field: LotField; reason: string }[];
}

/**
 * A line of a file as the fields of a lot's form, to be read and checked like one that was filled in by hand. Several names stand
 * in one cell with semicolons between them. Check value: the kind "pH buffer" and the material "Technical 7.00" are those of a buffer of 7.
 */
export function readLotLine(row: Row, { columns, dates }: LotMapping): LotEntry {
  const fields: LotEntry["fields"] = {};
  const wrong: LotEntry["wrong"] = [];
  for (const field of lotFields) {
    const text = (row[columns[field] ?? ""] ?? "").trim();
    if (text === "") continue;
    if (days.includes(field)) {
      const day = readWrittenDay(text, dates);
      if (day) fields[field] = [day];
      else
        wrong.push({
          field,
          reason: `“${text.slice(0, 40)}” is not a date in the order chosen. Look at the order of dates.`,
        });
    } else if (lists.includes(field)) {
      const parts = text
        .split(/[;|]/)
        .map((part) => part.trim())
        .filter(Boolean);
      const unknown =
        field === "hazard" && parts.find((p) => !(hazardNames as readonly string[]).includes(plain(p)));
      if (unknown)
        wrong.push({ field, reason: `“${unknown.slice(0, 40)}” is none of ${hazardNames.join(", ")}.` });
      else fields[field] = field === "hazard" ? parts.map(plain) : parts;
    } else fields[field] = [text];
  }
  const kind = fields.kind?.[0];
  if (kind !== undefined) {
    const known = lotKindNamed(kind);
    if (known) fields.kind = [known];
    else wrong.push({ field: "kind", reason: `“${kind.slice(0, 40)}” is no kind that is known here.` });
  } else wrong.push({ field: "kind", reason: "There is no kind." });
  if (fields.material) fields.material = [materialNamed(fields.material[0] ?? "")];
  // Many lists name a buffer by its name alone.
  else if (fields.name && materialNamed(fields.name[0] ?? "") !== fields.name[0])
    fields.material = [materialNamed(fields.name[0] ?? "")];
  if (fields.kind?.[0] === "redox-standard") fields.reference = ["agcl-sat"];
  return { fields, wrong };
}

const placed: readonly [RegExp, LotField][] = [
  [/^table/, "value"],
  [/^strength\.value/, "strength"],
  [/^strength\.uncertainty/, "strength_u"],
  [/^strength\.unit/, "strength_unit"],
  [/^strength\.of/, "strength_of"],
  [/^hazards/, "hazard"],
  [/^serves/, "serves"],
];

/** In which field of a line something is wrong, from its place in a lot. Check value: "table.0.value" is the certified value. */
export const lotFieldOf = (path: string): LotField | null =>
  placed.find(([pattern]) => pattern.test(path))?.[1] ??
  lotFields.find((f) => f === path.split(".")[0]) ??
  null;
