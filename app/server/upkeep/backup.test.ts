import { createHash } from "node:crypto";
import {
  copyFileSync,
  existsSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  truncateSync,
  writeFileSync,
} from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import Sqlite from "better-sqlite3";
import type { Knex } from "knex";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { hashSecret } from "../people/secret.server";
import { signInByPassword } from "../people/signIn.server";
import { openDatabase } from "../platform/engine.server";
import { calibratedPh, openTestBench, phReading, type TestBench } from "../testing/testBench";
import { checkBackup, makeBackup } from "./backup.server";
import { type BackupTrouble, backupFolder, listBackups } from "./backupFiles.server";
import { restoreBackup } from "./restore.server";
import { superfluous } from "./rotation";
import { readSeals, sealNow } from "./seals.server";
import { verifyRecords } from "./verify.server";

let folder = "";
let file = "";
let bench: TestBench;
const at = (h: number) => `2026-04-12T${String(h).padStart(2, "0")}:00:00.000Z`;
beforeEach(async () => {
  folder = mkdtempSync(join(tmpdir(), "brintel-backup-"));
  file = join(folder, "bench.sqlite");
  bench = await openTestBench(file);
  await calibratedPh(bench, at(8));
  await phReading(bench, -40, at(9));
});
afterEach(async () => {
  await bench.db.destroy();
  rmSync(folder, { recursive: true, force: true });
});
const count = async (db: Knex) => Number((await db("readings").count({ n: "*" }))[0]?.n);
const counted = async (database: string) => {
  const db = await openDatabase(database, { migrate: false });
  const n = await count(db);
  await db.destroy();
  return n;
};
const sentence = (promise: Promise<unknown>) =>
  promise.then(
    () => "done",
    (e: BackupTrouble) => e.message,
  );

describe("a backup", () => {
  it("is a whole database, checked, with what is in it beside it, and leaves nothing else behind", async () => {
    const backup = await makeBackup(file, at(10));
    expect(backup).toMatchObject({ format: 1, made_at: at(10), migration: expect.stringMatching(/^\d{3}-/) });
    expect(readdirSync(backupFolder(file)).sort()).toEqual([
      "bench-20260412T100000Z.sqlite",
      "bench-20260412T100000Z.sqlite.json",
    ]);
    expect(await checkBackup(backup.file)).toMatchObject({ sha256: backup.sha256 });
    expect(await counted(backup.file)).toBe(1);
    expect(listBackups(file).map((b) => b.file)).toEqual([backup.file]);
  });

  it("is of one moment, while others write all the time, and nobody waits for it", async () => {
    let writing = true;
    let written = 0;
    const writer = (async () => {
      for (let i = 0; writing; i++) {
        await phReading(bench, -40 - (i % 5), at(10));
        written++;
      }
    })();
    for (let i = 0; i < 4; i++) {
      const { file: copy } = await makeBackup(file, at(10 + i));
      const db = await openDatabase(copy, { migrate: false });
      expect((await verifyRecords(db)).faults).toEqual([]);
      await db.destroy();
    }
    writing = false;
    await writer;
    expect(written).toBeGreaterThan(0);
  });

  it("that cannot be made leaves no half one, and says why", async () => {
    writeFileSync(backupFolder(file), "in the way");
    expect(await sentence(makeBackup(file, at(10)))).toMatch(/EEXIST|ENOTDIR|exist/);
    rmSync(backupFolder(file));
    expect(await sentence(makeBackup(file, at(10), () => 1000))).toContain("not enough room");
    expect(readdirSync(backupFolder(file)).filter((name) => name.includes(".part"))).toEqual([]);
  });

  it("goes to where BRINTEL_BACKUPS says", async () => {
    vi.stubEnv("BRINTEL_BACKUPS", join(folder, "elsewhere"));
    const { file: copy } = await makeBackup(file, at(10));
    vi.unstubAllEnvs();
    expect(copy.startsWith(join(folder, "elsewhere"))).toBe(true);
  });
});

describe("which backups go", () => {
  const every = (hours: number, n: number) =>
    Array.from({ length: n }, (_, i) =>
      new Date(Date.UTC(2026, 10, 30, 18) - i * hours * 3_600_000).toISOString(),
    );
  it.each([
    ["none of three", every(1, 3), 0],
    ["of an hourly day all but the newest three", every(1, 18), 15],
    ["of a daily year all but 14 days and 12 months", every(24, 365), 365 - 14 - 11],
  ])("%s", (_name, made, gone) => expect(superfluous(made)).toHaveLength(gone));

  it("the newest never", () => {
    for (const n of [1, 5, 50, 500]) expect(superfluous(every(7, n))).not.toContain(every(7, n)[0]);
  });
  it("the newest of each of the last 14 days that have one stay", () => {
    const made = every(12, 60);
    const kept = made.filter((m) => !superfluous(made).includes(m));
    expect(new Set(kept.map((m) => m.slice(0, 10))).size).toBe(14);
    expect(kept).toHaveLength(15);
  });
});

