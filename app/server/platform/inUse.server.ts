import type { Knex } from "knex";
import type { TakenOut } from "../../../core/bench/takenOut";
import { reasonOf } from "./forms.server";
import { writeJournal } from "./journal.server";
import type { Actor, Right } from "./rights.server";
import { takenOutOf } from "./takenOutOf";
import { write } from "./write.server";

/** Who said that something is used no more, when and why; null while it is in use. */
export interface InUse {
  out_of_use: TakenOut | null;
}

/** What of the register may be out of use: what it is called, and what is under way with it. */
const registers = {
  meters: { right: "instruments", subject: "meter", of: "meter_id" },
  sites: { right: "sites", subject: "site", of: "site_id" },
} as const satisfies Record<string, { right: Right; subject: string; of: string }>;
export type Register = keyof typeof registers;

async function change(
  trx: Knex,
  register: Register,
  id: string,
  out: TakenOut | null,
  actor: Actor,
  now: string,
): Promise<void> {
  const { subject } = registers[register];
  await trx(register)
    .where({ id })
    .update({ out_of_use: out && JSON.stringify(out) });
  await writeJournal(trx, now, [
    {
      person_id: actor.id,
      action: out ? `${subject} out of use` : `${subject} in use again`,
      subject_kind: subject,
      subject_id: id,
      ...(out ? { reason: out.reason } : {}),
    },
  ]);
}

async function find(trx: Knex, register: Register, id: string): Promise<InUse> {
  const row: { out_of_use: string | null } | undefined = await trx(register)
    .where({ id })
    .first("out_of_use");
  if (!row) throw new Response(`No such ${registers[register].subject}`, { status: 404 });
  return { out_of_use: takenOutOf(row.out_of_use) };
}

/**
 * Says that a meter or a site is used no more: it is offered nowhere, and nothing of it is due. What was measured stays, and what arrives late
 * of before is taken. Answers with a sentence while something is under way with it. Out already: nothing happens.
 */
export function takeOutOfUse(
  db: Knex,
  register: Register,
  id: string,
  reason: string,
  actor: Actor & { name: string },
  now: string,
): Promise<string | null> {
  const { right, of, subject } = registers[register];
  return write(db, actor, right, async (trx) => {
    if ((await find(trx, register, id)).out_of_use) return null;
    if (
      await trx("bench_work")
        .where({ [of]: id, status: "open" })
        .first("id")
    )
      return `Something is under way with this ${subject}. Finish it or give it up first.`;
    await change(trx, register, id, { at: now, by: actor.name, reason }, actor, now);
    return null;
  });
}

/** Says that a meter or a site is used no more, with the reason of a form; answers with a sentence for its field. */
export async function outOfUseByForm(
  db: Knex,
  register: Register,
  id: string,
  form: FormData,
  actor: Actor & { name: string },
  now: string,
): Promise<string | null> {
  const said = reasonOf(form, "Say why it is used no more.");
  return "message" in said ? said.message : takeOutOfUse(db, register, id, said.reason, actor, now);
}

/** Takes a meter or a site into use again. In use already: nothing happens. */
export function takeIntoUse(
  db: Knex,
  register: Register,
  id: string,
  actor: Actor,
  now: string,
): Promise<void> {
  return write(db, actor, registers[register].right, async (trx) => {
    if ((await find(trx, register, id)).out_of_use) await change(trx, register, id, null, actor, now);
  });
}
