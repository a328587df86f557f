import type { Knex } from "knex";
import { ulid } from "ulid";
import { z } from "zod";
import { type JournalEntry, writeJournal } from "../platform/journal.server";
import { type Actor, Forbidden, type Role, roles } from "../platform/rights.server";
import { write, writeLocked } from "../platform/write.server";
import type { Person } from "./person";
import { endSessionsOf } from "./sessions.server";

export type { Person };

export const personName = z
  .string()
  .trim()
  .min(1, { error: "Type the name people know you by." })
  .max(60, { error: "Keep the name under 61 characters." });

export const newPersonSchema = z.object({
  name: personName,
  role: z.enum(roles).default("technician"),
});

export const listPeople = (db: Knex): Promise<Person[]> =>
  db<Person & { active: boolean }>("people")
    .where({ active: true })
    .orderBy("name")
    .select("id", "name", "role");

export const findPerson = (db: Knex, id: string): Promise<Person | undefined> =>
  db<Person & { active: boolean }>("people").where({ id, active: true }).first("id", "name", "role");

export interface PersonFacts extends Person {
  active: boolean;
  /** Nobody without a password can sign in. */
  hasPassword: boolean;
  hasPin: boolean;
  /** They have a password that somebody else gave them. */
  mustChange: boolean;
}

/** Everybody who was ever here, those who work here first. */
export async function everybody(db: Knex): Promise<PersonFacts[]> {
  const rows: (Person & { active: unknown; password: unknown; pin: unknown; must_change: unknown })[] =
    await db("people")
      .orderBy([{ column: "active", order: "desc" }, "name"])
      .select("id", "name", "role", "active", "must_change")
      .select(db.raw("password is not null as password"), db.raw("pin is not null as pin"));
  return rows.map(({ id, name, role, active, password, pin, must_change }) => ({
    id,
    name,
    role,
    active: Boolean(active),
    hasPassword: Boolean(password),
    hasPin: Boolean(pin),
    mustChange: Boolean(must_change),
  }));
}

/** Before passwords were asked for nobody had one: whoever manages sets theirs first, and gives the others one. */
export const nobodyHasPassword = async (db: Knex): Promise<boolean> =>
  !(await db("people").whereNotNull("password").first("id"));

interface Secrets {
  password?: string | null;
  pin?: string | null;
  /** The password is somebody else's choice: it is changed at the first sign-in. */
  must_change?: boolean;
}

/** Adds a person; null when the name is taken. Nobody is needed to add the first one, who can then add others. */
export function addPerson(
  db: Knex,
  input: z.output<typeof newPersonSchema>,
  actor: Actor | null,
  now: string,
  secrets: Secrets = {},
): Promise<Person | null> {
  const add = async (trx: Knex) => {
    if (!actor && (await listPeople(trx)).length > 0) throw new Forbidden("people", "read-only");
    if (await trx("people").where({ name: input.name }).first("id")) return null;
    const person: Person = { id: ulid(), ...input };
    await trx("people").insert({ ...person, ...secrets, active: true, created_at: now });
    await writeJournal(trx, now, [
      entryOf(actor?.id ?? person.id, person.id, "person added", { after: person }),
    ]);
    return person;
  };
  return actor ? write(db, actor, "people", add) : writeLocked(db, add);
}

const entryOf = (
  by: string,
  id: string,
  action: string,
  rest: Pick<JournalEntry, "before" | "after" | "reason"> = {},
): JournalEntry => ({ person_id: by, action, subject_kind: "person", subject_id: id, ...rest });

/** Someone who manages and can sign in must be left, or nobody could ever add anybody again. */
const lastManager = async (trx: Knex, id: string): Promise<boolean> =>
  !(await trx("people").where({ active: true, role: "manager" }).whereNot({ id }).first("id"));

/** What was refused, in a sentence; null when it was done. */
type Refusal = string | null;

const gone = "This person is not in the list any more.";

/** Changes what somebody does here. It counts from their next page on. */
export const changeRole = (db: Knex, id: string, role: Role, actor: Actor, now: string): Promise<Refusal> =>
  write(db, actor, "people", async (trx) => {
    const person = await findPerson(trx, id);
    if (!person) return gone;
    if (person.role === role) return null;
    if (person.role === "manager" && (await lastManager(trx, id)))
      return `${person.name} is the only one who manages. Make somebody else a manager first.`;
    await trx("people").where({ id }).update({ role });
    await writeJournal(trx, now, [
      entryOf(actor.id, id, "role changed", { before: { role: person.role }, after: { role } }),
    ]);
    return null;
  });

