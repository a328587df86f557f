import { Readable } from "node:stream";
import type { ZipArchive } from "archiver";

/** A date that says nothing: a zip of the same records is the same file. */
const noDate = new Date("1980-01-01T00:00:00Z");

/** Puts one file into the zip, and waits until it is in: what it is made of is read only as fast as it is written. */
export function appendEntry(zip: ZipArchive, source: Readable | Buffer, name: string): Promise<void> {
  return new Promise((done, failed) => {
    const end = (error?: Error) => {
      zip.off("entry", onEntry);
      zip.off("error", end);
      if (error) failed(error);
      else done();
    };
    const onEntry = (entry: { name: string }) => {
      if (entry.name === name) end();
    };
    zip.on("entry", onEntry);
    zip.on("error", end);
    if (source instanceof Readable) source.once("error", end);
    zip.append(source, { name, date: noDate, mode: 0o644 });
  });
}
