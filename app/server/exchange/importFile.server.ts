import { createHash } from "node:crypto";
import { promisify } from "node:util";
import { deflateRaw, inflateRaw } from "node:zlib";
import type { Knex } from "knex";
import Papa from "papaparse";
import { ulid } from "ulid";
import { guessImport, type ImportMapping, importMappingSchema } from "../../../core/results/importLines";
import type { Actor } from "../platform/rights.server";
import { write } from "../platform/write.server";

const deflate = promisify(deflateRaw);
const inflate = promisify(inflateRaw);

/** So many lines, and so many bytes, are what one file may have. */
export const importLimits = { lines: 200_000, bytes: 30 * 1024 * 1024 } as const;

/** What a file holds. */
export interface ImportTable {
  head: string[];
  rows: Record<string, string>[];
}

/** Reads a table of text: comma, semicolon or tabs between its columns. Errors: a sentence that names the line. */
function readTable(text: string): ImportTable | { message: string } {
  if (text.trim() === "") return { message: "Choose a file with at least one line." };
  const { data, meta, errors } = Papa.parse<Record<string, string>>(text.replace(/^\uFEFF/, ""), {
    header: true,
    skipEmptyLines: "greedy",
    transformHeader: (h) => h.trim().slice(0, 120),
  });
  const head = (meta.fields ?? []).filter(Boolean);
  if (head.length < 2 || data.length === 0)
    return { message: "Its first line names the columns, and at least one line follows." };
  if (head.length > 200) return { message: "More than 200 columns: this is no table of results." };
  if (data.length > importLimits.lines)
    return { message: `More than ${importLimits.lines} lines. Bring it in by parts.` };
  const broken = errors.find((e) => e.type === "Quotes" || e.type === "FieldMismatch");
  if (broken?.row !== undefined)
    return {
      message: `Line ${broken.row + 2} has another number of columns than the first. Look at it again.`,
    };
  return { head, rows: data };
}

export interface ImportRow {
  id: string;
  at: string;
  by: string;
  name: string;
  sha256: string;
  lines: number;
  mapping: ImportMapping;
  status: "looked" | "taken" | "undone";
  taken: number | null;
  settled_at: string | null;
}

const headKey = (head: readonly string[]): string => head.join("\t").slice(0, 250);

/** How the last file with this head was understood; otherwise a guess. */
async function mappingFor(db: Knex, { head, rows }: ImportTable): Promise<ImportMapping> {
  const row: { mapping: string } | undefined = await db("import_mappings")
    .where({ head: headKey(head) })
    .first("mapping");
  const known = row && importMappingSchema.safeParse(JSON.parse(row.mapping)).data;
  return known ?? guessImport(head, rows.slice(0, 200));
}

/** Keeps a file so that it can be looked at before anything of it is taken over. Returns its id; a sentence where it is no table. */
export async function bringFile(
  db: Knex,
  { name, text }: { name: string; text: string },
  actor: Actor,
  now: string,
): Promise<{ id: string } | { message: string }> {
  const table = readTable(text);
  if ("message" in table) return table;
  const sha256 = createHash("sha256").update(text).digest("hex");
  const before: { id: string; at: string } | undefined = await db("imports")
    .where({ sha256, status: "taken" })
    .first("id", "at");
  if (before) return { message: "This file was taken over before; it is in the list below." };
  const content = await deflate(text);
  const mapping = JSON.stringify(await mappingFor(db, table));
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
      lines: table.rows.length,
      mapping,
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
  "mapping",
  "status",
  "taken",
  "settled_at",
];
const read = (row: Omit<ImportRow, "mapping"> & { mapping: string }): ImportRow => ({
  ...row,
  mapping: importMappingSchema.parse(JSON.parse(row.mapping)),
});
const imports = (db: Knex) =>
  db("imports")
    .join("people", "people.id", "imports.person_id")
    .select(...columns);

export async function findImport(db: Knex, id: string): Promise<ImportRow | undefined> {
  const row = await imports(db).where({ "imports.id": id }).first();
  return row && read(row);
}

/** The newest files that were brought in. */
export const newestImports = async (db: Knex): Promise<ImportRow[]> =>
  (await imports(db).orderBy("imports.id", "desc").limit(30)).map(read);

/** The table of a file that was brought in; null when its content is no longer kept. */
export async function tableOf(db: Knex, id: string): Promise<ImportTable | null> {
  const row: { content: Uint8Array | null } | undefined = await db("imports").where({ id }).first("content");
  if (!row?.content) return null;
  const table = readTable((await inflate(row.content)).toString());
  return "message" in table ? null : table;
}

/** Keeps how the columns of a file are to be understood, for it and for the next with the same head. */
export const keepMapping = (
  db: Knex,
  id: string,
  head: readonly string[],
  mapping: ImportMapping,
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

/** Puts a file away that was only looked at. */
export const putAway = (db: Knex, id: string, actor: Actor): Promise<unknown> =>
  write(db, actor, "import", (trx) => trx("imports").where({ id, status: "looked" }).delete());
