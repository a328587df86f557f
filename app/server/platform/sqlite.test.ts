import { createHash } from "node:crypto";
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { dirname, join } from "node:path";
import Sqlite from "better-sqlite3";
import type { Knex } from "knex";
import { describe, expect, it } from "vitest";
import { openDatabase } from "./engine.server";
import { healthOf } from "./health.server";
import { insertMany, insertRows } from "./insertMany";
import { noteTrouble, StorageTrouble } from "./trouble.server";
import { programVersion } from "./version.server";
import { writeLocked } from "./write.server";

const inFolder = async (work: (file: string) => Promise<void>) => {
  const folder = mkdtempSync(join(tmpdir(), "brintel-sqlite-"));
  try {
    await work(join(folder, "bench.sqlite"));
  } finally {
    rmSync(folder, { recursive: true });
  }
};

const trial = (file: string, more = "") => {
  const old = new Sqlite(file);
  old.exec(
    `create table knex_migrations (id integer primary key, name text); insert into knex_migrations (name) values ('001-schema'), ('999-later'); create table kept (x); insert into kept values (42); ${more}`,
  );
  old.close();
};
const contents = (file: string) => createHash("sha256").update(readFileSync(file)).digest("hex");

describe("a database of a newer program", () => {
  it("is refused with both versions named, and nothing is touched, renamed or begun anew", () =>
    inFolder(async (file) => {
      trial(
        file,
        "create table program_log (version text, migration text, at text); insert into program_log values ('9.1.0', '999-later', '2027')",
      );
      const before = contents(file);
      await expect(openDatabase(file)).rejects.toThrow(
        new RegExp(
          `Brintel 9\\.1\\.0 \\(step 999-later\\); this is Brintel ${programVersion}.*Nothing was changed`,
        ),
      );
      expect(contents(file)).toBe(before);
      expect(readdirSync(dirname(file))).toEqual(["bench.sqlite"]);
    }));

  it("is refused also when it does not say which program it was", () =>
    inFolder(async (file) => {
      trial(file);
      await expect(openDatabase(file)).rejects.toMatchObject({ code: "newer" });
    }));
});

describe("a file that cannot be used is said in a sentence that names it", () => {
  it.each<[string, (file: string) => void, string]>([
    [
      "that is no database",
      (file) => writeFileSync(file, "x".repeat(5000)),
      "is no database, or it is damaged",
    ],
    [
      "that was cut off",
      (file) => {
        const whole = new Sqlite(file);
        whole.exec("create table a (x); insert into a values (zeroblob(50000))");
        whole.close();
        writeFileSync(file, readFileSync(file).subarray(0, 9000));
      },
      "was cut off",
    ],
    ["that is a folder", (file) => mkdirSync(file), "cannot be opened"],
  ])("%s", (_name, make, words) =>
    inFolder(async (file) => {
      make(file);
      await expect(openDatabase(file)).rejects.toThrow(words);
      await expect(openDatabase(file)).rejects.toThrow(file);
      await expect(openDatabase(file)).rejects.toBeInstanceOf(StorageTrouble);
    }),
  );

  it("that another program holds", () =>
    inFolder(async (file) => {
      await (await openDatabase(file)).destroy();
      const other = new Sqlite(file);
      other.pragma("locking_mode = EXCLUSIVE");
      other.exec("begin exclusive; update journal_head set id = 1");
      await expect(openDatabase(file)).rejects.toThrow("locked by another program");
      other.close();
    }));
});

describe("a database file that goes away under a running program", () => {
  it("is noticed: nothing more is acknowledged into nothing", () =>
    inFolder(async (file) => {
      const db = await openDatabase(file);
      expect(await healthOf(db)).toBeNull();
      for (const end of ["", "-wal", "-shm"]) rmSync(file + end, { force: true });
      await expect(writeLocked(db, (trx) => trx("program_log").delete())).rejects.toMatchObject({
        code: "gone",
      });
      expect(await healthOf(db)).toMatchObject({ code: "gone" });
      await db.destroy();
      noteTrouble(null);
    }));
});

