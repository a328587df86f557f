import { copyFileSync, mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import Sqlite from "better-sqlite3";
import type { Knex } from "knex";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { seededRandom } from "../../../core/quantity/random";
import { dayBounds } from "../../../core/time/zone";
import type { Person } from "../people/people.server";
import { openDatabase } from "../platform/engine.server";
import { amendReading } from "../review/amend.server";
import { noteLooked, signShift } from "../review/sign.server";
import { calibratedPh, openTestBench, phReading } from "../testing/testBench";
import { testedOn } from "../testing/testDatabase";
import { readSeals, sealNow, sealsFile, sealsInForce, writeSeal } from "./seals.server";
import { keepVerification, lastVerification, verifyRecords } from "./verify.server";

const folder = mkdtempSync(join(tmpdir(), "brintel-verify-"));
afterAll(() => rmSync(folder, { recursive: true }));
const template = join(folder, "template.sqlite");
const maren: Person = { id: "p-maren", name: "Maren", role: "reviewer" };
const at = (h: number) => `2026-04-12T${String(h).padStart(2, "0")}:00:00.000Z`;
const bounds = dayBounds("UTC");
const shift = { day: "2026-04-12", from: bounds.start("2026-04-12"), to: bounds.end("2026-04-12") };
let amended = "";

/** A file with a signed shift, one result amended after it and signed again, and its seals. */
beforeAll(async () => {
  const bench = await openTestBench(template);
  const { db, person } = bench;
  await db("people").insert({ ...maren, active: true, created_at: at(7) });
  await calibratedPh(bench, at(8));
  for (const [i, mv] of [-40, -42, -38, 420].entries()) await phReading(bench, mv, at(9 + i));
  const odd = { id: "", judgement: 1 };
  for (const { id, verdict } of await db("readings").orderBy("id").select("id", "verdict")) {
    if (verdict === "sound") amended ||= id;
    else odd.id = id;
  }
  await noteLooked(db, [odd], "The cable was loose.", maren, at(16));
  await signShift(db, shift, "A quiet day.", maren, at(17));
  await amendReading(
    db,
    amended,
    { what: "value", text: "7.86", reason: "Digits changed places.", judgement: 1 },
    person,
    at(18),
  );
  await noteLooked(db, [{ id: amended, judgement: 2 }], "Seen on the paper.", maren, at(19));
  await signShift(db, shift, "", maren, at(20));
  await sealNow(db);
  await db.destroy();
});

let count = 0;
/** A copy of the file in which something was changed behind the program's back; what the check says of it. */
async function afterChange(change: (db: Sqlite.Database) => void) {
  const file = join(folder, `${count++}.sqlite`);
  copyFileSync(template, file);
  copyFileSync(sealsFile(template), sealsFile(file));
  const raw = new Sqlite(file);
  raw.pragma("foreign_keys = off");
  change(raw);
  raw.close();
  const db = await openDatabase(file, { migrate: false });
  const found = await verifyRecords(db);
  await db.destroy();
  rmSync(file);
  return found;
}
const change = (sql: string) => afterChange((db) => db.exec(sql));

describe("records that nobody touched", () => {
  it("fit, signed, amended and signed again", async () => {
    const found = await afterChange(() => undefined);
    expect(found).toMatchObject({ signed: 5, faults: [] });
    expect(found.entries).toBeGreaterThan(15);
  });
});

describe("what was changed behind the program's back is found and named", () => {
  it.each([
    ["an entry", "update journal set reason = 'other' where seq = 5", "journal", "5"],
    ["an entry that is gone", "delete from journal where seq = 5", "journal", "6"],
    [
      "the newest entries, and the head with them",
      "delete from journal where seq > 10; update journal_head set seq = 10, hash = (select hash from journal where seq = 10)",
      "journal",
      "",
    ],
    [
      "an event",
      "update bench_work set packed = substr(packed, 1, 30) || x'00' || substr(packed, 32) where id = (select min(id) from bench_work)",
      "journal",
      "",
    ],
    [
      "a document",
      "update documents set document = document || ' ' where key = (select min(key) from documents)",
      "document",
      "",
    ],
    ["a note", "update review_notes set comment = 'fine'", "note", ""],
    ["a note that is gone", "delete from review_notes", "note", ""],
    ["an amendment", "update amendments set before = '7.85 pH'", "amendment", ""],
    ["a signature", "update signatures set comment = 'other' where day = '2026-04-12'", "signature", ""],
    ["who signed", "update signatures set person_id = (select min(id) from people)", "signature", ""],
    [
      "a signature that is gone",
      "delete from signed_readings; delete from signatures; update readings set signed_judgement = null",
      "signature",
      "",
    ],
    [
      "what was signed",
      "delete from signed_readings where reading_id = (select min(reading_id) from signed_readings)",
      "signature",
      "",
    ],
  ])("%s", async (_name, sql, what, id) => {
    const { faults } = await change(sql);
    expect(faults.length).toBeGreaterThan(0);
    expect(faults[0]?.what).toBe(what);
    if (id) expect(faults[0]?.id).toBe(id);
  });

  it.each([
    ["value", "value + 0.01"],
    ["verdict", "'sound '"],
    ["measured_at", "'2026-04-12T09:00:01.000Z'"],
    ["person_id", "'p-maren'"],
    ["sample", "'BP'"],
    ["judgements", "judgements + 1"],
    ["signed_judgement", "null"],
    ["sample_id", "'none'"],
  ])("the %s of a signed reading", async (column, to) => {
    const { faults } = await change(`update readings set ${column} = ${to} where id = '${amended}'`);
    expect(faults).toContainEqual(expect.objectContaining({ what: "reading", id: amended }));
  });

  it("what a signed reading rests on, its history, and how it was when it was signed first", async () => {
    for (const sql of [
      `update reading_evidence set packed = x'0102' where reading_id = '${amended}'`,
      `update reading_judgements set cause = 'x' where reading_id = '${amended}' and seq = 1`,
      `delete from superseded_readings`,
      `update superseded_readings set packed = x'01'`,
    ]) {
      expect((await change(sql)).faults, sql).toContainEqual(
        expect.objectContaining({ what: "reading", id: amended }),
      );
    }
  });

  it("a reading that only says that it was signed", async () => {
    const { faults } = await change(
      `delete from signed_readings where reading_id = '${amended}' and judgement = 2`,
    );
    expect(faults.map((f) => f.what)).toEqual(expect.arrayContaining(["signature", "reading"]));
  });
});

/** The tables whose every value is sealed, and the columns of each that are. */
const sealed: Record<string, string[]> = {
  journal: [
    "seq",
    "at",
    "person_id",
    "action",
    "subject_kind",
    "subject_id",
    "before",
    "after",
    "reason",
    "events_from",
    "events_to",
    "hash",
  ],
  readings: [
    "id",
    "work_id",
    "source",
    "kind",
    "parameter",
    "analyte",
    "site_id",
    "sample",
    "sample_key",
    "value",
    "measured_value",
    "uncertainty",
    "decimals",
    "unit",
    "temperature_c",
    "verdict",
    "findings",
    "rules_version",
    "measured_at",
    "finished_at",
    "person_id",
    "judgements",
    "signed_judgement",
  ],
  reading_evidence: ["reading_id", "packed", "calibration_key"],
  reading_judgements: ["reading_id", "seq", "at", "value", "verdict", "findings", "rules_version", "cause"],
  signatures: ["id", "at", "person_id", "day", "from_at", "to_at", "comment", "readings", "hash"],
  signed_readings: ["signature_id", "reading_id", "judgement", "hash"],
  superseded_readings: ["reading_id", "judgement", "packed"],
  review_notes: ["id", "reading_id", "judgement", "at", "person_id", "comment"],
  amendments: ["id", "reading_id", "judgement", "at", "person_id", "what", "before", "after", "reason"],
  documents: ["key", "document"],
  bench_work: ["packed"],
};

/** Changes one byte of a value to another, as a failing disk or a patient hand would. Returns where, and how to take it back. */
function changeByte(db: Sqlite.Database, random: () => number): { where: string; undo(): void } {
  const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)] as T;
  for (;;) {
    const table = pick(Object.keys(sealed));
    const column = pick(sealed[table] ?? []);
    const rows = db
      .prepare(`select rowid as row, "${column}" as value, typeof("${column}") as type from "${table}"`)
      .all() as {
      row: number;
      value: string | number | Buffer | null;
      type: string;
    }[];
    const { row, value, type } = pick(rows);
    if (value === null) continue;
    const bytes = Buffer.from(typeof value === "number" ? String(value) : value);
    if (bytes.length === 0) continue;
    const place = Math.floor(random() * bytes.length);
    const before = bytes[place] as number;
    // Another digit in a number, another letter in a text, any other byte elsewhere.
    const wheel = typeof value === "number" || /\d/.test(String.fromCharCode(before)) ? [48, 10] : [32, 95];
    const [from, size] = type === "blob" ? [0, 256] : (wheel as [number, number]);
    bytes[place] = from + ((before - from + 1 + Math.floor(random() * (size - 1)) + size) % size);
    if (bytes[place] === before) continue;
    const changed =
      typeof value === "number" ? Number(bytes.toString()) : type === "blob" ? bytes : bytes.toString();
    if (changed === value || Number.isNaN(changed)) continue;
    // The number of an entry is its place in the file as well.
    const moved = table === "journal" && column === "seq";
    const set = db.prepare(`update "${table}" set "${column}" = ? where rowid = ?`);
    try {
      set.run(changed, row);
    } catch {
      continue; // Two rows of one key: the engine itself refuses.
    }
    return {
      where: `${table}.${column} row ${row} byte ${place}`,
      undo: () => set.run(value, moved ? changed : row),
    };
  }
}

