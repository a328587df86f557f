import { createHash } from "node:crypto";
import { promisify } from "node:util";
import { deflateRaw, inflateRaw } from "node:zlib";
import type { Knex } from "knex";
import { ulid } from "ulid";
import { z } from "zod";
import { guessImport, type ImportMapping, importMappingSchema } from "../../../core/results/importLines";
import type { RefusedLine } from "../../../core/samples/labResults";
import { guessLots, type LotMapping, looksLikeLots, lotMappingSchema } from "../../../core/stock/lotLines";
import { writeJournal } from "../platform/journal.server";
import { readTable, type TextTable } from "../platform/readTable.server";
import type { Actor, Right } from "../platform/rights.server";
import { write } from "../platform/write.server";

const deflate = promisify(deflateRaw);
const inflate = promisify(inflateRaw);

/** So many lines, and so many bytes, are what one file may have. */
export const importLimits = { lines: 200_000, bytes: 30 * 1024 * 1024 } as const;

/** Reads a file as a table of lots or results. Errors: a sentence that names the line. */
function readFile(text: string): TextTable | { message: string } {
  if (text.trim() === "") return { message: "Choose a file with at least one line." };
  const table = readTable(text);
  if ("message" in table) return table;
  if (table.head.length < 2)
    return { message: "Its first line names the columns, and at least one line follows." };
  if (table.head.length > 200) return { message: "More than 200 columns: this is no table of results." };
  if (table.rows.length > importLimits.lines)
    return { message: `More than ${importLimits.lines} lines. Bring it in by parts.` };
  return table;
}

interface Brought {
  id: string;
  at: string;
  by: string;
  name: string;
  sha256: string;
  lines: number;
  status: "looked" | "taken" | "undone";
  taken: number | null;
  settled_at: string | null;
}
export type ResultsFile = Brought & { kind: "results"; mapping: ImportMapping };
export type LotsFile = Brought & { kind: "lots"; mapping: LotMapping };
export type MethodsFile = Brought & { kind: "methods"; mapping: null };
/** A file that was brought in, by what it holds. */
export type ImportRow = ResultsFile | LotsFile | MethodsFile;

const headKey = (head: readonly string[]): string => head.join("\t").slice(0, 250);

/** How the last file with this head was understood; otherwise a guess. */
async function mappingFor(
  db: Knex,
  kind: "results" | "lots",
  { head, rows }: TextTable,
): Promise<ImportMapping | LotMapping> {
  const row: { mapping: string } | undefined = await db("import_mappings")
    .where({ head: headKey(head) })
    .first("mapping");
  const schema = kind === "lots" ? lotMappingSchema : importMappingSchema;
  const known = row && schema.safeParse(JSON.parse(row.mapping)).data;
  const first = rows.slice(0, 200).map((row) => row.cells);
  return known ?? (kind === "lots" ? guessLots : guessImport)(head, first);
}

