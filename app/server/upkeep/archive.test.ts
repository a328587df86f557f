import { createHash } from "node:crypto";
import {
  createWriteStream,
  existsSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  writeFileSync,
} from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { finished } from "node:stream/promises";
import { ZipArchive } from "archiver";
import { afterAll, beforeAll, beforeEach, describe, expect, it } from "vitest";
import { libraryMethod, RunPlayer } from "../../../core/simulation/runPlayer";
import { dayBounds } from "../../../core/time/zone";
import { openDatabase } from "../platform/engine.server";
import { outOfUse } from "../platform/inUse.server";
import { shiftToReview } from "../review/review.server";
import { noteLooked, signShift } from "../review/sign.server";
import { openTestRun, postPlayed } from "../testing/benchRun";
import {
  beginReading,
  calibratedPh,
  calibratedPond,
  checkedPond,
  openTestBench,
  phReading,
  pondReading,
} from "../testing/testBench";
import { unzip } from "../testing/unzip";
import { columnsOf, writeArchive } from "./archive.server";
import { archiveTables, formerTables, leftOut } from "./archiveTables";
import { readArchive } from "./unarchive.server";
import { verifyRecords } from "./verify.server";

const folder = mkdtempSync(join(tmpdir(), "brintel-archive-"));
afterAll(() => rmSync(folder, { recursive: true }));
const at = (h: number) => `2026-04-12T${String(h).padStart(2, "0")}:00:00.000Z`;
const bounds = dayBounds("UTC");
const whole = join(folder, "whole.zip");
const maren = { id: "p-maren", name: "Maren", role: "reviewer" as const };

/** Calibrations, readings of two meters, a run, a failed check, something open, a signed shift: a bit of everything that is packed. */
beforeAll(async () => {
  const bench = await openTestBench(join(folder, "bench.sqlite"));
  const { db } = bench;
  await db("people").insert({ ...maren, active: true, created_at: at(7) });
  await calibratedPh(bench, at(8));
  await calibratedPond(bench, at(8));
  await phReading(bench, -40, at(9), "BP-µ „quoted“\u2028line");
  await pondReading(bench, { conductivity: 640, ph: -35, oxygen: 60 }, at(10));
  const method = libraryMethod("phosphate-photometer");
  const run = await openTestRun(bench, method, at(11));
  await postPlayed(bench, run, new RunPlayer(method, {}, Date.parse(at(11))).play(0.8).events, at(11));
  await checkedPond(bench, { conductivity: 900, ph: 0, oxygen: 60 }, at(12));
  await beginReading(bench, "BP-0413", at(13));
  const rows = await shiftToReview(db, bounds.start("2026-04-12"), bounds.end("2026-04-12"));
  await noteLooked(
    db,
    rows.map((r) => ({ id: r.id, judgement: r.judgements })),
    "seen",
    maren,
    at(16),
  );
  await signShift(
    db,
    { day: "2026-04-12", from: bounds.start("2026-04-12"), to: bounds.end("2026-04-12") },
    "",
    maren,
    at(17),
  );
  await writeArchive(db, whole);
  await db.destroy();
});

let count = 0;
const fresh = () => join(folder, `${count++}`, "new.sqlite");
const sentence = (promise: Promise<unknown>) =>
  promise.then(
    () => "done",
    (e: Error) => e.message,
  );

/** An archive in which something is otherwise; where `honest`, the manifest knows of it. */
async function changed(change: (files: Map<string, Buffer>) => void, honest = true): Promise<string> {
  const files = await unzip(readFileSync(whole));
  change(files);
  if (honest && files.has("manifest.json")) {
    const manifest = JSON.parse(files.get("manifest.json")?.toString() ?? "");
    for (const table of manifest.tables ?? []) {
      const data = files.get(`${table.name}.ndjson`);
      if (!data) continue;
      table.rows = data.toString().split("\n").length - 1;
      table.sha256 = createHash("sha256").update(data).digest("hex");
    }
    files.set("manifest.json", Buffer.from(JSON.stringify(manifest)));
  }
  return zipOf(files);
}

