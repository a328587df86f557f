import { resolve } from "node:path";
import { Worker } from "node:worker_threads";
import Sqlite from "better-sqlite3";
import type { Packs, SeasonMade } from "./bulkPacks";
import {
  type Alike,
  alikeIn,
  type Copy,
  inSeason,
  letterMark,
  letterOf,
  type Rows,
  seasonJournal,
  seasonsOf,
  type Table,
  Templates,
  tables,
  type Value,
  waitsForLetter,
} from "./copies";
import { putLetter } from "./lettered";

/**
 * Makes a big database from the demo's twelve weeks: the whole story again and again, for other benches and for earlier
 * seasons, with evidence that fits. Rows go in by bulk, not through the doors a user uses: this is for trying how Brintel
 * behaves after years.
 */
export async function multiplyDemo(
  file: string,
  readings: number,
  say: (text: string) => void,
): Promise<void> {
  const db = new Sqlite(file);
  db.pragma("journal_mode = WAL");
  db.pragma("synchronous = OFF");
  db.pragma("foreign_keys = OFF");
  db.pragma("cache_size = -400000");
  db.pragma("temp_store = memory");
  // Sorting for the indexes at the end may keep more than one core busy.
  db.pragma("threads = 4");
  const own = db.prepare("select count(*) from readings").pluck().get() as number;
  const copies = Math.max(1, Math.ceil(readings / own));
  const beside = await besideWriting(file, copies);
  const writer = new CopyWriter(db);
  const journal = new JournalWriter(db);
  const indexes = dropIndexes(db);
  const begun = Date.now();
  let done = 0;
  for (const season of seasonsOf(copies)) {
    const { packs, hashes } = await beside.next();
    for (const [i, alike] of alikeIn(season).entries()) {
      writer.fill(alike, packs[i]);
      for (const copy of alike.copies) {
        // The demo itself is there already.
        if (copy.n !== 0) writer.write(copy);
        done++;
      }
    }
    journal.write(season, hashes);
    const seconds = (Date.now() - begun) / 1000;
    say(`${(done * own).toLocaleString("en")} readings after ${seconds.toFixed(0)} s`);
  }
  journal.end();
  for (const { sql } of indexes) db.exec(sql);
  headTables(db);
  db.exec("analyze");
  db.pragma("wal_checkpoint(truncate)");
  db.pragma("optimize");
  db.close();
}

/** What is made of one season after the other in a thread of its own. Resolves when that has read the demo. */
async function besideWriting(file: string, copies: number): Promise<{ next: () => Promise<SeasonMade> }> {
  const worker = new Worker(resolve("scripts/run.mjs"), {
    argv: ["demo/bulkPacks.ts"],
    workerData: { file, copies },
  });
  const made: SeasonMade[] = [];
  let wanted: { done: (made: SeasonMade) => void; failed: (error: Error) => void } | undefined;
  let broken: Error | undefined;
  worker.on("error", (error) => {
    broken = error;
    wanted?.failed(error);
  });
  await new Promise<void>((read, failed) => {
    worker.once("error", failed);
    worker.once("message", () => {
      worker.on("message", (season: SeasonMade) => {
        if (wanted) wanted.done(season);
        else made.push(season);
        wanted = undefined;
      });
      read();
    });
  });
  return {
    next: async () => {
      if (broken) throw broken;
      const season =
        made.shift() ??
        (await new Promise<SeasonMade>((done, failed) => {
          wanted = { done, failed };
        }));
      worker.postMessage("taken");
      return season;
    },
  };
}

/** A table of the demo in a season: filled once for all benches, from where one statement copies it for each. */
interface Template {
  table: Table;
  rows: Value[][];
  clear: Sqlite.Statement;
  fill: Sqlite.Statement;
  copy: Sqlite.Statement;
}

/** A column of a season's table with the letter of a bench, where it waits for one. */
const withLetter = (column: string, i: number, rows: Value[][], letter: string): string =>
  rows.some((row) => waitsForLetter(row[i] ?? null))
    ? `replace(${column}, '${letterMark}', ${letter})`
    : column;

/** Writes the rows of a copy, all tables but the journal. */
class CopyWriter {
  private readonly templates: Template[];
  private readonly written = new Set<number>();
  private packs: Packs | undefined;
  private documents: Iterator<Uint8Array | null> = [][Symbol.iterator]();

  constructor(private readonly db: Sqlite.Database) {
    db.function("next_document", { deterministic: false }, () => this.documents.next().value ?? null);
    const templates = new Templates(db);
    this.templates = tables.map((table) => this.templateOf(table, templates));
  }

