import type { Knex } from "knex";
import { writeJournal } from "../platform/journal.server";
import { writeLocked } from "../platform/write.server";
import type { Person } from "./person";
import { hashSecret, matchesSecret } from "./secret.server";
import {
  type Browser,
  beginSession,
  countWrongPin,
  findBrowser,
  meetBrowser,
  unlockBrowser,
} from "./sessions.server";

/** What a browser says when somebody signs in: the number it carries, if any, and what it calls itself. */
export interface Asking {
  browserToken: string | null;
  agent: string;
}

/** Let in, with what the browser carries from now on; or not, with a sentence. */
export type SignedIn =
  | { session: string; browser: string | null; person: Person }
  | { refused: string; usePassword: boolean };

interface Secrets extends Person {
  password: string | null;
  pin: string | null;
  wrong_count: number;
  wait_until: string | null;
}

/** How long the next try waits after so many wrong ones: nothing for four, then 5 s, doubled, at most 5 minutes. */
export const waitAfter_ms = (wrong: number): number =>
  wrong < 5 ? 0 : Math.min(300_000, 5000 * 2 ** (wrong - 5));

const secretsOf = (db: Knex, id: string): Promise<Secrets | undefined> =>
  db("people")
    .where({ id, active: true })
    .first("id", "name", "role", "password", "pin", "wrong_count", "wait_until");

const refuse = (refused: string, usePassword = false): SignedIn => ({ refused, usePassword });

/** The browser somebody signs in at: the one that was met before, or a new one. */
async function browserOf(
  trx: Knex,
  { browserToken, agent }: Asking,
  now: string,
): Promise<{ browser: Browser; token: string | null }> {
  const known = browserToken ? await findBrowser(trx, browserToken, now) : undefined;
  return known ? { browser: known, token: null } : meetBrowser(trx, agent, now);
}

/** Lets somebody in whose secret was right: begins the session and writes it into the journal. */
export async function letIn(
  trx: Knex,
  person: Person,
  asking: Asking,
  how: "password" | "pin",
  now: string,
): Promise<SignedIn> {
  const { browser, token } = await browserOf(trx, asking, now);
  if (how === "password") await unlockBrowser(trx, browser.id, now);
  await trx("people").where({ id: person.id }).update({ wrong_count: 0, wait_until: null });
  const session = await beginSession(trx, person.id, browser.id, how, now);
  await writeJournal(trx, now, [
    {
      person_id: person.id,
      action: "signed in",
      subject_kind: "person",
      subject_id: person.id,
      after: { how, at: browser.name },
    },
  ]);
  return { session, browser: token, person: { id: person.id, name: person.name, role: person.role } };
}

/** A wrong secret is counted; from the fifth on, the person's next try waits. */
async function countWrong(trx: Knex, person: Secrets, now: string): Promise<SignedIn> {
  // Another try may have been counted since this one began.
  const { wrong_count }: { wrong_count: number } = await trx("people")
    .where({ id: person.id })
    .first("wrong_count");
  const wrong = wrong_count + 1;
  const wait_ms = waitAfter_ms(wrong);
  const wait_until = wait_ms ? new Date(Date.parse(now) + wait_ms).toISOString() : null;
  await trx("people").where({ id: person.id }).update({ wrong_count: wrong, wait_until });
  if (wait_ms) {
    await writeJournal(trx, now, [
      {
        person_id: person.id,
        action: "sign-in refused",
        subject_kind: "person",
        subject_id: person.id,
        after: { wrong, wait_s: wait_ms / 1000 },
      },
    ]);
  }
  return refuse(
    wait_ms
      ? `This is not right. After ${wrong} tries the next one waits ${wait_ms / 1000} s.`
      : "This is not right. Try again.",
  );
}

/** The sentence for who has to wait; null for who has not. */
function mustWait({ wait_until }: Secrets, now: string): SignedIn | null {
  if (!wait_until || wait_until <= now) return null;
  const seconds = Math.ceil((Date.parse(wait_until) - Date.parse(now)) / 1000);
  return refuse(`There were too many wrong tries. Wait ${seconds} s, then try again.`);
}

/** Signs somebody in with a password, and lets PINs do in this browser for a while. */
export async function signInByPassword(
  db: Knex,
  personId: string,
  password: string,
  asking: Asking,
  now: string,
): Promise<SignedIn> {
  const person = await secretsOf(db, personId);
  if (!person) return refuse("This person is not in the list any more.");
  const wait = mustWait(person, now);
  if (wait) return wait;
  if (!person.password) return refuse("No password was given to you yet. Ask whoever manages for one.");
  const { ok, renew } = await matchesSecret(password, person.password);
  // A secret is hashed outside of the write lock: it takes long, and others write meanwhile.
  const anew = renew ? await hashSecret(password) : null;
  return writeLocked(db, async (trx) => {
    if (!ok) return countWrong(trx, person, now);
    if (anew)
      await trx("people").where({ id: person.id, password: person.password }).update({ password: anew });
    return letIn(trx, person, asking, "password", now);
  });
}

/** Changes who is at a bench whose browser was unlocked by a password. */
export async function signInByPin(
  db: Knex,
  personId: string,
  pin: string,
  asking: Asking,
  now: string,
): Promise<SignedIn> {
  const person = await secretsOf(db, personId);
  if (!person) return refuse("This person is not in the list any more.");
  const browser = asking.browserToken ? await findBrowser(db, asking.browserToken, now) : undefined;
  if (!browser?.unlocked)
    return refuse("Here the next sign-in needs a password; after it PINs will do.", true);
  const wait = mustWait(person, now);
  if (wait) return wait;
  if (!person.pin) return refuse("You have no PIN yet. Use your password, then set one.", true);
  const { ok } = await matchesSecret(pin, person.pin);
  return writeLocked(db, async (trx) => {
    if (ok) return letIn(trx, person, asking, "pin", now);
    const locked = await countWrongPin(trx, browser.id);
    const refused = await countWrong(trx, person, now);
    return locked
      ? refuse("That were too many wrong PINs: here the next sign-in needs a password.", true)
      : refused;
  });
}

/** Whether somebody who is signed in is themselves: their password again. Returns the sentence where it is wrong. */
export async function checkOwnPassword(
  db: Knex,
  personId: string,
  password: string,
  now: string,
): Promise<string | null> {
  const person = await secretsOf(db, personId);
  if (!person?.password) return "You have no password yet.";
  const wait = mustWait(person, now);
  if (wait && "refused" in wait) return wait.refused;
  if (password === "") return "Type your password, so that nobody else changes this.";
  if ((await matchesSecret(password, person.password)).ok) return null;
  const refused = await writeLocked(db, (trx) => countWrong(trx, person, now));
  return "refused" in refused ? refused.refused : null;
}
