import { createHash } from "node:crypto";
import { createInterface } from "node:readline";
import type { Readable } from "node:stream";
import yauzl from "yauzl";
import { z } from "zod";
import { type ArchiveManifest, archiveManifestSchema } from "./archive.server";

/** Why an archive cannot be taken over; the message is a sentence. */
export class ArchiveTrouble extends Error {
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
export async function manifestOf(file: string): Promise<ArchiveManifest> {
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
export type ArchiveValue = z.output<typeof valueSchema>;
export type ArchiveRow = z.output<typeof rowSchema>;
export type ArchiveTable = ArchiveManifest["tables"][number];

/** Reads the lines of one table. Every one is looked at; the hash of all of them must be the manifest's. Errors: `ArchiveTrouble`. */
export async function readLines(
  { name, rows, sha256 }: ArchiveTable,
  stream: Readable,
  onRow: (row: ArchiveRow, where: string) => void | Promise<void>,
): Promise<void> {
  const hash = createHash("sha256");
  let count = 0;
  for await (const line of createInterface({ input: stream, crlfDelay: Number.POSITIVE_INFINITY })) {
    count++;
    const where = `${name}.ndjson, line ${count}`;
    if (line.length > longestLine) throw new ArchiveTrouble(`${where}: it is too long.`);
    hash.update(`${line}\n`);
    let row: ArchiveRow;
    try {
      row = rowSchema.parse(JSON.parse(line));
    } catch {
      throw new ArchiveTrouble(`${where}: this is no row.`);
    }
    await onRow(row, where);
  }
  if (count !== rows || hash.digest("hex") !== sha256)
    throw new ArchiveTrouble(
      `${name}.ndjson is not as it was written: its manifest knows ${rows} other lines.`,
    );
}

/** The tables of an archive, each opened when it is its turn; all that its manifest names, each once. Errors: `ArchiveTrouble`. */
export async function* tablesOf(
  file: string,
  manifest: ArchiveManifest,
): AsyncGenerator<{ table: ArchiveTable; stream: Readable }> {
  const open = new Set(manifest.tables.map((t) => t.name));
  for await (const { name, open: stream } of entriesOf(file)) {
    if (name === "manifest.json") continue;
    const table = manifest.tables.find((t) => `${t.name}.ndjson` === name);
    if (!table || !open.delete(table.name))
      throw new ArchiveTrouble(`${name} is not in its manifest, or twice in it.`);
    yield { table, stream: await stream() };
  }
  if (open.size) throw new ArchiveTrouble(`These are missing: ${[...open].join(", ")}.`);
}

/** Reads an archive from end to end without taking anything over; where its journal ends. Errors: `ArchiveTrouble`. */
export async function checkArchive(
  file: string,
): Promise<{ migration: string; journal: { seq: number; hash: string } }> {
  const manifest = await manifestOf(file);
  let journal: { seq: number; hash: string } | undefined;
  for await (const { table, stream } of tablesOf(file, manifest)) {
    await readLines(table, stream, (row) => {
      if (table.name === "journal_head") journal = { seq: Number(row.seq), hash: String(row.hash) };
    });
  }
  if (!journal) throw new ArchiveTrouble("There is no head of a journal in it.");
  return { migration: manifest.migration, journal };
}