  private templateOf(table: Table, templates: Templates): Template {
    const { columns, rows } = templates.rowsOf(table.name, (column) => column !== table.packed);
    const into = [...columns, ...(table.packed ? [table.packed] : [])];
    const letters = columns.map((column, i) => withLetter(column, i, rows, "@letter"));
    const values = letters.map((value, i) =>
      columns[i] === table.unique ? `${value} || ' ' || @name` : value,
    );
    const { db } = this;
    db.exec(`create temp table season_${table.name} (${columns.join(", ")})`);
    return {
      table,
      rows,
      clear: db.prepare(`delete from season_${table.name}`),
      fill: db.prepare(`insert into season_${table.name} values (${columns.map(() => "?").join(", ")})`),
      copy: db.prepare(
        `insert ${table.shared ? "or ignore " : ""}into ${table.name} (${into.join(", ")})
         select ${[...values, ...(table.packed ? ["next_document()"] : [])].join(", ")}
         from season_${table.name} order by rowid`,
      ),
    };
  }

  /** Makes ready what all of these copies have in common. */
  fill(alike: Alike, packs: Packs | undefined): void {
    this.packs = packs;
    this.db.transaction(() => {
      for (const { rows, clear, fill } of this.templates) {
        clear.run();
        for (const row of rows) fill.run(row.map((value) => inSeason(value, alike)));
      }
    })();
  }

  /** Writes one of the copies for which it was made ready. */
  write(copy: Copy): void {
    const once = copy.bench !== 0 && !this.written.has(copy.bench);
    this.written.add(copy.bench);
    const letter = letterOf(copy);
    this.documents = documentsOf(this.packs, letter);
    this.db.transaction(() => {
      for (const { table, copy: statement } of this.templates)
        if (once || !table.once) statement.run({ letter, name: table.once ? copy.bench : copy.n });
    })();
  }
}

function* documentsOf(packs: Packs | undefined, letter: string): Generator<Uint8Array | null, null> {
  if (!packs) return null;
  const bytes = packs.bytes.slice();
  putLetter(bytes, packs.places, letter);
  let at = 0;
  for (const length of packs.lengths) {
    yield length === 0 ? null : bytes.subarray(at, at + length);
    at += length;
  }
  return null;
}

/** How long a hash is: 256 bits, six to a letter. */
const hashLength = 43;

/** Writes the journal anew, season by season, each in the order of its moments. */
class JournalWriter {
  private readonly own: Rows;
  private readonly fill: Sqlite.Statement;
  private readonly copy: Sqlite.Statement;
  private hashes = "";
  private seq = 0;

  constructor(private readonly db: Sqlite.Database) {
    this.own = new Templates(db).journal();
    const { columns, rows } = this.own;
    db.function("hash_at", (n: number) => this.hashes.slice(n * hashLength, (n + 1) * hashLength));
    db.exec(`delete from journal;
      create temp table season_journal (n, home, ${columns.join(", ")});
      create temp table season_benches (n, home, letter)`);
    this.fill = db.prepare(`insert into season_journal values (?, ?, ${columns.map(() => "?").join(", ")})`);
    const values = columns.map((column, i) => withLetter(column, i, rows, "letter"));
    this.copy = db.prepare(
      `insert into journal (seq, ${columns.join(", ")}, previous_hash, hash)
       select ? + entry.n + bench.n + 1, ${values.join(", ")}, '', hash_at(entry.n + bench.n)
       from season_journal as entry cross join season_benches as bench
       where bench.home = entry.home order by entry.n, bench.n`,
    );
  }

  write(season: readonly Copy[], hashes: string): void {
    this.hashes = hashes;
    this.db.transaction(() => {
      this.db.exec("delete from season_journal; delete from season_benches");
      let n = 0;
      for (const { values, home, copies } of seasonJournal(season, this.own)) {
        this.fill.run(n, home ? 1 : 0, ...values);
        n += copies.length;
      }
      const bench = this.db.prepare("insert into season_benches values (?, ?, ?)");
      for (const { home, copies } of alikeIn(season))
        for (const [i, copy] of copies.entries()) bench.run(i, home ? 1 : 0, letterOf(copy));
      this.copy.run(this.seq);
      this.seq += n;
    })();
  }

  end(): void {
    this.db
      .prepare(
        "update journal_head set seq = ?, hash = (select hash from journal where seq = ?) where id = 1",
      )
      .run(this.seq, this.seq);
  }
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
