import { parentPort, workerData } from "node:worker_threads";
import { deflateRawSync } from "node:zlib";
import Sqlite from "better-sqlite3";
import { packDictionary } from "../app/server/platform/pack.server";
import { inCopy, inSeason, seasonsOf, Templates, tables } from "./copies";

/**
 * The thread that packs the evidence of the copies while the other one writes them: a copy's packed documents, table by table, row by row, in
 * one piece of memory with the length of each. Two copies are made ahead of what was taken.
 */
export interface Packs {
  lengths: Uint32Array;
  bytes: Uint8Array;
}

const ahead = 2;
const port = parentPort;
if (!port) throw new Error("This runs beside what writes the copies.");
const { file, copies } = workerData as { file: string; copies: number };

const db = new Sqlite(file, { readonly: true });
const templates = new Templates(db);
const documents = tables.flatMap(({ name, packed }) =>
  packed ? templates.rowsOf(name, (column) => column === packed).rows.flat() : [],
);
db.close();

let taken = 0;
let waiting: (() => void) | undefined;
port.on("message", () => {
  taken++;
  waiting?.();
});

const head = Buffer.from([1]);
/** Packed as the program does it, but for the pains it takes. */
const packed = (text: string) =>
  Buffer.concat([head, deflateRawSync(text, { level: 1, memLevel: 6, dictionary: packDictionary })]);

port.postMessage("read");
let made = 0;
for (const season of seasonsOf(copies)) {
  const seasoned = documents.map((value) => inSeason(value, season[0]?.season ?? 0));
  for (const copy of season) {
    if (copy.n === 0) continue;
    const buffers = seasoned.map((value) => (value === null ? null : packed(String(inCopy(value, copy)))));
    const bytes = new Uint8Array(buffers.reduce((sum, b) => sum + (b?.length ?? 0), 0));
    let at = 0;
    for (const buffer of buffers) {
      if (!buffer) continue;
      bytes.set(buffer, at);
      at += buffer.length;
    }
    const lengths = new Uint32Array(buffers.map((b) => b?.length ?? 0));
    const packs: Packs = { lengths, bytes };
    while (made - taken >= ahead) {
      await new Promise<void>((next) => {
        waiting = next;
      });
    }
    port.postMessage(packs, [lengths.buffer, bytes.buffer]);
    made++;
  }
}
port.close();
