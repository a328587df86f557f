import { resolve } from "node:path";
import { Worker } from "node:worker_threads";
import Sqlite from "better-sqlite3";
import { hashOf } from "../app/server/platform/journal.server";
import type { Packs } from "./bulkPacks";
import {
  type Copy,
  inCopy,
  inSeason,
  markOf,
  type SeasonValue,
  seasonsOf,
  type Table,
  Templates,
  tables,
} from "./copies";

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
  // Sorting for the indexes at the end may keep more than one core busy.
  db.pragma("threads = 4");
  const own = db.prepare("select count(*) from readings").pluck().get() as number;
  const copies = Math.max(1, Math.ceil(readings / own));
  const packs = await packing(file, copies);
  const writer = new CopyWriter(db);
  const journal = new JournalWriter(db);
  const indexes = dropIndexes(db);
  const begun = Date.now();
  let done = 0;
  for (const season of seasonsOf(copies)) {
    const write = writer.forSeason(season[0]?.season ?? 0);
    for (const copy of season) {
      // The demo itself is there already.
      if (copy.n !== 0) write(copy, await packs.next());
      done++;
    }
    journal.write(season);
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

/** The packed documents of one copy after the other, made in a thread of its own. Resolves when that has read the demo. */
async function packing(file: string, copies: number): Promise<{ next: () => Promise<Packs> }> {
  const worker = new Worker(resolve("scripts/run.mjs"), {
    argv: ["demo/bulkPacks.ts"],
    workerData: { file, copies },
  });
  const made: Packs[] = [];
  let wanted: { done: (packs: Packs) => void; failed: (error: Error) => void } | undefined;
  let broken: Error | undefined;
  worker.on("error", (error) => {
    broken = error;
    wanted?.failed(error);
  });
  await new Promise<void>((read, failed) => {
    worker.once("error", failed);
    worker.once("message", () => {
      worker.on("message", (packs: Packs) => {
        if (wanted) wanted.done(packs);
        else made.push(packs);
        wanted = undefined;
      });
      read();
    });
  });
  return {
    next: async () => {
      if (broken) throw broken;
      const packs =
        made.shift() ??
        (await new Promise<Packs>((done, failed) => {
          wanted = { done, failed };
        }));
      worker.postMessage("taken");
      return packs;
    },
  };
}

interface Template {
  table: Table;
  insert: Sqlite.Statement;
  columns: string[];
  rows: ReturnType<Templates["rowsOf"]>["rows"];
}

/** Writes the rows of a copy, all tables but the journal. */
class CopyWriter {
  private readonly templates: Template[];
  private readonly written = new Set<number>();

  constructor(private readonly db: Sqlite.Database) {
    const templates = new Templates(db);
    this.templates = tables.map((table) => {
      const plain = templates.rowsOf(table.name, (column) => column !== table.packed);
      const columns = [...plain.columns, ...(table.packed ? [table.packed] : [])];
      const marks = columns.map(() => "?").join(",");
      const insert = db.prepare(
        `insert ${table.shared ? "or ignore " : ""}into ${table.name} (${columns.join(",")}) values (${marks})`,
      );
      return { table, insert, columns: plain.columns, rows: plain.rows };
    });
  }

  /** Writes copies of one season. */
  forSeason(season: number): (copy: Copy, packs: Packs) => void {
    const seasoned = this.templates.map(({ rows, ...template }) => ({
      ...template,
      rows: rows.map((row) => row.map((value) => inSeason(value, season))),
    }));
    return (copy, packs) => {
      const documents = documentsOf(packs);
      const once = copy.bench !== 0 && !this.written.has(copy.bench);
      this.written.add(copy.bench);
      this.db.transaction(() => {
        for (const { table, insert, columns, rows } of seasoned) {
          if (table.once && !once) continue;
          const unique = table.unique ? columns.indexOf(table.unique) : -1;
          for (const row of rows) {
            const values: unknown[] = row.map((value: SeasonValue) => inCopy(value, copy));
            if (unique >= 0) values[unique] = `${values[unique]} ${table.once ? copy.bench : markOf(copy)}`;
            if (table.packed) values.push(documents.next().value);
            insert.run(values);
          }
        }
      })();
    };
  }
}

function* documentsOf({ lengths, bytes }: Packs): Generator<Uint8Array | null, null> {
  let at = 0;
  for (const length of lengths) {
    yield length === 0 ? null : bytes.subarray(at, at + length);
    at += length;
  }
  return null;
}

/** Writes the journal anew, season by season, each in the order of its moments, with a chain of its own. */
class JournalWriter {
  private readonly template: { columns: string[]; rows: Template["rows"] };
  private readonly insert: Sqlite.Statement;
  private hash = "0".repeat(64);
  private seq = 0;

  constructor(private readonly db: Sqlite.Database) {
    // Seals of copied events would each have to be computed from what was written: the copies go without.
    const left = ["seq", "hash", "previous_hash", "events_from", "events_to"];
    this.template = new Templates(db).rowsOf("journal", (column) => !left.includes(column));
    db.exec("delete from journal");
    this.insert = db.prepare(
      `insert into journal (seq, ${this.template.columns.join(", ")}, events_from, events_to, previous_hash, hash)
       values (?, ${this.template.columns.map(() => "?").join(", ")}, null, null, '', ?)`,
    );
  }

  write(season: readonly Copy[]): void {
    const { columns, rows } = this.template;
    const seasoned = rows.map((row) => row.map((value) => inSeason(value, season[0]?.season ?? 0)));
    const at = columns.indexOf("at");
    const entries = season
      .flatMap((copy) => seasoned.map((row) => row.map((value) => inCopy(value, copy))))
      .map((values) => ({ at: String(values[at]), values }))
      .sort((a, b) => (a.at < b.at ? -1 : a.at > b.at ? 1 : 0));
    this.db.transaction(() => {
      for (const { values } of entries) {
        const said = Object.fromEntries(columns.map((column, i) => [column, values[i]]));
        const unsealed = { seq: ++this.seq, previous_hash: "", events_from: null, events_to: null };
        this.hash = hashOf({ ...said, ...unsealed } as Parameters<typeof hashOf>[0], this.hash, null);
        this.insert.run(this.seq, ...values, this.hash);
      }
    })();
  }

  end(): void {
    this.db.prepare("update journal_head set seq = ?, hash = ? where id = 1").run(this.seq, this.hash);
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
