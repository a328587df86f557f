import { createHash } from "node:crypto";
import { existsSync, mkdirSync, renameSync, rmSync } from "node:fs";
import { dirname } from "node:path";
import { createInterface } from "node:readline";
import type { Readable } from "node:stream";
import type { Knex } from "knex";
import yauzl from "yauzl";
import { z } from "zod";
import { migrationNames } from "../platform/migrations";
import { insertMany, openDatabase } from "../platform/sqlite.server";
import { type ArchiveManifest, archiveManifestSchema, columnsOf } from "./archive.server";
import { archiveTables } from "./archiveTables";
import { verifyRecords } from "./verify.server";

/** Why an archive cannot be taken over; the message is a sentence. */
class ArchiveTrouble extends Error {
  override name = "ArchiveTrouble";
}

/** No file of an archive grows by more than this when it is unpacked: text packs well, but not that well. */
const mostGrowth = 300;
/** The longest line, in characters. */
const longestLine = 50_000_000;

/** The files of a zip, in their order, each opened as a stream when it is its turn. Names and sizes are looked at before anything is unpacked. */
async function* entriesOf(file: string): AsyncGenerator<{ name: string; open(): Promise<Readable> }> {
  const zip = await new Promise<yauzl.ZipFile>((done, failed) =>
    yauzl.open(file, { lazyEntries: true, autoClose: false, validateEntrySizes: true }, (error, opened) =>
      error || !opened
        ? failed(new ArchiveTrouble(`The file ${file} is no zip: ${error?.message}.`))
        : done(opened),
    ),
  );
  try {
    for (;;) {
      const entry = await new Promise<yauzl.Entry | null>((done, failed) => {
        zip.once("entry", done);
        zip.once("end", () => done(null));
        zip.once("error", (error: Error) =>
          failed(new ArchiveTrouble(`The zip is damaged: ${error.message}.`)),
        );
        zip.readEntry();
      });
      zip.removeAllListeners("entry");
      zip.removeAllListeners("end");
      zip.removeAllListeners("error");
      if (!entry) return;
      if (entry.uncompressedSize > 1_000_000 && entry.uncompressedSize > entry.compressedSize * mostGrowth)
        throw new ArchiveTrouble(
          `${entry.fileName} would grow to ${entry.uncompressedSize} bytes. It is not unpacked.`,
        );
      yield {
        name: entry.fileName,
        open: () =>
          new Promise((done, failed) =>
            zip.openReadStream(entry, (error, stream) =>
              error || !stream
                ? failed(new ArchiveTrouble(`${entry.fileName} cannot be read.`))
                : done(stream),
            ),
          ),
      };
    }
  } finally {
    zip.close();
  }
}

/** The manifest, which is the last of the files. */
async function manifestOf(file: string): Promise<ArchiveManifest> {
  for await (const { name, open } of entriesOf(file)) {
    if (name !== "manifest.json") continue;
    const parts: Buffer[] = [];
    let size = 0;
    for await (const part of await open()) {
      size += part.length;
      if (size > 1_000_000) break;
      parts.push(part);
    }
    try {
      return archiveManifestSchema.parse(JSON.parse(Buffer.concat(parts).toString()));
    } catch {
      throw new ArchiveTrouble("Its manifest is none of a Brintel archive.");
    }
  }
  throw new ArchiveTrouble("There is no manifest in it.");
}

const valueSchema = z.union([
  z.string(),
  z.number(),
  z.boolean(),
  z.null(),
  z.strictObject({ base64: z.base64() }),
]);
const rowSchema = z.record(z.string(), valueSchema);
type Value = z.output<typeof valueSchema>;

const stored = (value: Value): string | number | Buffer | null =>
  typeof value === "boolean"
    ? Number(value)
    : value !== null && typeof value === "object"
      ? Buffer.from(value.base64, "base64")
      : value;

