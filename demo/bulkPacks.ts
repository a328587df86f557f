import { parentPort, workerData } from "node:worker_threads";
import Sqlite from "better-sqlite3";
import { hashOf } from "../app/server/platform/journal.server";
import { packKind } from "../app/server/platform/pack.server";
import {
  type Alike,
  alikeIn,
  type Copy,
  inSeason,
  letterMark,
  letterOf,
  seasonJournal,
  seasonsOf,
  Templates,
  tables,
} from "./copies";
import { packLettered, packWith } from "./lettered";

/**
 * The thread that packs the evidence of the copies and chains their journal while the other one writes them, some seasons ahead of what was
 * taken.
 */
export interface SeasonMade {
  /** The packed documents of copies that are alike, in the order of `alikeIn`. */
  packs: Packs[];
  /** The hashes of the season's journal, one after the other, all of one length. */
  hashes: string;
}

/** Packed documents, table by table and row by row, in one piece of memory with the length of each, and where letters come in it. */
export interface Packs {
  lengths: Uint32Array<ArrayBuffer>;
  bytes: Uint8Array<ArrayBuffer>;
  places: Uint32Array<ArrayBuffer>;
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
const journal = templates.journal();
db.close();

let taken = 0;
let waiting: (() => void) | undefined;
port.on("message", () => {
  taken++;
  waiting?.();
});

function packed(alike: Alike): Packs {
  const all = documents.map((value) => {
    const text = inSeason(value, alike);
    if (text === null) return null;
    const only = alike.copies.length === 1 ? alike.copies[0] : undefined;
    return only ? { bytes: packWith(String(text), letterOf(only)), places: [] } : packLettered(String(text));
  });
  const lengths = Uint32Array.from(all, (one) => (one ? one.bytes.length + 1 : 0));
  const bytes = new Uint8Array(lengths.reduce((sum, length) => sum + length, 0));
  const places: number[] = [];
  let at = 0;
  for (const one of all) {
    if (!one) continue;
    bytes[at] = packKind;
    bytes.set(one.bytes, at + 1);
    for (const place of one.places) places.push(place + (at + 1) * 8);
    at += one.bytes.length + 1;
  }
  return { lengths, bytes, places: Uint32Array.from(places) };
}

let previous = "0".repeat(64);
let seq = 0;
function chained(season: readonly Copy[]): string {
  let hashes = "";
  for (const { values, copies } of seasonJournal(season, journal)) {
    for (const copy of copies) {
      const entry: Record<string, unknown> = {
        seq: ++seq,
        previous_hash: "",
        events_from: null,
        events_to: null,
      };
      for (const [i, column] of journal.columns.entries()) {
        const value = values[i];
        entry[column] = typeof value === "string" ? value.replaceAll(letterMark, letterOf(copy)) : value;
      }
      previous = hashOf(entry as unknown as Parameters<typeof hashOf>[0], previous, null);
      hashes += previous;
    }
  }
  return hashes;
}

port.postMessage("read");
let made = 0;
for (const season of seasonsOf(copies)) {
  const packs = alikeIn(season).map(packed);
  const whole: SeasonMade = { packs, hashes: chained(season) };
  while (made - taken >= ahead) {
    await new Promise<void>((next) => {
      waiting = next;
    });
  }
  port.postMessage(
    whole,
    packs.flatMap(({ lengths, bytes, places }) => [lengths.buffer, bytes.buffer, places.buffer]),
  );
  made++;
}
port.close();