/** Sets right what somebody is called: so they are called wherever they are named. The journal keeps both names. */
export const renamePerson = (
  db: Knex,
  id: string,
  name: string,
  actor: Actor,
  now: string,
): Promise<Refusal> =>
  write(db, actor, "people", async (trx) => {
    const person = await findPerson(trx, id);
    if (!person) return gone;
    if (person.name === name) return null;
    if (await trx("people").where({ name }).whereNot({ id }).first("id"))
      return "There is someone of this name already.";
    await trx("people").where({ id }).update({ name });
    await writeJournal(trx, now, [
      entryOf(actor.id, id, "person renamed", { before: { name: person.name }, after: { name } }),
    ]);
    return null;
  });

/** Somebody works here no longer, or again: their records stay, they cannot sign in. */
export const setActive = (
  db: Knex,
  id: string,
  active: boolean,
  actor: Actor,
  now: string,
): Promise<Refusal> =>
  write(db, actor, "people", async (trx) => {
    const person: (Person & { active: boolean | number }) | undefined = await trx("people")
      .where({ id })
      .first();
    if (!person) return gone;
    if (Boolean(person.active) === active) return null;
    if (!active && person.role === "manager" && (await lastManager(trx, id)))
      return `${person.name} is the only one who manages. Make somebody else a manager first.`;
    // Who comes back is given a new password.
    await trx("people").where({ id }).update({ active, password: null, pin: null, must_change: false });
    await endSessionsOf(trx, id);
    await writeJournal(trx, now, [entryOf(actor.id, id, active ? "person came back" : "person left")]);
    return null;
  });

/** Gives somebody a password to sign in with once; they choose their own then. Whoever is signed in under it, is no longer. */
export const givePassword = (
  db: Knex,
  id: string,
  hash: string,
  actor: Actor | null,
  now: string,
): Promise<Refusal> => {
  const give = async (trx: Knex) => {
    const person = await findPerson(trx, id);
    if (!person) return gone;
    await trx("people")
      .where({ id })
      .update({ password: hash, pin: null, must_change: true, wrong_count: 0, wait_until: null });
    await endSessionsOf(trx, id);
    await writeJournal(trx, now, [entryOf(actor?.id ?? id, id, "password given")]);
    return null;
  };
  return actor ? write(db, actor, "people", give) : writeLocked(db, give);
};

/** Sets somebody's own password; their other sessions end. */
export const setPassword = (
  db: Knex,
  id: string,
  hash: string,
  session: string | undefined,
  now: string,
): Promise<void> =>
  writeLocked(db, async (trx) => {
    await trx("people").where({ id }).update({ password: hash, must_change: false });
    await endSessionsOf(trx, id, session);
    await writeJournal(trx, now, [entryOf(id, id, "password changed")]);
  });

/**
 * The first password of a database that had none, chosen by whoever manages: looked at and set under one lock, so that of two who press at
 * once one is first. Returns a sentence where it is not for them.
 */
export const setFirstPassword = (db: Knex, id: string, hash: string, now: string): Promise<Refusal> =>
  writeLocked(db, async (trx) => {
    if (!(await nobodyHasPassword(trx)))
      return "Somebody has a password already. Ask whoever manages for yours.";
    if ((await findPerson(trx, id))?.role !== "manager") return "Whoever manages chooses a password first.";
    await setPassword(trx, id, hash, undefined, now);
    return null;
  });

/** Sets or takes away somebody's own PIN. */
export const setPin = (db: Knex, id: string, hash: string | null, now: string): Promise<void> =>
  writeLocked(db, async (trx) => {
    await trx("people").where({ id }).update({ pin: hash });
    await writeJournal(trx, now, [entryOf(id, id, hash ? "PIN set" : "PIN taken away")]);
  });

/** Ends all sessions of somebody, but for the one that asks. Returns how many there were. */
export const signOutEverywhere = (
  db: Knex,
  id: string,
  but: string | undefined,
  now: string,
): Promise<number> =>
  writeLocked(db, async (trx) => {
    const ended = await endSessionsOf(trx, id, but);
    await writeJournal(trx, now, [entryOf(id, id, "signed out everywhere", { after: { ended } })]);
    return ended;
  });
