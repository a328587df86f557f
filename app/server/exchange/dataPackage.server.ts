import { createHash } from "node:crypto";
import { Readable } from "node:stream";
import type { ReadableStream as WebStream } from "node:stream/web";
import { ZipArchive } from "archiver";
import { z } from "zod";
import { log } from "../platform/log.server";
import { programVersion } from "../platform/version.server";
import { appendEntry } from "../platform/zipEntry.server";
import { csvColumns, exportedReadingSchema } from "./exports.server";

interface Property {
  type?: string | string[];
  anyOf?: Property[];
  format?: string;
  description?: string;
  enum?: string[];
}

/** What a list is in one cell, in words. */
const lists: Record<string, string> = {
  portions: "Values with “; ” between them.",
  standard_lots: "Codes with “; ” between them.",
  reagent_lots: "Codes with “; ” between them.",
  derived_from: "Ids with “; ” between them.",
  meanings: "In words, with the limit set of each in brackets.",
  findings: "What stands against it: rule, what was measured, its limit; “; ” between them.",
};
const kinds = new Set(["number", "integer", "boolean", "string"]);

/** One column by the words of a table schema, from the same shape that the JSON file has. Source: Frictionless Table Schema 1. */
function fieldOf(name: string, property: Property, required: ReadonlySet<string>) {
  const all = [property, ...(property.anyOf ?? [])];
  const types = all.flatMap((p) => p.type ?? []);
  const type = lists[name] ? "string" : (types.find((t) => kinds.has(t)) ?? "string");
  const moment = all.some((p) => p.format === "date-time");
  const words = [property.description, lists[name]].filter(Boolean).join(" ");
  const choice = all.find((p) => p.enum)?.enum;
  return {
    name,
    type: moment ? "datetime" : type,
    ...(type === "boolean" && { trueValues: ["true"], falseValues: ["false"] }),
    ...(words && { description: words }),
    constraints: {
      ...(required.has(name) && !types.includes("null") && type !== "string" && { required: true }),
      ...(name === "id" && { unique: true }),
      ...(choice && { enum: choice }),
    },
  };
}

/** What each column of the readings file is. */
export function readingFields() {
  const schema = z.toJSONSchema(exportedReadingSchema, { target: "draft-7" });
  const properties = schema.properties as Record<string, Property>;
  const required = new Set(schema.required ?? []);
  return csvColumns.map((name) => fieldOf(name, properties[name] ?? {}, required));
}

/** The description that lies beside the file. Source: Frictionless Data Package 1. */
const descriptor = (now: string, bytes: number, sha256: string) => ({
  profile: "tabular-data-package",
  name: "brintel-readings",
  title: "Readings",
  description:
    "Results of water tests with what each rests on and what it was found fit for. Moments are UTC. An apostrophe before =, +, -, @ keeps spreadsheets from taking a text for a formula.",
  created: now,
  version: "8",
  contributors: [{ title: `Brintel ${programVersion}`, role: "wrangler" }],
  resources: [
    {
      profile: "tabular-data-resource",
      name: "readings",
      path: "readings.csv",
      format: "csv",
      mediatype: "text/csv",
      encoding: "utf-8",
      bytes,
      hash: `sha256:${sha256}`,
      dialect: { delimiter: ",", lineTerminator: "\r\n", quoteChar: '"', doubleQuote: true, header: true },
      schema: { fields: readingFields(), primaryKey: "id", missingValues: [""] },
    },
  ],
});

/** The pieces of a CSV file as a zip with the description of its columns, made while it is sent. */
export function dataPackage(pieces: ReadableStream<string>, now: string): ReadableStream<Uint8Array> {
  const zip = new ZipArchive({ zlib: { level: 6 } });
  const hash = createHash("sha256");
  let bytes = 0;
  async function* file() {
    for await (const piece of Readable.fromWeb(pieces as WebStream<string>, { objectMode: true })) {
      // The mark that spreadsheets ask for is no part of the data.
      const data = Buffer.from(bytes === 0 ? piece.replace(/^\ufeff/, "") : piece);
      hash.update(data);
      bytes += data.length;
      yield data;
    }
  }
  const fill = async () => {
    await appendEntry(zip, Readable.from(file()), "readings.csv");
    const text = JSON.stringify(descriptor(now, bytes, hash.digest("hex")), null, 2);
    await appendEntry(zip, Buffer.from(`${text}\n`), "datapackage.json");
    await zip.finalize();
  };
  fill().catch((error: unknown) => {
    log.warn({ error }, "a data package was not finished");
    zip.destroy(error as Error);
  });
  return Readable.toWeb(zip) as ReadableStream<Uint8Array>;
}
