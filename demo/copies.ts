import type Sqlite from "better-sqlite3";
import { decodeTime, encodeTime } from "ulid";
import { unpack } from "../app/server/platform/pack.server";

/**
 * What a copy of the demo's twelve weeks is: the same story for another bench (its own sites and meters) or an earlier season, with ids and
 * dates of its own.
 */

/** How many benches there are in all; each has the demo's sites and meters as its own. */
const benches = 14;
const season_ms = 84 * 86_400_000;

export interface Copy {
  /** Which copy it is; 0 is the demo itself. */
  n: number;
  bench: number;
  season: number;
}

const copyOf = (n: number): Copy => ({ n, bench: n % benches, season: Math.floor(n / benches) });

/** The demo's own bench: its sites and meters are those of the demo. */
const isHome = ({ bench }: Copy): boolean => bench === 0;

/** What an id has from its bench: one letter, the first after its moment. */
export const letterOf = ({ bench }: Copy): string => "0123456789ABCDEFGHJKMNPQRSTVWXYZ"[bench] ?? "";

/** Stands for that letter where the benches have a text in common. Nobody types it, and it is one byte. */
export const letterMark = "\u0001";

/** Copies of one season that have all texts in common but for the letter of the bench: those of the demo's own bench, or the others. */
export interface Alike {
  season: number;
  home: boolean;
  copies: Copy[];
}

/** The copies season by season, the earliest first; the very last of them is the demo itself. */
export function seasonsOf(copies: number): Copy[][] {
  const seasons: Copy[][] = [];
  for (let n = copies - 1; n >= 0; n--) {
    const copy = copyOf(n);
    const own = seasons.at(-1);
    if (own?.[0]?.season === copy.season) own.push(copy);
    else seasons.push([copy]);
  }
  return seasons;
}

/** A season's copies in the order in which they are packed and written. */
export const alikeIn = (season: readonly Copy[]): Alike[] =>
  [false, true].flatMap((home) => {
    const copies = season.filter((copy) => isHome(copy) === home);
    return copies[0] ? [{ season: copies[0].season, home, copies }] : [];
  });

export interface Table {
  name: string;
  /** What is made once a bench, and not again for every season. */
  once?: boolean;
  /** Kept by their content: a copy may find it there. */
  shared?: boolean;
  packed?: string;
  unique?: string;
}
/** In an order in which each finds what it points to. */
export const tables: Table[] = [
  { name: "sites", once: true, unique: "name" },
  { name: "meters", once: true, unique: "code" },
  { name: "sensors", once: true },
  { name: "lots", unique: "code" },
  { name: "lot_versions" },
  { name: "bench_work", packed: "packed" },
  { name: "visits" },
  { name: "samples" },
  { name: "batches" },
  { name: "batch_samples" },
  { name: "lot_uses" },
  { name: "documents", shared: true },
  { name: "calibrations", packed: "packed" },
  { name: "checks" },
  { name: "readings" },
  { name: "derivations" },
  { name: "control_charts", once: true },
  { name: "quality_actions" },
  { name: "reading_evidence", packed: "packed" },
  { name: "reading_judgements" },
  { name: "rejudgings" },
];

/** Open work stays with its bench; nobody reviewed a copy. */
const leaveOut: Record<string, string> = {
  bench_work: "where status <> 'open'",
  journal: "where action not in ('shift signed', 'reading looked at', 'reading amended')",
};

/** Text taken apart at what changes with a copy: ids, moments and dates. */
type Piece = string | Id | { moment: number } | { date: number };
interface Id {
  id: string;
  made: number;
  /** Whether every season of a bench has it in common. */
  lasting: boolean;
}
const changing =
  /(?<id>01[0-9A-HJKMNP-TV-Z]{24})|(?<moment>\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d\.\d{3}Z)|(?<date>20\d\d-\d\d-\d\d)(?!T)/g;

/** A value that is the same in every copy, or text in pieces. */
export type Value = Piece[] | string | number | null;

const iso = (ms: number) => new Date(ms).toISOString();
const idTimeLength = 10;

