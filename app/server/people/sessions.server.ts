import type { Knex } from "knex";
import { ulid } from "ulid";
import { log } from "../platform/log.server";
import type { Role } from "../platform/rights.server";
import { writeLocked } from "../platform/write.server";
import type { Person } from "./person";
import { newToken, tokenHash } from "./secret.server";

const hour_ms = 3_600_000;

/** Who does nothing for so long has gone home. */
const idle_ms = 14 * hour_ms;
/** And after so long everybody says again who they are. */
const longest_ms = 7 * 24 * hour_ms;
/** A browser in which somebody signed in with a password lets people change with their PIN for so long. */
const unlocked_ms = 14 * hour_ms;
/** A session is noted as seen no more often than this: a page that is read need not write. */
const seenEvery_ms = 5 * 60_000;

/** So many wrong PINs in a browser, and it asks for a password again. */
export const wrongPins = 5;

/** What a browser carries is a random number; only its hash is kept, so that who reads the file cannot sign in with it. */
const later = (now: string, ms: number) => new Date(Date.parse(now) + ms).toISOString();

export interface Session {
  key: string;
  person: Person;
  /** They were given their password by somebody else and choose their own before anything else. */
  mustChange: boolean;
}

/** The session of a browser's cookie, noted as seen; undefined when there is none, or it has ended. */
export async function findSession(db: Knex, token: string, now: string): Promise<Session | undefined> {
  const key = tokenHash(token);
  const row:
    | { seen_at: string; until: string; id: string; name: string; role: Role; must_change: boolean | number }
    | undefined = await db("sessions")
    .join("people", "people.id", "sessions.person_id")
    .where({ "sessions.key": key, "people.active": true })
    .first(
      "sessions.seen_at",
      "sessions.until",
      "people.id",
      "people.name",
      "people.role",
      "people.must_change",
    );
  if (!row || row.until <= now || later(row.seen_at, idle_ms) <= now) return undefined;
  if (later(row.seen_at, seenEvery_ms) <= now) void noteSeen(db, key, now);
  const { id, name, role, must_change } = row;
  return { key, person: { id, name, role }, mustChange: Boolean(must_change) };
}

/** No page waits for this, or fails with it: a full disk or a long write must not keep anybody from reading. */
const noteSeen = (db: Knex, key: string, now: string): Promise<unknown> =>
  writeLocked(db, (trx) => trx("sessions").where({ key }).update({ seen_at: now })).catch((error: unknown) =>
    log.debug({ error }, "a session could not be noted as seen"),
  );

/** Begins a session in a browser and ends the one that was there. Returns what the browser carries. */
export async function beginSession(
  trx: Knex,
  personId: string,
  browserId: string,
  how: "password" | "pin",
  now: string,
): Promise<string> {
  const token = newToken();
  await trx("sessions").where({ browser_id: browserId }).orWhere("until", "<=", now).delete();
  await trx("sessions").insert({
    key: tokenHash(token),
    person_id: personId,
    browser_id: browserId,
    how,
    begun_at: now,
    seen_at: now,
    until: later(now, longest_ms),
  });
  return token;
}

export const endSession = (trx: Knex, key: string) => trx("sessions").where({ key }).delete();

/** Ends every session of a person, but for one. Returns how many. */
export const endSessionsOf = (trx: Knex, personId: string, but?: string): Promise<number> =>
  trx("sessions")
    .where({ person_id: personId })
    .modify((q) => but && q.whereNot({ key: but }))
    .delete();

export interface SessionFacts {
  key: string;
  browser: string;
  how: "password" | "pin";
  begun_at: string;
  seen_at: string;
}

/** Where a person is signed in, the latest first. */
export const sessionsOf = (db: Knex, personId: string, now: string): Promise<SessionFacts[]> =>
  db("sessions")
    .join("browsers", "browsers.id", "sessions.browser_id")
    .where({ person_id: personId })
    .where("until", ">", now)
    .where("sessions.seen_at", ">", later(now, -idle_ms))
    .orderBy("sessions.seen_at", "desc")
    .select("sessions.key", "browsers.name as browser", "how", "begun_at", "sessions.seen_at");

export interface Browser {
  id: string;
  name: string;
  /** Somebody signed in here with a password not long ago: PINs will do. */
  unlocked: boolean;
}

/** What a browser says it is, in a few words. Check value: a phone's line gives "Phone". */
export function browserName(agent: string): string {
  if (/iPad|Tablet|Android(?!.*Mobile)/i.test(agent)) return "Tablet";
  if (/Mobile|iPhone/i.test(agent)) return "Phone";
  if (/Windows|Macintosh|Linux|CrOS/i.test(agent)) return "Computer";
  return "Browser";
}

/** The browser of a cookie; undefined when it was never met. */
export async function findBrowser(db: Knex, token: string, now: string): Promise<Browser | undefined> {
  const row: { id: string; name: string; unlocked_until: string | null } | undefined = await db("browsers")
    .where({ key: tokenHash(token) })
    .first("id", "name", "unlocked_until");
  return row && { id: row.id, name: row.name, unlocked: (row.unlocked_until ?? "") > now };
}

/** Meets a browser for the first time. Returns it with what it carries from now on. */
export async function meetBrowser(
  trx: Knex,
  agent: string,
  now: string,
): Promise<{ browser: Browser; token: string }> {
  const token = newToken();
  const browser = { id: ulid(), name: browserName(agent) };
  await trx("browsers").insert({
    ...browser,
    key: tokenHash(token),
    unlocked_until: null,
    wrong_pins: 0,
    created_at: now,
  });
  return { browser: { ...browser, unlocked: false }, token };
}

/** A password was right here: PINs will do for a while. */
export const unlockBrowser = (trx: Knex, id: string, now: string) =>
  trx("browsers")
    .where({ id })
    .update({ unlocked_until: later(now, unlocked_ms), wrong_pins: 0 });

/** PINs will not do any longer, until somebody signs in with a password. */
export const lockBrowser = (trx: Knex, id: string) =>
  trx("browsers").where({ id }).update({ unlocked_until: null, wrong_pins: 0 });

/** Counts a wrong PIN. True when it was one too many, and the browser is locked. */
export async function countWrongPin(trx: Knex, id: string): Promise<boolean> {
  await trx("browsers").where({ id }).increment("wrong_pins", 1);
  const { wrong_pins }: { wrong_pins: number } = await trx("browsers").where({ id }).first("wrong_pins");
  if (wrong_pins < wrongPins) return false;
  await lockBrowser(trx, id);
  return true;
}
