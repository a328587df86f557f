import { createHash } from "node:crypto";
import { createWriteStream, renameSync, rmSync } from "node:fs";
import { Readable } from "node:stream";
import { finished } from "node:stream/promises";
import { ZipArchive } from "archiver";
import type { Knex } from "knex";
import { z } from "zod";
import { snapshot } from "../platform/engine.server";
import { programVersion } from "../platform/version.server";
import { appendEntry } from "../platform/zipEntry.server";
import { archiveTables } from "./archiveTables";

/** The last file of an archive: what is in the others. */
export const archiveManifestSchema = z.object({
  format: z.literal("brintel archive"),
  version: z.literal(1),
  made_by: z.string(),
  /** The step the schema was brought up to. */
  migration: z.string(),
  tables: z.array(z.object({ name: z.string(), rows: z.number().int(), sha256: z.string() })),
});
export type ArchiveManifest = z.output<typeof archiveManifestSchema>;

/** What a database calls the columns of a table, in their order, and which of them are yes or no. */
export async function columnsOf(db: Knex, table: string): Promise<{ names: string[]; flags: Set<string> }> {
  const info = await db(table).columnInfo();
  const names = Object.keys(info);
  const flags = names.filter((name) => /^bool/.test(String(info[name as keyof typeof info]?.type ?? "")));
  return { names, flags: new Set(flags) };
}

/** A row as a line of the archive: its columns by name, sorted; bytes in base64, yes and no as such. */
function lineOf(row: Record<string, unknown>, names: readonly string[], flags: ReadonlySet<string>): string {
  const entries = names.map((name): [string, unknown] => {
    const value = row[name] ?? null;
    if (value === null) return [name, null];
    if (flags.has(name)) return [name, Boolean(value)];
    return [name, value instanceof Uint8Array ? { base64: Buffer.from(value).toString("base64") } : value];
  });
  return `${JSON.stringify(Object.fromEntries(entries))}\n`;
}

const pageSize = 1000;

/** The rows of a table in the order of its key, a page at a time. */
async function* pagesOf(
  db: Knex,
  table: string,
  key: readonly string[],
): AsyncGenerator<Record<string, unknown>[]> {
  const columns = key.map((k) => `"${k}"`).join(", ");
  for (let last: unknown[] | null = null; ; ) {
    const rows: Record<string, unknown>[] = await db(table)
      .modify((q) => {
        // One comparison of whole keys, which every engine answers from the key's own index.
        if (last) q.whereRaw(`(${columns}) > (${key.map(() => "?").join(", ")})`, last as string[]);
      })
      .orderBy([...key])
      .limit(pageSize);
    const end = rows.at(-1);
    if (!end) return;
    yield rows;
    last = key.map((k) => end[k]);
  }
}

/**
 * Writes everything that a database knows into one file: a zip with one table a file, one row a line (NDJSON), and a manifest with the hash of
 * each. All of it is of one moment. The same records give the same bytes. Errors: those of the file; nothing half written is left.
 */
export async function writeArchive(db: Knex, file: string): Promise<ArchiveManifest> {
  const part = `${file}.part`;
  const zip = new ZipArchive({ zlib: { level: 6 } });
  const output = createWriteStream(part);
  const written = finished(output);
  zip.pipe(output);
  try {
    const manifest = await snapshot(db, async (trx): Promise<ArchiveManifest> => {
      const tables: ArchiveManifest["tables"] = [];
      for (const [name, key] of archiveTables) {
        const { names, flags } = await columnsOf(trx, name);
        names.sort();
        const hash = createHash("sha256");
        let count = 0;
        async function* lines() {
          for await (const rows of pagesOf(trx, name, key)) {
            const text = rows.map((row) => lineOf(row, names, flags)).join("");
            hash.update(text);
            count += rows.length;
            yield Buffer.from(text);
          }
        }
        await appendEntry(zip, Readable.from(lines()), `${name}.ndjson`);
        tables.push({ name, rows: count, sha256: hash.digest("hex") });
      }
      const { migration }: { migration: string } = await trx("knex_migrations")
        .orderBy("id", "desc")
        .first("name as migration");
      return {
        format: "brintel archive",
        version: 1,
        made_by: `Brintel ${programVersion}`,
        migration,
        tables,
      };
    });
    await appendEntry(zip, Buffer.from(`${JSON.stringify(manifest, null, 2)}\n`), "manifest.json");
    await zip.finalize();
    await written;
    renameSync(part, file);
    return manifest;
  } catch (error) {
    zip.abort();
    output.destroy();
    await written.catch(() => undefined);
    rmSync(part, { force: true });
    throw error;
  }
}
