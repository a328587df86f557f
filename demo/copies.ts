import type Sqlite from "better-sqlite3";
import { unpack } from "../app/server/platform/pack.server";

/**
 * What a copy of the demo's twelve weeks is: the same story for another bench (its own sites and meters) or an earlier season, with ids and
 * dates of its own.
 */

/** How many benches there are in all; each has the demo's sites and meters as its own. */
const benches = 14;
const season_ms = 84 * 86_400_000;

export interface Copy {
  /** Which copy it is; 0 is the demo itself. Ids of a copy lie so far from those of the demo. */
  n: number;
  bench: number;
  season: number;
}
const crockford = "0123456789ABCDEFGHJKMNPQRSTVWXYZ";
/** Every three letters that an id may have in its middle, in their order. */
const triples = Array.from({ length: 32 ** 3 }, (_, n) =>
  [n >> 10, n >> 5, n].map((part) => crockford[part & 31]).join(""),
);
const numberOf = (letters: string) =>
  [...letters].reduce((n, letter) => n * 32 + crockford.indexOf(letter), 0);

const copyOf = (n: number): Copy => ({ n, bench: n % benches, season: Math.floor(n / benches) });

/** What sets the names of a copy apart, where names may be given once. */
export const markOf = ({ n }: Copy): string => triples[n] ?? "";

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
type Piece = string | { id: string; lasting: boolean } | { moment: number } | { date: number };
const changing =
  /(?<id>01[0-9A-HJKMNP-TV-Z]{24})|(?<moment>\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d\.\d{3}Z)|(?<date>20\d\d-\d\d-\d\d)(?!T)/g;

/** A value that is the same in every copy, or text in pieces. */
type Value = Piece[] | string | number | null;

/** A text of one season: its ids are all that still changes, each by three of its letters. */
interface Seasoned {
  parts: string[];
  /** The letters of the demo itself between the parts, as a number, and whether they change with the bench or with the copy. */
  gaps: { own: number; lasting: boolean }[];
}
export type SeasonValue = Seasoned | string | number | null;

const iso = (ms: number) => new Date(ms).toISOString();

export class Templates {
  private readonly lasting = new Set<string>();
  private readonly people = new Set<string>();

  constructor(private readonly db: Sqlite.Database) {
    const ids = (name: string) => (db.prepare(`select id from ${name}`).pluck().all() as string[]).values();
    for (const name of ["sites", "meters", "sensors"]) for (const id of ids(name)) this.lasting.add(id);
    for (const id of ids("people")) this.people.add(id);
  }

  /** The demo's rows of a table, taken apart; `packed` and `plain` choose what is wanted of it. */
  rowsOf(
    name: string,
    wanted: (column: string) => boolean = () => true,
  ): { columns: string[]; rows: Value[][] } {
    const found = this.db
      .prepare(`select * from ${name} ${leaveOut[name] ?? ""} order by rowid`)
      .all() as Record<string, unknown>[];
    const columns = Object.keys(found[0] ?? {}).filter(wanted);
    return { columns, rows: found.map((row) => columns.map((column) => this.valueOf(column, row[column]))) };
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
      if (id) pieces.push({ id, lasting: this.lasting.has(id) });
      else pieces.push(moment ? { moment: Date.parse(moment) } : { date: Date.parse(match[0]) });
    }
    if (pieces.length === 0) return text;
    if (from < text.length) pieces.push(text.slice(from));
    return pieces;
  }
}

/** A value in a season: its moments and dates so much earlier. What all benches of a season share is worked out once. */
export function inSeason(value: Value, season: number): SeasonValue {
  if (!Array.isArray(value)) return value;
  const shift_ms = -season * season_ms;
  const seasoned: Seasoned = { parts: [], gaps: [] };
  let text = "";
  for (const piece of value) {
    if (typeof piece === "string") text += piece;
    else if ("moment" in piece) text += iso(piece.moment + shift_ms);
    else if ("date" in piece) text += iso(piece.date + shift_ms).slice(0, 10);
    else {
      seasoned.parts.push(text + piece.id.slice(0, 10));
      seasoned.gaps.push({ own: numberOf(piece.id.slice(10, 13)), lasting: piece.lasting });
      text = piece.id.slice(13);
    }
  }
  if (seasoned.gaps.length === 0) return text;
  seasoned.parts.push(text);
  return seasoned;
}

/** A value of one copy. */
export function inCopy(value: SeasonValue, { n, bench }: Copy): string | number | null {
  if (value === null || typeof value !== "object") return value;
  const { parts, gaps } = value;
  let text = parts[0] ?? "";
  for (let i = 0; i < gaps.length; i++) {
    const { own, lasting } = gaps[i] as Seasoned["gaps"][number];
    text += (triples[(own + (lasting ? bench : n)) % triples.length] ?? "") + parts[i + 1];
  }
  return text;
}