/** Rows of a table, taken apart. */
export interface Rows {
  columns: string[];
  rows: Value[][];
}
const leftOfJournal = ["seq", "hash", "previous_hash", "events_from", "events_to"];

export class Templates {
  private readonly lasting = new Set<string>();
  private readonly people = new Set<string>();

  constructor(private readonly db: Sqlite.Database) {
    const ids = (name: string) => (db.prepare(`select id from ${name}`).pluck().all() as string[]).values();
    for (const name of ["sites", "meters", "sensors"]) for (const id of ids(name)) this.lasting.add(id);
    for (const id of ids("people")) this.people.add(id);
  }

  /** The demo's rows of a table, taken apart, with the columns that are wanted. */
  rowsOf(name: string, wanted: (column: string) => boolean): Rows {
    const found = this.db
      .prepare(`select * from ${name} ${leaveOut[name] ?? ""} order by rowid`)
      .all() as Record<string, unknown>[];
    const columns = Object.keys(found[0] ?? {}).filter(wanted);
    return { columns, rows: found.map((row) => columns.map((column) => this.valueOf(column, row[column]))) };
  }

  /** The demo's journal. Seals of copied events would each have to be computed from what was written: the copies go without. */
  journal(): Rows {
    return this.rowsOf("journal", (column) => !leftOfJournal.includes(column));
  }

  private valueOf(column: string, value: unknown): Value {
    // Nobody signed a copy.
    if (column === "signed_judgement") return null;
    if (Buffer.isBuffer(value)) return this.piecesOf(JSON.stringify(unpack(value)));
    return typeof value === "string" ? this.piecesOf(value) : ((value ?? null) as number | null);
  }

  private piecesOf(text: string): Piece[] | string {
    const pieces: Piece[] = [];
    let from = 0;
    for (const match of text.matchAll(changing)) {
      const { id, moment } = match.groups ?? {};
      if (id && this.people.has(id)) continue;
      if (match.index > from) pieces.push(text.slice(from, match.index));
      from = match.index + match[0].length;
      if (id) pieces.push({ id, made: decodeTime(id), lasting: this.lasting.has(id) });
      else pieces.push(moment ? { moment: Date.parse(moment) } : { date: Date.parse(match[0]) });
    }
    if (pieces.length === 0) return text;
    if (from < text.length) pieces.push(text.slice(from));
    return pieces;
  }
}

/**
 * A value in a season of a bench: its moments and dates so much earlier, its ids as if they had been given then. A millisecond sets the
 * ids of a copy apart from those of the demo, and the letter that is still to come from those of other benches.
 */
export function inSeason(
  value: Value,
  { season, home }: Pick<Alike, "season" | "home">,
): string | number | null {
  if (!Array.isArray(value)) return value;
  const shift_ms = -season * season_ms;
  const idOf = ({ id, made, lasting }: Id) =>
    home && (lasting || season === 0)
      ? id
      : encodeTime(made - 1 + (lasting ? 0 : shift_ms), idTimeLength) +
        letterMark +
        id.slice(idTimeLength + 1);
  let text = "";
  for (const piece of value) {
    if (typeof piece === "string") text += piece;
    else if ("moment" in piece) text += iso(piece.moment + shift_ms);
    else if ("date" in piece) text += iso(piece.date + shift_ms).slice(0, 10);
    else text += idOf(piece);
  }
  return text;
}

/** Whether a value waits for the letter of its bench in some copy. */
export const waitsForLetter = (value: Value): boolean =>
  Array.isArray(value) && value.some((piece) => typeof piece === "object" && "id" in piece);

/** The entries of a season's journal in the order of their moments, each with the copies that have it. */
export function seasonJournal(
  season: readonly Copy[],
  { columns, rows }: Rows,
): { values: (string | number | null)[]; home: boolean; copies: Copy[] }[] {
  const at = columns.indexOf("at");
  return alikeIn(season)
    .flatMap((alike) =>
      rows.map((row) => {
        const values = row.map((value) => inSeason(value, alike));
        return { ...alike, values, at: String(values[at]) };
      }),
    )
    .sort((a, b) => (a.at < b.at ? -1 : a.at > b.at ? 1 : 0));
}