/** What a file holds that is looked at for the first time, and how it is understood. Errors: a sentence. */
async function understand(
  db: Knex,
  text: string,
): Promise<Pick<ImportRow, "kind" | "mapping" | "lines"> | { message: string }> {
  if (/^\s*[[{]/.test(text)) {
    const documents = readDocuments(text);
    return "message" in documents ? documents : { kind: "methods", mapping: null, lines: documents.length };
  }
  const table = readFile(text);
  if ("message" in table) return table;
  const kind = looksLikeLots(table.head) ? "lots" : "results";
  return { kind, mapping: await mappingFor(db, kind, table), lines: table.rows.length };
}

/** As many documents as one file may have. */
const mostDocuments = 50;

/** Reads a file of one or several JSON documents. Errors: a sentence. */
function readDocuments(text: string): unknown[] | { message: string } {
  let read: unknown;
  try {
    read = JSON.parse(text.replace(/^\uFEFF/, ""));
  } catch {
    return { message: "This begins like a JSON document and is none. Look for what is missing at its end." };
  }
  const documents = Array.isArray(read) ? read : [read];
  if (documents.length === 0) return { message: "There is nothing in this file." };
  if (documents.length > mostDocuments)
    return { message: `More than ${mostDocuments} documents. Bring them in by parts.` };
  return documents;
}

/** Keeps a file so that it can be looked at before anything of it is taken over. Returns its id; a sentence where it cannot be read. */
export async function bringFile(
  db: Knex,
  { name, text }: { name: string; text: string },
  actor: Actor,
  now: string,
): Promise<{ id: string } | { message: string }> {
  const found = await understand(db, text);
  if ("message" in found) return found;
  const sha256 = createHash("sha256").update(text).digest("hex");
  const before: { id: string; at: string } | undefined = await db("imports")
    .where({ sha256, status: "taken" })
    .first("id", "at");
  if (before) return { message: "This file was taken over before; it is in the list below." };
  const content = await deflate(text);
  return write(db, actor, "import", async (trx) => {
    const open: { id: string } | undefined = await trx("imports")
      .where({ sha256, status: "looked" })
      .first("id");
    if (open) return open;
    const id = ulid(Date.parse(now));
    await trx("imports").insert({
      id,
      at: now,
      person_id: actor.id,
      name: name.slice(0, 120) || "a table",
      sha256,
      content,
      lines: found.lines,
      kind: found.kind,
      mapping: JSON.stringify(found.mapping),
      status: "looked",
    });
    return { id };
  });
}

const columns = [
  "imports.id",
  "imports.at",
  "people.name as by",
  "imports.name",
  "sha256",
  "lines",
  "kind",
  "mapping",
  "status",
  "taken",
  "settled_at",
];
const mappingSchemas = { results: importMappingSchema, lots: lotMappingSchema, methods: z.null() };
const read = (row: Brought & { kind: ImportRow["kind"]; mapping: string }) =>
  ({ ...row, mapping: mappingSchemas[row.kind].parse(JSON.parse(row.mapping)) }) as ImportRow;
const imports = (db: Knex) =>
  db("imports")
    .join("people", "people.id", "imports.person_id")
    .select(...columns);

export async function findImport(db: Knex, id: string): Promise<ImportRow | undefined> {
  const row = await imports(db).where({ "imports.id": id }).first();
  return row && read(row);
}

/** A file of results; undefined where there is none, or where it holds something else. */
export async function findResults(db: Knex, id: string): Promise<ResultsFile | undefined> {
  const row = await findImport(db, id);
  return row?.kind === "results" ? row : undefined;
}

/** The newest files that were brought in. */
export const newestImports = async (db: Knex): Promise<ImportRow[]> =>
  (await imports(db).orderBy("imports.id", "desc").limit(30)).map(read);

/** What stands in a file that was brought in; null when its content is no longer kept. */
async function textOf(db: Knex, id: string): Promise<string | null> {
  const row: { content: Uint8Array | null } | undefined = await db("imports").where({ id }).first("content");
  return row?.content ? (await inflate(row.content)).toString() : null;
}

/** The table of a file; null when its content is no longer kept. */
export async function tableOf(db: Knex, id: string): Promise<TextTable | null> {
  const text = await textOf(db, id);
  const table = text === null ? null : readFile(text);
  return table === null || "message" in table ? null : table;
}

/** The documents of a file; null when its content is no longer kept. */
export async function documentsOf(db: Knex, id: string): Promise<unknown[] | null> {
  const text = await textOf(db, id);
  const documents = text === null ? null : readDocuments(text);
  return documents === null || "message" in documents ? null : documents;
}

/** Keeps how the columns of a file are to be understood, for it and for the next with the same head. */
export const keepMapping = (
  db: Knex,
  id: string,
  head: readonly string[],
  mapping: ImportMapping | LotMapping,
  actor: Actor,
  now: string,
): Promise<unknown> =>
  write(db, actor, "import", async (trx) => {
    const document = JSON.stringify(mapping);
    await trx("imports").where({ id, status: "looked" }).update({ mapping: document });
    await trx("import_mappings")
      .insert({ head: headKey(head), mapping: document, at: now })
      .onConflict("head")
      .merge();
  });

/** Looks at a table as one of lots instead of results, or the other way round. */
export async function takeItFor(
  db: Knex,
  id: string,
  kind: "results" | "lots",
  actor: Actor,
): Promise<unknown> {
  const table = await tableOf(db, id);
  if (!table) return;
  const mapping = JSON.stringify(await mappingFor(db, kind, table));
  return write(db, actor, "import", (trx) =>
    trx("imports").where({ id, status: "looked" }).whereNot({ kind: "methods" }).update({ kind, mapping }),
  );
}

/** What a file of one kind holds, and how each of it is kept. */
interface TakingOver<F extends ImportRow, T> {
  kind: F["kind"];
  right: Right;
  /** In what it is counted: lines, documents. */
  counted: string;
  look(trx: Knex, row: F): Promise<{ found: T[]; refused: readonly RefusedLine[]; message: string | null }>;
  /** Keeps one, and says by what it is known. */
  keep(trx: Knex, row: F, one: T): Promise<unknown>;
}

/**
 * Takes a short file over in one write: all of it that can be, or none where some cannot and nobody said that it may be left out. Returns a sentence
 * where nothing was done.
 */
export const takeOver = <F extends LotsFile | MethodsFile, T>(
  db: Knex,
  id: string,
  { kind, right, counted, look, keep }: TakingOver<F, T>,
  partly: boolean,
  actor: Actor,
  now: string,
): Promise<string | null> =>
  write(db, actor, right, async (trx) => {
    const row = await findImport(trx, id);
    if (row?.kind !== kind) return "This file is not there any more.";
    // Another press was quicker.
    if (row.status !== "looked") return null;
    const { found, refused, message } = await look(trx, row as F);
    if (message) return message;
    if (found.length === 0) return `There are no ${counted} in it that can be taken over.`;
    if (refused.length > 0 && !partly)
      return `Some ${counted} cannot be taken over. Mend them, or say that they are left out.`;
    const brought: unknown[] = [];
    for (const one of found) brought.push(await keep(trx, row as F, one));
    await noteTaken(trx, row as F, brought, refused.length, actor.id, now);
    return null;
  });

/** Notes that a file was taken over, what came of it, and how much of it was left out. */
async function noteTaken(
  trx: Knex,
  { id, name, sha256, kind }: LotsFile | MethodsFile,
  brought: readonly unknown[],
  left_out: number,
  by: string,
  now: string,
): Promise<void> {
  await trx("imports")
    .where({ id })
    .update({
      status: "taken",
      taken: brought.length,
      settled_at: now,
      content: null,
      brought: JSON.stringify(brought),
    });
  await writeJournal(trx, now, [
    {
      person_id: by,
      action: `${kind} brought in`,
      subject_kind: "import",
      subject_id: id,
      after: { name, sha256, [kind]: brought, left_out },
    },
  ]);
}

/** Puts a file away that was only looked at. */
export const putAway = (db: Knex, id: string, actor: Actor): Promise<unknown> =>
  write(db, actor, "import", (trx) => trx("imports").where({ id, status: "looked" }).delete());