async function zipOf(files: Iterable<[string, Buffer]>): Promise<string> {
  const file = join(folder, `${count++}.zip`);
  const output = createWriteStream(file);
  const written = finished(output);
  const zip = new ZipArchive({ zlib: { level: 9 } });
  zip.pipe(output);
  for (const [name, data] of files) zip.append(data, { name });
  await zip.finalize();
  await written;
  return file;
}
const edit = (name: string, change: (text: string) => string) => (files: Map<string, Buffer>) =>
  files.set(name, Buffer.from(change(files.get(name)?.toString() ?? "")));

describe("an archive", () => {
  it("has every table of the record, and leaves out who is signed in", async () => {
    const db = await openDatabase(":memory:");
    const rows: { name: string }[] = await db("sqlite_master")
      .where({ type: "table" })
      .whereNot("name", "like", "sqlite_%")
      .select("name");
    expect(rows.map((r) => r.name).sort()).toEqual(
      [...archiveTables.map(([name]) => name), ...leftOut].sort(),
    );
    for (const [name, key] of archiveTables) {
      const { names } = await columnsOf(db, name);
      expect(names, name).toEqual(expect.arrayContaining([...key]));
    }
    await db.destroy();
  });

  it("makes an identical database: archived again it is the same file, byte for byte, and its records fit", async () => {
    const database = fresh();
    await readArchive(whole, database);
    const db = await openDatabase(database, { migrate: false });
    const again = join(folder, "again.zip");
    await writeArchive(db, again);
    expect(readFileSync(again).equals(readFileSync(whole))).toBe(true);
    const found = await verifyRecords(db);
    expect(found.faults).toEqual([]);
    expect(found.signed).toBeGreaterThan(4);
    expect(await db.raw("pragma foreign_key_check")).toEqual([]);
    await db.destroy();
  });

  it("is readable by anybody: one row a line, columns by name, yes and no as such", async () => {
    const files = await unzip(readFileSync(whole));
    const readings =
      files
        .get("readings.ndjson")
        ?.toString()
        .trim()
        .split("\n")
        .map((l) => JSON.parse(l)) ?? [];
    expect(readings.map((r) => r.sample)).toContain("BP-µ „quoted“\u2028line");
    expect(Object.keys(readings[0])).toEqual(Object.keys(readings[0]).sort());
    const check = JSON.parse(files.get("checks.ndjson")?.toString().split("\n")[0] ?? "");
    expect(check.passed).toBe(false);
    expect([...files.keys()].at(-1)).toBe("manifest.json");
  });

  it("is not written over what could not be finished, and leaves no half one", async () => {
    const db = await openDatabase(":memory:");
    await db.schema.dropTable("amendments");
    const file = join(folder, "half.zip");
    expect(await sentence(writeArchive(db, file))).toContain("amendments");
    expect(readdirSync(folder).filter((name) => name.startsWith("half"))).toEqual([]);
    await db.destroy();
  });

  it("of an older program is read by its schema and brought up to date", async () => {
    const old = await openDatabase(":memory:", { upTo: "010-people" });
    await old("people").insert({ id: "n", name: "Noor", role: "manager", active: true, created_at: at(8) });
    const gone = { id: "oxygen-drops", at: at(9), person_id: "n", reason: "no longer made" };
    await old("retired_methods").insert(gone);
    const files = new Map<string, Buffer>();
    const tables: { name: string; rows: number; sha256: string }[] = [];
    for (const name of [...archiveTables.map(([known]) => known), ...formerTables]) {
      if (!(await old.schema.hasTable(name))) continue;
      const { flags } = await columnsOf(old, name);
      const rows: Record<string, unknown>[] = await old(name);
      const text = rows
        .map(
          (row) =>
            `${JSON.stringify(Object.fromEntries(Object.entries(row).map(([k, v]) => [k, flags.has(k) ? Boolean(v) : v])))}\n`,
        )
        .join("");
      files.set(`${name}.ndjson`, Buffer.from(text));
      tables.push({ name, rows: rows.length, sha256: createHash("sha256").update(text).digest("hex") });
    }
    await old.destroy();
    const manifest = {
      format: "brintel archive",
      version: 1,
      made_by: "Brintel 0.1.0",
      migration: "010-people",
      tables,
    };
    files.set("manifest.json", Buffer.from(JSON.stringify(manifest)));
    const database = fresh();
    await readArchive(await zipOf(files), database);
    const db = await openDatabase(database, { migrate: false });
    expect(await db("people").first("name")).toEqual({ name: "Noor" });
    expect(await db("signatures")).toEqual([]);
    // What it kept in a table that is no more is where it is kept since.
    expect([...(await outOfUse(db, "methods"))]).toEqual([
      ["oxygen-drops", { at: at(9), by: "Noor", reason: "no longer made" }],
    ]);
    await db.destroy();
  });
});

