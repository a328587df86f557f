import { createHash } from "node:crypto";
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { dirname, join } from "node:path";
import Sqlite from "better-sqlite3";
import type { Knex } from "knex";
import { describe, expect, it } from "vitest";
import { openDatabase } from "./engine.server";
import { healthOf } from "./health.server";
import { insertMany } from "./insertMany";
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

describe("many rows at once", () => {
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
