import { mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it, vi } from "vitest";
import { besidePlace, openDatabase, tablesAt, whereIs } from "../platform/engine.server";
import { benchForEachTest } from "../testing/benchForEachTest";
import { calibratedPh, phReading } from "../testing/testBench";
import { newPlace, testedOn } from "../testing/testDatabase";
import { writeArchive } from "./archive.server";
import { checkBackup, makeBackup } from "./backup.server";
import { listBackups } from "./backupFiles.server";
import { restoreBackup } from "./restore.server";
import { readSeals, sealNow, writeSeal } from "./seals.server";
import { stateOf } from "./state.server";
import { readArchive } from "./unarchive.server";
import { verifyRecords } from "./verify.server";

const now = "2026-04-12T20:00:00.000Z";

describe.skipIf(testedOn === "SQLite")("upkeep of a database on a server", () => {
  let folder = "";
  beforeAll(() => {
    folder = mkdtempSync(join(tmpdir(), "brintel-server-"));
  });
  afterAll(() => rmSync(folder, { recursive: true }));
  const use = benchForEachTest();
  let nth = 0;
  let data = "";
  beforeEach(async () => {
    data = join(folder, `${nth++}`);
    vi.stubEnv("BRINTEL_DATA", data);
    await calibratedPh(use.bench);
    await phReading(use.bench, -40);
  });
  afterEach(() => vi.unstubAllEnvs());
  const place = () => whereIs(use.bench.db) ?? "";

  /** Everything of a database as one file. */
  async function archived(at: string, name: string): Promise<Buffer> {
    const db = await openDatabase(at, { migrate: false });
    await writeArchive(db, join(folder, name));
    await db.destroy();
    return readFileSync(join(folder, name));
  }

  it("goes to a file of SQLite and back to a server, the same byte for byte, and its records fit", async () => {
    const first = await archived(place(), "first.zip");
    const file = join(folder, "moved.sqlite");
    await readArchive(join(folder, "first.zip"), file);
    const second = await archived(file, "second.zip");
    const back = await newPlace();
    await readArchive(join(folder, "second.zip"), back);
    const third = await archived(back, "third.zip");
    expect(second.equals(first)).toBe(true);
    expect(third.equals(first)).toBe(true);
    const db = await openDatabase(back);
    expect((await verifyRecords(db)).faults).toEqual([]);
    await db.destroy();
  });

  it("is read into an empty database only, and leaves it empty where something does not fit", async () => {
    await archived(place(), "whole.zip");
    await expect(readArchive(join(folder, "whole.zip"), place())).rejects.toThrow(
      "There are tables in 127.0.0.1",
    );
    const empty = await newPlace();
    const changed = await openDatabase(place(), { migrate: false });
    await changed("journal").where({ seq: 2 }).update({ action: "nothing of the kind" });
    await changed.destroy();
    await archived(place(), "changed.zip");
    await expect(readArchive(join(folder, "changed.zip"), empty)).rejects.toThrow("Its records do not fit");
    expect(await tablesAt(empty)).toBe(0);
    // Seals of a database that had the name before say nothing of this one.
    writeSeal(besidePlace(empty), { at: now, seq: 9999, hash: "of another database" });
    await readArchive(join(folder, "whole.zip"), empty);
    expect(await tablesAt(empty)).toBeGreaterThan(50);
    const db = await openDatabase(empty, { migrate: false });
    expect((await verifyRecords(db)).faults).toEqual([]);
    await db.destroy();
  });

  it("is backed up while it is in use, and restored into an empty database; the seals know", async () => {
    const { db } = use.bench;
    await sealNow(db);
    const backup = await makeBackup(place(), now);
    expect(backup.file).toMatch(/20260412T200000Z\.zip$/);
    expect(listBackups(besidePlace(place())).map((b) => b.file)).toEqual([backup.file]);
    expect((await checkBackup(backup.file)).journal).toEqual(backup.journal);
    expect(await stateOf(db)).toMatchObject({
      backups: [{ file: backup.file }],
      sealed: { seq: backup.journal.seq },
    });
    await phReading(use.bench, -60, "2026-04-12T21:00:00.000Z");
    const empty = await newPlace();
    await restoreBackup(backup.file, empty, "2026-04-12T22:00:00.000Z");
    const restored = await openDatabase(empty);
    expect(await restored("readings")).toHaveLength(1);
    expect(await restored("sessions")).toEqual([]);
    expect(readSeals(besidePlace(empty)).at(-1)).toMatchObject({ restored: true, ...backup.journal });
    expect((await verifyRecords(restored)).faults).toEqual([]);
    await restored.destroy();
    const bytes = readFileSync(backup.file);
    bytes[Math.floor(bytes.length / 2)] = (bytes[Math.floor(bytes.length / 2)] ?? 0) ^ 1;
    writeFileSync(backup.file, bytes);
    await expect(restoreBackup(backup.file, await newPlace(), now)).rejects.toThrow(
      "its hash is another one",
    );
  });

  it("that lost its end is found by the seals", async () => {
    const { db } = use.bench;
    await sealNow(db);
    const { seq } = await db("journal_head").first("seq");
    await db("journal").where({ seq }).delete();
    const { hash } = await db("journal").orderBy("seq", "desc").first("hash");
    await db("journal_head").update({ seq: seq - 1, hash });
    const { faults } = await verifyRecords(db);
    expect(faults.some((f) => f.sentence.includes(`the journal had an entry ${seq} that is not there`))).toBe(
      true,
    );
  });
});