/** Reads one table into the database. Every line is looked at; the hash of all of them must be the manifest's. */
async function readTable(
  trx: Knex,
  name: string,
  stream: Readable,
  { rows, sha256 }: ArchiveManifest["tables"][number],
): Promise<void> {
  const { names } = await columnsOf(trx, name);
  const wanted = [...names].sort().join(" ");
  const hash = createHash("sha256");
  let count = 0;
  let batch: (string | number | Buffer | null)[][] = [];
  const flush = async () => {
    await insertMany(trx, name, names, batch);
    batch = [];
  };
  for await (const line of createInterface({ input: stream, crlfDelay: Number.POSITIVE_INFINITY })) {
    count++;
    const where = `${name}.ndjson, line ${count}`;
    if (line.length > longestLine) throw new ArchiveTrouble(`${where}: it is too long.`);
    hash.update(`${line}\n`);
    let row: z.output<typeof rowSchema>;
    try {
      row = rowSchema.parse(JSON.parse(line));
    } catch {
      throw new ArchiveTrouble(`${where}: this is no row.`);
    }
    if (Object.keys(row).sort().join(" ") !== wanted)
      throw new ArchiveTrouble(`${where}: its columns are not those of the table.`);
    batch.push(names.map((column) => stored(row[column] ?? null)));
    if (batch.length === 500) await flush();
  }
  await flush();
  if (count !== rows || hash.digest("hex") !== sha256)
    throw new ArchiveTrouble(
      `${name}.ndjson is not as it was written: its manifest knows ${rows} other lines.`,
    );
}

/**
 * Makes a database of an archive: where there is none yet, all of it or nothing. An archive of an older program is read by the schema it was
 * written from, and brought up to date. Everything is checked: each line, each table's hash, what points at what, and the journal.
 * Errors: `ArchiveTrouble`.
 */
export async function readArchive(file: string, database: string): Promise<ArchiveManifest> {
  if (existsSync(database))
    throw new ArchiveTrouble(`There is a database ${database} already. An archive is read into a new one.`);
  const manifest = await manifestOf(file);
  if (!migrationNames.includes(manifest.migration))
    throw new ArchiveTrouble(
      `It was written by ${manifest.made_by} (step ${manifest.migration}), which is newer than this one.`,
    );
  mkdirSync(dirname(database), { recursive: true });
  const part = `${database}.reading`;
  const clear = () => {
    for (const end of ["", "-wal", "-shm"]) rmSync(part + end, { force: true });
  };
  clear();
  try {
    const written = await openDatabase(part, { upTo: manifest.migration });
    try {
      await fill(written, file, manifest);
    } finally {
      await written.destroy();
    }
    // What is older than the program is brought up to date, and then all of it is looked at.
    const db = await openDatabase(part);
    try {
      const [first] = (await verifyRecords(db)).faults;
      if (first)
        throw new ArchiveTrouble(`Its records do not fit: ${first.what} ${first.id}: ${first.sentence}`);
    } finally {
      await db.destroy();
    }
    renameSync(part, database);
    clear();
    return manifest;
  } catch (error) {
    clear();
    throw error;
  }
}

async function fill(db: Knex, file: string, manifest: ArchiveManifest): Promise<void> {
  await db.transaction(async (trx) => {
    // What points at what is looked at once everything is there.
    await trx.raw("pragma defer_foreign_keys = on");
    const tables = archiveTables.map(([name]) => name);
    const open = new Set(manifest.tables.map((t) => t.name));
    for (const name of open)
      if (!tables.includes(name))
        throw new ArchiveTrouble(`It has a table ${name}, which is not known here.`);
    // A new database begins with a head of the journal and the entry of its making: the archive brings its own.
    for (const name of [...open].reverse()) await trx(name).delete();
    for await (const { name, open: stream } of entriesOf(file)) {
      if (name === "manifest.json") continue;
      const table = manifest.tables.find((t) => `${t.name}.ndjson` === name);
      if (!table || !open.delete(table.name))
        throw new ArchiveTrouble(`${name} is not in its manifest, or twice in it.`);
      await readTable(trx, table.name, await stream(), table);
    }
    if (open.size) throw new ArchiveTrouble(`These are missing: ${[...open].join(", ")}.`);
  });
}
