import { existsSync } from "node:fs";
import { dirname } from "node:path";
import type { Knex } from "knex";
import { besideOf, bytesOf, calledPlace, whereIs } from "../platform/engine.server";
import { migrationNames } from "../platform/migrations";
import { presentTrouble } from "../platform/trouble.server";
import { programVersion } from "../platform/version.server";
import { freeBytes } from "./backup.server";
import { listBackups } from "./backupFiles.server";
import { backupState } from "./backupRunner.server";
import { readSeals } from "./seals.server";
import { lastVerification } from "./verify.server";

/** How Brintel is doing: program, file, journal, backups, room. */
export async function stateOf(db: Knex) {
  const place = whereIs(db);
  const beside = besideOf(db);
  const head: { seq: number } | undefined = await db("journal_head").where({ id: 1 }).first("seq");
  return {
    version: programVersion,
    migration: migrationNames.at(-1) ?? "",
    node: process.version,
    up_s: Math.round(process.uptime()),
    memory_bytes: process.memoryUsage().rss,
    place: place && calledPlace(place),
    bytes: await bytesOf(db),
    /** Where the backups go, and with a file the database too. */
    free_bytes: beside && existsSync(dirname(beside)) ? freeBytes(dirname(beside)) : null,
    entries: head?.seq ?? 0,
    sealed: beside ? (readSeals(beside).at(-1) ?? null) : null,
    backups: beside ? listBackups(beside).slice(0, 20) : [],
    backup: backupState(),
    verified: await lastVerification(db),
    trouble: presentTrouble()?.sentence ?? null,
  };
}
