import type { Knex } from "knex";
import { ulid } from "ulid";
import { z } from "zod";
import { writeJournal } from "./journal.server";

export interface Person {
  id: string;
  name: string;
  role: "technician" | "reviewer" | "manager" | "read-only";
}

export const newPersonSchema = z.object({
  name: z.string().trim().min(1, { error: "Type the name people know you by." }).max(60),
  role: z.enum(["technician", "reviewer", "manager", "read-only"]).default("technician"),
});

export const listPeople = (db: Knex): Promise<Person[]> =>
  db<Person & { active: boolean }>("people")
    .where({ active: true })
    .orderBy("name")
    .select("id", "name", "role");

export const findPerson = (db: Knex, id: string): Promise<Person | undefined> =>
  db<Person & { active: boolean }>("people").where({ id, active: true }).first("id", "name", "role");

/** Adds a person; null when the name is taken. */
export function addPerson(
  db: Knex,
  input: z.output<typeof newPersonSchema>,
  by: string | null,
  now: string,
): Promise<Person | null> {
  return db.transaction(async (trx) => {
    if (await trx("people").where({ name: input.name }).first("id")) return null;
    const person: Person = { id: ulid(), ...input };
    await trx("people").insert({ ...person, active: true, created_at: now });
    await writeJournal(trx, now, [
      {
        person_id: by ?? person.id,
        action: "person added",
        subject_kind: "person",
        subject_id: person.id,
        after: person,
      },
    ]);
    return person;
  });
}