// A file of SQLite, whatever else the tests run on.
it.skipIf(testedOn === "PostgreSQL")(
  "any byte that is changed in a sealed value is found: a thousand of them, one at a time",
  async () => {
    const random = seededRandom(13);
    const file = join(folder, "bytes.sqlite");
    copyFileSync(template, file);
    copyFileSync(sealsFile(template), sealsFile(file));
    const raw = new Sqlite(file);
    raw.pragma("foreign_keys = off");
    const db: Knex = await openDatabase(file, { migrate: false });
    const missed: string[] = [];
    for (let i = 0; i < 1000; i++) {
      const { where, undo } = changeByte(raw, random);
      if ((await verifyRecords(db)).faults.length === 0) missed.push(where);
      undo();
      if (i % 50 === 0) expect((await verifyRecords(db)).faults, where).toEqual([]);
    }
    expect(missed).toEqual([]);
    expect((await verifyRecords(db)).faults).toEqual([]);
    raw.close();
    await db.destroy();
  },
);

describe("seals", () => {
  const seal = (seq: number, at: string) => ({ at, seq, hash: `h${seq}` });
  const file = join(folder, "s.sqlite");

  it("are one an hour, the newest always there", () => {
    writeSeal(file, seal(1, "2026-04-12T08:00:00.000Z"));
    writeSeal(file, seal(22, "2026-04-12T08:59:00.000Z"));
    writeSeal(file, seal(333, "2026-04-12T09:10:00.000Z"));
    writeSeal(file, seal(4, "2026-04-12T09:20:00.000Z"));
    expect(readSeals(file).map((s) => s.seq)).toEqual([22, 4]);
  });

  it("of before a restored backup hold as far as the backup goes", () => {
    const seals = [
      seal(10, "a"),
      seal(20, "b"),
      { ...seal(15, "c"), restored: true as const },
      seal(18, "d"),
    ];
    expect(sealsInForce(seals).map((s) => s.seq)).toEqual([10, 15, 18]);
  });

  it("find a file that was put back from before: it fits in itself, and is too short", async () => {
    const { faults } = await afterChange((db) => {
      db.exec("delete from journal where seq > 12");
      db.exec("update journal_head set seq = 12, hash = (select hash from journal where seq = 12)");
    });
    expect(faults[0]?.sentence).toContain("its end was cut off");
  });
});

it("a check is kept, with who asked for it", async () => {
  const bench = await openTestBench();
  await keepVerification(bench.db, await verifyRecords(bench.db), bench.person.id, at(10));
  expect(await lastVerification(bench.db)).toMatchObject({ by: "Noor", at: at(10), faults: [] });
  await bench.db.destroy();
});
