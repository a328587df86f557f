import { existsSync, mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import Sqlite from "better-sqlite3";
import { describe, expect, it } from "vitest";
import { insertMany, openDatabase, setAsideUnknown, updateMany } from "./sqlite.server";

const inFolder = async (work: (file: string) => Promise<void>) => {
  const folder = mkdtempSync(join(tmpdir(), "brintel-sqlite-"));
  try {
    await work(join(folder, "bench.sqlite"));
  } finally {
    rmSync(folder, { recursive: true });
  }
};

describe("a database of a trial version", () => {
  it("is kept aside under another name, whole, and a new one begins", () =>
    inFolder(async (file) => {
      const old = new Sqlite(file);
      old.exec(
        "create table knex_migrations (name text); insert into knex_migrations values ('000-trial'); create table kept (x); insert into kept values (42)",
      );
      old.close();
      const db = await openDatabase(file);
      expect(await db("readings").count({ n: "*" })).toEqual([{ n: 0 }]);
      await db.destroy();
      expect(setAsideUnknown(file)).toBeNull();
    }));
  it("is found again at the place that was told", () =>
    inFolder(async (file) => {
      const old = new Sqlite(file);
      old.exec(
        "create table knex_migrations (name text); insert into knex_migrations values ('000-trial'); create table kept (x); insert into kept values (42)",
      );
      old.close();
      const place = setAsideUnknown(file) ?? "";
      expect(existsSync(file)).toBe(false);
      const aside = new Sqlite(place, { readonly: true });
      expect(aside.prepare("select x from kept").get()).toEqual({ x: 42 });
      aside.close();
    }));
  it("is left alone when it is of this version, or is none", () =>
    inFolder(async (file) => {
      expect(setAsideUnknown(file)).toBeNull();
      await (await openDatabase(file)).destroy();
      expect(setAsideUnknown(file)).toBeNull();
      expect(existsSync(file)).toBe(true);
      expect(setAsideUnknown(":memory:")).toBeNull();
    }));
});

describe("many rows at once", () => {
  it("are inserted and updated by id, each with its own values, whatever characters they hold", async () => {
    const db = await openDatabase(":memory:");
    const count = 7000;
    await insertMany(
      db,
      "people",
      ["id", "name", "role", "active", "created_at"],
      Array.from({ length: count }, (_, i) => [`p${i}`, `Name ${i}`, "technician", 1, "2026"]),
    );
    const names = Array.from({ length: count }, (_, i): [string, string] => [
      `p${i}`,
      i % 2 ? `O'Brien; drop ${i}` : `“${i}”`,
    ]);
    await updateMany(db, "people", ["name"], names.slice(0, 6500));
    expect(await db("people").where({ id: "p1" }).first("name")).toEqual({ name: "O'Brien; drop 1" });
    expect(await db("people").where({ id: "p6499" }).first("name")).toEqual({ name: "O'Brien; drop 6499" });
    expect(await db("people").where({ id: "p6500" }).first("name")).toEqual({ name: "Name 6500" });
    await insertMany(db, "people", ["id"], []);
    await updateMany(db, "people", ["name"], []);
    expect(await db("people").count({ n: "*" })).toEqual([{ n: count }]);
    await db.destroy();
  });
});