describe("what is no archive is refused in a sentence, and no database comes of it", () => {
  let database = "";
  beforeEach(() => {
    database = fresh();
  });
  const refused = async (file: string, words: string) => {
    expect(await sentence(readArchive(file, database))).toContain(words);
    expect(existsSync(database)).toBe(false);
    expect(existsSync(`${database}.reading`)).toBe(false);
  };

  it.each([
    [
      "a line that is none",
      edit("readings.ndjson", (t) => t.replace("{", "{{")),
      "readings.ndjson, line 1: this is no row",
    ],
    [
      "a value of another kind",
      edit("sites.ndjson", (t) => t.replace(/"name":"[^"]*"/, '"name":["x"]')),
      "sites.ndjson, line 1: this is no row",
    ],
    [
      "a column too few",
      edit("sites.ndjson", (t) => t.replace(/"water":"[^"]*",?/, "")),
      "its columns are not those",
    ],
    [
      "a column of its own",
      edit("sites.ndjson", (t) => t.replace("{", '{"extra":1,')),
      "its columns are not those",
    ],
    ["a row twice", edit("sites.ndjson", (t) => t + t), "UNIQUE"],
    [
      "a row that points at nothing",
      edit("readings.ndjson", (t) => t.replace(/"site_id":"[^"]*"/, '"site_id":"none"')),
      "FOREIGN KEY",
    ],
    [
      "an entry that was changed",
      edit("journal.ndjson", (t) => t.replace("person added", "person addet")),
      "Its records do not fit: journal",
    ],
    ["a table too few", (f: Map<string, Buffer>) => f.delete("sites.ndjson"), "These are missing: sites"],
    [
      "a file too many",
      (f: Map<string, Buffer>) => f.set("../../etc/passwd.ndjson", Buffer.from("x")),
      "etc/passwd.ndjson is not in its manifest",
    ],
    [
      "a table that is not known",
      (f: Map<string, Buffer>) => f.set("other.ndjson", Buffer.from("{}\n")),
      "not in its manifest",
    ],
    ["no manifest", (f: Map<string, Buffer>) => f.delete("manifest.json"), "There is no manifest"],
    ["a manifest of something else", edit("manifest.json", () => "{}"), "Its manifest is none"],
    [
      "a newer program's",
      edit("manifest.json", (t) => t.replace(/"migration": "[^"]*"/, '"migration": "999-later"')),
      "newer than this one",
    ],
  ] as [string, (files: Map<string, Buffer>) => unknown, string][])("%s", async (_name, change, words) => {
    await refused(await changed(change), words);
  });

  it("a table that is not as its manifest says", async () => {
    await refused(
      await changed(
        edit("sites.ndjson", (t) => t.replace("Bathing", "Boating")),
        false,
      ),
      "not as it was written",
    );
  });

  it("a zip that would grow without end", async () => {
    const bomb = await changed((f) => f.set("readings.ndjson", Buffer.alloc(60_000_000, "0")));
    await refused(bomb, "would grow to 60000000 bytes");
  });

  it("a file that is no zip, and one that was cut off", async () => {
    const file = join(folder, "text.zip");
    writeFileSync(file, "this is no zip");
    await refused(file, "is no zip");
    writeFileSync(file, readFileSync(whole).subarray(0, 5000));
    await refused(file, "is no zip");
  });

  it("one for which there is a database already: it is left as it is", async () => {
    const present = join(folder, "bench.sqlite");
    expect(await sentence(readArchive(whole, present))).toContain("There is a database");
  });
});
