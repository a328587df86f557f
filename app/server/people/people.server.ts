import type { Knex } from "knex";
import { ulid } from "ulid";
import { z } from "zod";
import { writeJournal } from "../platform/journal.server";
import { type Actor, Forbidden, type Role, roles } from "../platform/rights.server";
import { write, writeLocked } from "../platform/write.server";

export interface Person {
  id: string;
  name: string;
  role: Role;
}

export const newPersonSchema = z.object({
  name: z.string().trim().min(1, { error: "Type the name people know you by." }).max(60),
  role: z.enum(roles).default("technician"),
});

export const listPeople = (db: Knex): Promise<Person[]> =>
  db<Person & { active: boolean }>("people")
    .where({ active: true })
    .orderBy("name")
    .select("id", "name", "role");

export const findPerson = (db: Knex, id: string): Promise<Person | undefined> =>
  db<Person & { active: boolean }>("people").where({ id, active: true }).first("id", "name", "role");

/** Adds a person; null when the name is taken. Nobody is needed to add the first one, who can then add others. */
export function addPerson(
  db: Knex,
  input: z.output<typeof newPersonSchema>,
  actor: Actor | null,
  now: string,
): Promise<Person | null> {
  const add = async (trx: Knex) => {
    if (!actor && (await listPeople(trx)).length > 0) throw new Forbidden("people", "read-only");
    if (await trx("people").where({ name: input.name }).first("id")) return null;
    const person: Person = { id: ulid(), ...input };
    await trx("people").insert({ ...person, active: true, created_at: now });
    await writeJournal(trx, now, [
      {
        person_id: actor?.id ?? person.id,
        action: "person added",
        subject_kind: "person",
        subject_id: person.id,
        after: person,
      },
    ]);
    return person;
  };
  return actor ? write(db, actor, "people", add) : writeLocked(db, add);
}
