import { deflateRawSync } from "node:zlib";
import Sqlite from "better-sqlite3";
import { hashOf } from "../app/server/platform/journal.server";
import { packDictionary, unpack } from "../app/server/platform/pack.server";

/**
 * Makes a big database from the demo's twelve weeks: the whole story again and again, for other benches (their own sites
 * and meters) and for earlier seasons, with ids and dates of their own and evidence that fits. Rows go in by bulk, not
 * through the doors a user uses: this is for trying how Brintel behaves after years.
 */
export function multiplyDemo(file: string, readings: number, say: (text: string) => void): void {
  const db = new Sqlite(file);
  db.pragma("journal_mode = WAL");
  db.pragma("synchronous = OFF");
  db.pragma("foreign_keys = OFF");
  db.pragma("cache_size = -400000");
  const own = Number((db.prepare("select count(*) n from readings").get() as { n: number }).n);
  const copies = Math.max(0, Math.ceil(readings / own) - 1);
  const indexes = dropIndexes(db);
  const templates = tables.map((table) => templateOf(db, table));
  const seen = new Set<string>();
  const begun = Date.now();
  for (let copy = 1; copy <= copies; copy++) {
    db.transaction(() => {
      for (const template of templates) insertCopy(template, copyOf(copy), seen);
    })();
    if (copy % 50 === 0) {
      const seconds = (Date.now() - begun) / 1000;
      say(`${((copy + 1) * own).toLocaleString("en")} readings after ${seconds.toFixed(0)} s`);
    }
  }
  chain(db);
  for (const { sql } of indexes) db.exec(sql);
  headTables(db);
  db.exec("analyze");
  db.pragma("wal_checkpoint(truncate)");
  db.pragma("optimize");
  db.close();
}

/** How many benches there are in all; each has the demo's sites and meters as its own. */
const benches = 14;
const season_days = 84;

interface Copy {
  /** Three letters that make every id of this copy its own. */
  mark: string;
  /** The same for what a bench keeps over its seasons: sites, meters, sensors. */
  benchMark: string;
  shift_ms: number;
  bench: number;
  season: number;
}
const crockford = "0123456789ABCDEFGHJKMNPQRSTVWXYZ";
const letters = (n: number): string => [n >> 10, n >> 5, n].map((part) => crockford[part & 31]).join("");

function copyOf(copy: number): Copy {
  const [bench, season] = [copy % benches, Math.floor(copy / benches)];
  // The first season of the first bench is the demo itself.
  return {
    mark: letters(copy),
    benchMark: bench === 0 ? "" : letters(bench),
    shift_ms: -season * season_days * 86_400_000,
    bench,
    season,
  };
}

interface Table {
  name: string;
  /** What is made once a bench, and not again for every season. */
  once?: boolean;
  packed?: string;
  unique?: string;
}
const tables: Table[] = [
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
  { name: "documents" },
  { name: "calibrations", packed: "packed" },
  { name: "checks" },
  { name: "readings" },
  { name: "derivations" },
  { name: "control_charts", once: true },
  { name: "quality_actions" },
  { name: "reading_evidence", packed: "packed" },
  { name: "reading_judgements" },
  { name: "rejudgings" },
  { name: "journal" },
];

/** Open work stays with its bench; nobody reviewed a copy. */
const leaveOut: Record<string, string> = {
  bench_work: "where status <> 'open'",
  journal: "where action not in ('shift signed', 'reading looked at', 'reading amended')",
};

/** Text taken apart at what changes with a copy: ids, moments and dates. */
type Piece = string | { id: string } | { moment: number } | { date: number };
const changing =
  /(?<id>01[0-9A-HJKMNP-TV-Z]{24})|(?<moment>\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d\.\d{3}Z)|(?<date>20\d\d-\d\d-\d\d)(?!T)/g;

function piecesOf(text: string): Piece[] | string {
  const pieces: Piece[] = [];
  let from = 0;
  for (const match of text.matchAll(changing)) {
    if (match.index > from) pieces.push(text.slice(from, match.index));
    from = match.index + match[0].length;
    const { id, moment } = match.groups ?? {};
    pieces.push(id ? { id } : moment ? { moment: Date.parse(moment) } : { date: Date.parse(match[0]) });
  }
  if (pieces.length === 0) return text;
  if (from < text.length) pieces.push(text.slice(from));
  return pieces;
}

interface Template {
  table: Table;
  insert: Sqlite.Statement;
  columns: string[];
  rows: (Piece[] | string | number | null)[][];
  /** Ids that belong to a bench and not to a season. */
  lasting: Set<string>;
}

const lastingIds = new Set<string>();
const peopleIds = new Set<string>();