const withoutManifest = (backup: string) => {
  rmSync(`${backup}.json`);
  return backup;
};
const cutOff = (backup: string) => {
  truncateSync(backup, 40_000);
  return backup;
};

describe("a restored backup", () => {
  it("is as it was when it was made; what was there lies aside; everybody signs in anew; the records still fit", async () => {
    await bench
      .db("people")
      .update({ password: await hashSecret("three brown ducks", { logN: 4, r: 1, p: 1 }) });
    await signInByPassword(
      bench.db,
      bench.person.id,
      "three brown ducks",
      { browserToken: null, agent: "" },
      at(9),
    );
    await sealNow(bench.db);
    const backup = await makeBackup(file, at(10));
    await phReading(bench, -42, at(11));
    await sealNow(bench.db);
    await bench.db.destroy();
    const { before } = await restoreBackup(backup.file, file, at(12));
    expect(await counted(file)).toBe(1);
    expect(await counted(before ?? "")).toBe(2);
    const db = await openDatabase(file);
    expect(await db("sessions")).toEqual([]);
    expect(readSeals(file).at(-1)).toMatchObject({ restored: true, seq: backup.journal.seq });
    expect((await verifyRecords(db)).faults).toEqual([]);
    await db.destroy();
    bench = { ...bench, db: await openDatabase(file) };
  });

  it("that an older program made is brought up to date", async () => {
    const old = join(folder, "old.sqlite");
    const before = await openDatabase(old, { upTo: "009-solutions" });
    await before("people").insert({
      id: "n",
      name: "Noor",
      role: "manager",
      active: true,
      created_at: at(8),
    });
    await before.destroy();
    const backup = await makeBackup(old, at(10));
    expect(backup.migration).toBe("009-solutions");
    await restoreBackup(backup.file, old, at(12));
    const db = await openDatabase(old, { migrate: false });
    expect(await db("people").first("name", "must_change")).toMatchObject({ name: "Noor" });
    await db.destroy();
  });

  it("comes where there is nothing yet", async () => {
    const backup = await makeBackup(file, at(10));
    const fresh = join(folder, "new", "machine.sqlite");
    expect(await restoreBackup(backup.file, fresh, at(12))).toMatchObject({ before: null });
    expect(await counted(fresh)).toBe(1);
  });

  it.each([
    ["that is not there", (b: string) => `${b}x`, "There is no file"],
    ["whose manifest is gone", withoutManifest, "there is no"],
    ["that was cut off", cutOff, "not as it was made"],
    [
      "of which one byte is another one",
      (b: string) => {
        const bytes = readFileSync(b);
        bytes[bytes.length - 100] = (bytes[bytes.length - 100] ?? 0) ^ 1;
        writeFileSync(b, bytes);
        return b;
      },
      "not as it was made",
    ],
    [
      "of a newer program",
      (b: string) => {
        const manifest = JSON.parse(readFileSync(`${b}.json`, "utf8"));
        writeFileSync(`${b}.json`, JSON.stringify({ ...manifest, migration: "999-later", version: "9.0.0" }));
        return b;
      },
      "newer than this one",
    ],
    [
      "in which an entry was changed",
      (b: string) => {
        const raw = new Sqlite(b);
        raw.exec("update journal set reason = 'other' where seq = 3");
        raw.close();
        const manifest = JSON.parse(readFileSync(`${b}.json`, "utf8"));
        const sha256 = createHash("sha256").update(readFileSync(b)).digest("hex");
        writeFileSync(`${b}.json`, JSON.stringify({ ...manifest, sha256 }));
        return b;
      },
      "journal 3",
    ],
  ])("%s is refused in a sentence, and nothing has changed", async (_name, damage, words) => {
    const backup = await makeBackup(file, at(10));
    await phReading(bench, -42, at(11));
    const asked = damage(backup.file);
    await bench.db.destroy();
    expect(await sentence(restoreBackup(asked, file, at(12)))).toContain(words);
    expect(await counted(file)).toBe(2);
    expect(existsSync(`${file}.restoring`)).toBe(false);
    bench = { ...bench, db: await openDatabase(file) };
  });

  it("is refused while the database is in use", async () => {
    const backup = await makeBackup(file, at(10));
    expect(await sentence(restoreBackup(backup.file, file, at(12)))).toContain("Stop Brintel first");
    expect(await count(bench.db)).toBe(1);
  });

  it("takes the place of a file that is no database any more", async () => {
    const backup = await makeBackup(file, at(10));
    await bench.db.destroy();
    const copy = join(folder, "other.sqlite");
    copyFileSync(backup.file, copy);
    writeFileSync(copy, "this is no database");
    expect((await restoreBackup(backup.file, copy, at(12))).before).toContain(".before-");
    expect(await counted(copy)).toBe(1);
    bench = { ...bench, db: await openDatabase(file) };
  });
});