describe("a write that meets another writer", () => {
  it("waits for it and goes on, and answers meanwhile", () =>
    inFolder(async (file) => {
      const db = await openDatabase(file);
      const other = new Sqlite(file);
      other.exec("begin immediate; update journal_head set id = 1");
      let reads = 0;
      const reading = setInterval(
        () =>
          db("people")
            .first()
            .then(() => reads++),
        10,
      );
      setTimeout(() => other.exec("commit"), 400);
      const row = { version: "x", migration: "y", at: "z" };
      await writeLocked(db, (trx) => trx("program_log").insert(row));
      clearInterval(reading);
      expect(reads).toBeGreaterThan(3);
      expect(await db("program_log").where(row)).toHaveLength(1);
      other.close();
      await db.destroy();
    }));

  it("is done whole or not at all", async () => {
    const db = await openDatabase(":memory:");
    const half = async (trx: Knex) => {
      await trx("program_log").insert({ version: "x", migration: "y", at: "z" });
      throw new Error("in the middle");
    };
    await expect(writeLocked(db, half)).rejects.toThrow("in the middle");
    expect(await db("program_log").where({ version: "x" })).toEqual([]);
    await db.destroy();
  });
});

describe("writes that queue", () => {
  it("let everything else of the program have its turn between two of them", async () => {
    const db = await openDatabase(":memory:");
    let turns = 0;
    const others = setInterval(() => turns++, 0);
    const until = Date.now() + 200;
    while (Date.now() < until) await writeLocked(db, (trx) => trx("program_log").whereRaw("false").delete());
    clearInterval(others);
    expect(turns).toBeGreaterThan(0);
    await db.destroy();
  });
});

describe("a question that was asked before", () => {
  it("is answered by what is there now, also when its table has got another column", async () => {
    const db = await openDatabase(":memory:");
    const all = () => db("seen").select().orderBy("what");
    await db.schema.createTable("seen", (t) => void t.string("what"));
    await insertRows(db, "seen", [{ what: "heron" }]);
    expect(await all()).toEqual([{ what: "heron" }]);
    await db.schema.alterTable("seen", (t) => void t.integer("times").defaultTo(1));
    await insertRows(db, "seen", [{ what: "otter", times: 2 }]);
    expect(await all()).toEqual([
      { what: "heron", times: 1 },
      { what: "otter", times: 2 },
    ]);
    await db.destroy();
  });

  it("does not keep a setting of the engine from being made again", async () => {
    const db = await openDatabase(":memory:");
    const setting = async () => (await db.raw("pragma reverse_unordered_selects"))[0];
    for (const on of [1, 0, 1]) {
      await db.raw(`pragma reverse_unordered_selects = ${on}`);
      expect(await setting()).toEqual({ reverse_unordered_selects: on });
    }
    await db.destroy();
  });

  it("gives its place up when very many others were asked", async () => {
    const db = await openDatabase(":memory:");
    for (let n = 0; n < 1500; n++)
      expect(await db.raw(`select ${n} as n, ? as also`, [n])).toEqual([{ n, also: n }]);
    await db.destroy();
  });
});

describe("many rows at once", () => {
  it("are inserted a few in each statement, in their order, and none when there are none", async () => {
    const db = await openDatabase(":memory:");
    const rows = Array.from({ length: 123 }, (_, i) => ({
      version: "x",
      migration: `m${String(i).padStart(3, "0")}`,
      at: "z",
    }));
    await insertRows(db, "program_log", rows, 50);
    await insertRows(db, "program_log", []);
    expect(await db("program_log").where({ version: "x" }).orderBy("rowid").pluck("migration")).toEqual(
      rows.map((r) => r.migration),
    );
    await db.destroy();
  });

  it("are inserted, each with its own values, whatever characters they hold", async () => {
    const db = await openDatabase(":memory:");
    const count = 7000;
    await insertMany(
      db,
      "people",
      ["id", "name", "role", "active", "created_at"],
      Array.from({ length: count }, (_, i) => [
        `p${i}`,
        i % 2 ? `O'Brien; drop ${i}` : `“${i}”`,
        "technician",
        1,
        "2026",
      ]),
    );
    expect(await db("people").where({ id: "p1" }).first("name")).toEqual({ name: "O'Brien; drop 1" });
    await insertMany(db, "people", ["id"], []);
    expect(await db("people").count({ n: "*" })).toEqual([{ n: count }]);
    await db.destroy();
  });
});
