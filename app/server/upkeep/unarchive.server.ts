import { existsSync, mkdirSync, renameSync, rmSync } from "node:fs";
import { dirname } from "node:path";
import type { Readable } from "node:stream";
import type { Knex } from "knex";
import { nowIso } from "../platform/clock.server";
import {
  besidePlace,
  calledPlace,
  deferReferences,
  emptyAgain,
  isOnServer,
  openDatabase,
  tablesAt,
} from "../platform/engine.server";
import { insertMany } from "../platform/insertMany";
import { migrationNames } from "../platform/migrations";
import { type ArchiveManifest, columnsOf } from "./archive.server";
import {
  type ArchiveTable,
  ArchiveTrouble,
  type ArchiveValue,
  manifestOf,
  readLines,
  tablesOf,
} from "./archiveFile.server";
import { archiveTables, formerTables } from "./archiveTables";
import { type Seal, writeSeal } from "./seals.server";
import { verifyRecords } from "./verify.server";

const stored = (value: ArchiveValue): string | number | Buffer | null =>
  typeof value === "boolean"
    ? Number(value)
    : value !== null && typeof value === "object"
      ? Buffer.from(value.base64, "base64")
      : value;

/** Reads one table into the database. */
async function readTable(trx: Knex, table: ArchiveTable, stream: Readable): Promise<void> {
  const { names } = await columnsOf(trx, table.name);
  const wanted = [...names].sort().join(" ");
  let batch: (string | number | Buffer | null)[][] = [];
  const flush = async () => {
    await insertMany(trx, table.name, names, batch);
    batch = [];
  };
  await readLines(table, stream, async (row, where) => {
    if (Object.keys(row).sort().join(" ") !== wanted)
      throw new ArchiveTrouble(`${where}: its columns are not those of the table.`);
    batch.push(names.map((column) => stored(row[column] ?? null)));
    if (batch.length === 500) await flush();
  });
  await flush();
}

async function fill(db: Knex, file: string, manifest: ArchiveManifest): Promise<void> {
  await db.transaction(async (trx) => {
    // What points at what is looked at once everything is there.
    await deferReferences(trx);
    const known = [...archiveTables.map(([name]) => name), ...formerTables];
    for (const { name } of manifest.tables)
      if (!known.includes(name)) throw new ArchiveTrouble(`It has a table ${name}, which is not known here.`);
    // A new database begins with a head of the journal and the entry of its making: the archive brings its own.
    for (const { name } of [...manifest.tables].reverse()) await trx(name).delete();
    for await (const { table, stream } of tablesOf(file, manifest)) await readTable(trx, table, stream);
  });
}

/** Fills a new database, brings what is older than the program up to date, and looks at all of it. */
async function makeOf(file: string, place: string, manifest: ArchiveManifest): Promise<Seal> {
  const written = await openDatabase(place, { upTo: manifest.migration });
  try {
    await fill(written, file, manifest);
  } finally {
    await written.destroy();
  }
  const db = await openDatabase(place);
  try {
    const [first] = (await verifyRecords(db, undefined, { sealed: false })).faults;
    if (first)
      throw new ArchiveTrouble(`Its records do not fit: ${first.what} ${first.id}: ${first.sentence}`);
    const { seq, hash }: { seq: number; hash: string } = await db("journal_head")
      .where({ id: 1 })
      .first("seq", "hash");
    return { at: nowIso(), seq, hash, restored: true };
  } finally {
    await db.destroy();
  }
}

/** A file is made beside where it belongs, and takes its name when it is whole. */
async function intoFile(file: string, database: string, manifest: ArchiveManifest): Promise<Seal> {
  mkdirSync(dirname(database), { recursive: true });
  const part = `${database}.reading`;
  const clear = () => {
    for (const end of ["", "-wal", "-shm"]) rmSync(part + end, { force: true });
  };
  clear();
  try {
    const seal = await makeOf(file, part, manifest);
    renameSync(part, database);
    return seal;
  } finally {
    clear();
  }
}

/** A database on a server is empty before, and empty again where something does not fit. */
async function intoServer(file: string, place: string, manifest: ArchiveManifest): Promise<Seal> {
  try {
    return await makeOf(file, place, manifest);
  } catch (error) {
    await emptyAgain(place);
    throw error;
  }
}

/**
 * Makes a database of an archive: where there is none yet, all of it or nothing. An archive of an older program is read by the schema it was
 * written from, and brought up to date. Everything is checked: each line, each table's hash, what points at what, and the journal.
 * Errors: `ArchiveTrouble`.
 */
export async function readArchive(file: string, place: string): Promise<ArchiveManifest> {
  const onServer = isOnServer(place);
  if (onServer ? (await tablesAt(place)) > 0 : existsSync(place))
    throw new ArchiveTrouble(
      onServer
        ? `There are tables in ${calledPlace(place)} already. An archive is read into an empty database (createdb).`
        : `There is a database ${place} already. An archive is read into a new one.`,
    );
  const manifest = await manifestOf(file);
  if (!migrationNames.includes(manifest.migration))
    throw new ArchiveTrouble(
      `It was written by ${manifest.made_by} (step ${manifest.migration}), which is newer than this one.`,
    );
  const seal = await (onServer ? intoServer : intoFile)(file, place, manifest);
  // What was sealed here before was another database; from now on this one is.
  writeSeal(besidePlace(place), seal);
  return manifest;
}
