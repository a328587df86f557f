import { existsSync, statSync } from "node:fs";
import { dirname } from "node:path";
import type { Knex } from "knex";
import { migrationNames } from "../platform/migrations";
import { fileOf } from "../platform/sqlite.server";
import { presentTrouble } from "../platform/trouble.server";
import { programVersion } from "../platform/version.server";
import { freeBytes, listBackups } from "./backup.server";
import { backupState } from "./backupRunner.server";
import { readSeals } from "./seals.server";
import { lastVerification } from "./verify.server";

/** How Brintel is doing: program, file, journal, backups, room. */
export async function stateOf(db: Knex) {
  const file = fileOf(db);
  const head: { seq: number } | undefined = await db("journal_head").where({ id: 1 }).first("seq");
  const size = (end: string) => (file && existsSync(file + end) ? statSync(file + end).size : 0);
  return {
    version: programVersion,
    migration: migrationNames.at(-1) ?? "",
    node: process.version,
    up_s: Math.round(process.uptime()),
    memory_bytes: process.memoryUsage().rss,
    file,
    bytes: size("") + size("-wal"),
    free_bytes: file ? freeBytes(dirname(file)) : null,
    entries: head?.seq ?? 0,
    sealed: file ? (readSeals(file).at(-1) ?? null) : null,
    backups: file ? listBackups(file).slice(0, 20) : [],
    backup: backupState(),
    verified: await lastVerification(db),
    trouble: presentTrouble()?.sentence ?? null,
  };
}
