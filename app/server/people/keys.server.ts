import type { Knex } from "knex";
import { ulid } from "ulid";
import { z } from "zod";
import { writeJournal } from "../platform/journal.server";
import { log } from "../platform/log.server";
import type { Actor } from "../platform/rights.server";
import { write, writeLocked } from "../platform/write.server";
import { newToken, tokenHash } from "./secret.server";

export const keyNameSchema = z
  .string()
  .trim()
  .min(3, { error: "Say which program it is for, like “the lake board's dashboard”." })
  .max(80, { error: "At most 80 characters." });

export interface ApiKey {
  id: string;
  name: string;
  begins: string;
  made_at: string;
  by: string;
  used_at: string | null;
  ended_at: string | null;
}

/** What a key begins with, so that a search for lost secrets finds it. */
const mark = "brintel_";
/** As many letters as are shown of a key that was made: too few to guess the rest. */
const shown = mark.length + 4;
/** So often that a key was used is noted, in milliseconds. */
const notedEvery_ms = 5 * 60_000;

/** The keys that were made, the newest first. */
export const listKeys = (db: Knex): Promise<ApiKey[]> =>
  db("api_keys")
    .join("people", "people.id", "api_keys.person_id")
    .orderBy("api_keys.id", "desc")
    .select(
      "api_keys.id",
      "api_keys.name",
      "api_keys.begins",
      "api_keys.made_at",
      "people.name as by",
      "api_keys.used_at",
      "api_keys.ended_at",
    );

/** Makes a key. It is returned once; what is kept is its hash. */
export function makeKey(db: Knex, name: string, actor: Actor, now: string): Promise<string> {
  const key = `${mark}${newToken()}`;
  return write(db, actor, "upkeep", async (trx) => {
    const id = ulid();
    await trx("api_keys").insert({
      id,
      name,
      key_hash: tokenHash(key),
      begins: key.slice(0, shown),
      made_at: now,
      person_id: actor.id,
    });
    await writeJournal(trx, now, [
      {
        person_id: actor.id,
        action: "key made",
        subject_kind: "key",
        subject_id: id,
        after: { name, begins: key.slice(0, shown) },
      },
    ]);
    return key;
  });
}

/** Ends a key: from the next request on it opens nothing. False when there is none that holds. */
export const endKey = (db: Knex, id: string, actor: Actor, now: string): Promise<boolean> =>
  write(db, actor, "upkeep", async (trx) => {
    const ended = await trx("api_keys").where({ id, ended_at: null }).update({ ended_at: now });
    if (!ended) return false;
    await writeJournal(trx, now, [
      { person_id: actor.id, action: "key ended", subject_kind: "key", subject_id: id },
    ]);
    return true;
  });

/** Whether a key opens anything now; that it was used is noted, seldom, and nobody waits for it. */
export async function keyHolds(db: Knex, key: string, now: string): Promise<boolean> {
  if (!key.startsWith(mark) || key.length > 100) return false;
  const row: { id: string; used_at: string | null } | undefined = await db("api_keys")
    .where({ key_hash: tokenHash(key), ended_at: null })
    .first("id", "used_at");
  if (!row) return false;
  if (!row.used_at || Date.parse(now) - Date.parse(row.used_at) >= notedEvery_ms) {
    writeLocked(db, (trx) => trx("api_keys").where({ id: row.id }).update({ used_at: now })).catch(
      (error: unknown) => log.debug({ error }, "that a key was used could not be noted"),
    );
  }
  return true;
}