function templateOf(db: Sqlite.Database, table: Table): Template {
  const ids = (name: string) =>
    (db.prepare(`select id from ${name}`).all() as { id: string }[]).map((r) => r.id);
  if (lastingIds.size === 0) {
    for (const name of ["sites", "meters", "sensors"]) for (const id of ids(name)) lastingIds.add(id);
    for (const id of ids("people")) peopleIds.add(id);
  }
  const where = leaveOut[table.name] ?? "";
  const rows = db.prepare(`select * from ${table.name} ${where}`).all() as Record<string, unknown>[];
  const columns = Object.keys(rows[0] ?? {}).filter((c) => !(table.name === "journal" && c === "seq"));
  const marks = columns.map(() => "?").join(",");
  return {
    table,
    insert: db.prepare(`insert or ignore into ${table.name} (${columns.join(",")}) values (${marks})`),
    columns,
    rows: rows.map((row) =>
      columns.map((column) => {
        const value = row[column];
        // Nobody signed a copy.
        if (column === "signed_judgement") return null;
        if (column === table.packed && value) return piecesOf(JSON.stringify(unpack(value as Buffer)));
        return typeof value === "string" ? piecesOf(value) : ((value ?? null) as number | null);
      }),
    ),
    lasting: lastingIds,
  };
}

const iso = (ms: number) => new Date(ms).toISOString();

function joined(pieces: Piece[], copy: Copy): string {
  let text = "";
  for (const piece of pieces) {
    if (typeof piece === "string") text += piece;
    else if ("moment" in piece) text += iso(piece.moment + copy.shift_ms);
    else if ("date" in piece) text += iso(piece.date + copy.shift_ms).slice(0, 10);
    else if (peopleIds.has(piece.id)) text += piece.id;
    else {
      const mark = lastingIds.has(piece.id) ? copy.benchMark : copy.mark;
      text += mark ? piece.id.slice(0, 10) + mark + piece.id.slice(13) : piece.id;
    }
  }
  return text;
}

function insertCopy({ table, insert, columns, rows }: Template, copy: Copy, seen: Set<string>): void {
  if (table.once) {
    const key = `${table.name} ${copy.bench}`;
    if (copy.bench === 0 || seen.has(key)) return;
    seen.add(key);
  }
  for (const row of rows) {
    const values = row.map((value, i) => {
      const column = columns[i];
      if (column === table.packed && value !== null) {
        const text = typeof value === "string" ? value : joined(value as Piece[], copy);
        return Buffer.concat([one, deflateRawSync(text, { level: 1, dictionary: packDictionary })]);
      }
      const text = Array.isArray(value) ? joined(value, copy) : value;
      return column === table.unique ? `${text} ${table.once ? copy.bench : copy.mark}` : text;
    });
    insert.run(values);
  }
}
const one = Buffer.from([1]);

/** So many entries of the journal are in memory at once. */
const chainChunk = 20_000;

/** The journal's entries in the order of their moments, with a chain of their own. */
function chain(db: Sqlite.Database): void {
  const columns =
    "seq, at, person_id, action, subject_kind, subject_id, before, after, reason, events_from, events_to, previous_hash, hash";
  const insert = db.prepare(
    `insert into journal (${columns}) values (@seq, @at, @person_id, @action, @subject_kind, @subject_id, @before, @after, @reason, null, null, '', @hash)`,
  );
  let hash = "0".repeat(64);
  let seq = 0;
  db.transaction(() => {
    db.exec("create table journal_unsorted as select * from journal order by at, seq; delete from journal");
    const next = db.prepare("select * from journal_unsorted where rowid > ? order by rowid limit ?");
    for (;;) {
      const rows = next.all(seq, chainChunk) as Parameters<typeof hashOf>[0][];
      if (rows.length === 0) break;
      for (const row of rows) {
        seq++;
        // Seals of copied events would each have to be computed from what was written: the copies go without.
        const entry = { ...row, seq, previous_hash: "", events_from: null, events_to: null };
        hash = hashOf(entry, hash, null);
        insert.run({ ...entry, hash });
      }
    }
    db.exec("drop table journal_unsorted");
    db.prepare("update journal_head set seq = ?, hash = ? where id = 1").run(seq, hash);
  })();
}

function dropIndexes(db: Sqlite.Database): { name: string; sql: string }[] {
  const indexes = db
    .prepare(
      "select name, sql from sqlite_master where type = 'index' and sql is not null and sql not like '%UNIQUE%' and sql not like '%unique%'",
    )
    .all() as { name: string; sql: string }[];
  for (const { name } of indexes) db.exec(`drop index "${name}"`);
  return indexes;
}

/** What projections keep at hand: the newest reading of each parameter of a site. */
function headTables(db: Sqlite.Database): void {
  db.exec(`delete from latest_readings;
    insert into latest_readings (site_id, parameter, analyte, reading_id, measured_at)
    select site_id, parameter, analyte, id, max(measured_at) from readings group by site_id, parameter, analyte`);
}
