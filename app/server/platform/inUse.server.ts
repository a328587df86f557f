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

/** What may be out of use: who decides it, what it is called, and by which column something is under way with it. */
const kinds = {
  meters: { right: "instruments", subject: "meter", of: "meter_id" },
  sites: { right: "sites", subject: "site", of: "site_id" },
  methods: { right: "methods", subject: "method" },
  recipes: { right: "methods", subject: "recipe" },
  "bottle-types": { right: "methods", subject: "bottle-type" },
  "visit-templates": { right: "measure", subject: "visit-template" },
  "limit-sets": { right: "rules", subject: "limit-set" },
} as const satisfies Record<string, { right: Right; subject: string; of?: string }>;
export type MayBeOutOfUse = keyof typeof kinds;
type Register = "meters" | "sites";
/** They ship with the program, or have versions: that they are out of use is kept beside them. */
export type DocumentKind = Exclude<MayBeOutOfUse, Register>;

const isRegister = (kind: MayBeOutOfUse): kind is Register => kind === "meters" || kind === "sites";

const besideTable = "documents_out_of_use";

/** Every document of a kind that is out of use, by its id. */
export async function outOfUse(db: Knex, kind: DocumentKind): Promise<Map<string, TakenOut | null>> {
  const rows: { id: string; out_of_use: string }[] = await db(besideTable).where({ kind });
  return new Map(rows.map((row) => [row.id, takenOutOf(row.out_of_use)]));
}

async function keep(trx: Knex, kind: MayBeOutOfUse, id: string, out: TakenOut | null): Promise<void> {
  const out_of_use = out && JSON.stringify(out);
  if (isRegister(kind)) await trx(kind).where({ id }).update({ out_of_use });
  else if (out) await trx(besideTable).insert({ kind, id, out_of_use });
  else await trx(besideTable).where({ kind, id }).delete();
}

async function change(
  trx: Knex,
  kind: MayBeOutOfUse,
  id: string,
  out: TakenOut | null,
  actor: Actor,
  now: string,
): Promise<void> {
  const { subject } = kinds[kind];
  await keep(trx, kind, id, out);
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

async function find(trx: Knex, kind: MayBeOutOfUse, id: string): Promise<InUse> {
  if (!isRegister(kind)) return { out_of_use: (await outOfUse(trx, kind)).get(id) ?? null };
  const row: { out_of_use: string | null } | undefined = await trx(kind).where({ id }).first("out_of_use");
  if (!row) throw new Response(`No such ${kinds[kind].subject}`, { status: 404 });
  return { out_of_use: takenOutOf(row.out_of_use) };
}

/** Whether something that was begun with it has not ended. Work with a document has its own copy of it, and goes on. */
const underWay = async (trx: Knex, kind: MayBeOutOfUse, id: string): Promise<boolean> =>
  isRegister(kind) &&
  (await trx("bench_work")
    .where({ [kinds[kind].of]: id, status: "open" })
    .first("id")) !== undefined;

/**
 * Says that something is used no more: it is offered nowhere, and nothing of it is due. What was measured stays, and what arrives late of
 * before is taken. Answers with a sentence while something is under way with a meter or at a site. Out already: nothing happens.
 */
export function takeOutOfUse(
  db: Knex,
  kind: MayBeOutOfUse,
  id: string,
  reason: string,
  actor: Actor & { name: string },
  now: string,
): Promise<string | null> {
  const { right, subject } = kinds[kind];
  return write(db, actor, right, async (trx) => {
    if ((await find(trx, kind, id)).out_of_use) return null;
    if (await underWay(trx, kind, id))
      return `Something is under way with this ${subject}. Finish it or give it up first.`;
    await change(trx, kind, id, { at: now, by: actor.name, reason }, actor, now);
    return null;
  });
}

/** Takes something into use again inside of a write that goes on. In use already: nothing happens. */
export async function putIntoUse(
  trx: Knex,
  kind: MayBeOutOfUse,
  id: string,
  actor: Actor,
  now: string,
): Promise<void> {
  if ((await find(trx, kind, id)).out_of_use) await change(trx, kind, id, null, actor, now);
}

/** Takes something into use again. */
export const takeIntoUse = (
  db: Knex,
  kind: MayBeOutOfUse,
  id: string,
  actor: Actor,
  now: string,
): Promise<void> => write(db, actor, kinds[kind].right, (trx) => putIntoUse(trx, kind, id, actor, now));

/** What a page says of a form about what is used no more: nothing where it was kept, else a sentence for its field. */
interface InUseAnswer {
  message: string | null;
}

/** Takes something into use again (`do` is `use`), or out of it with a `reason`; null where the form is about something else. */
export async function inUseByForm(
  db: Knex,
  kind: MayBeOutOfUse,
  id: string,
  form: FormData,
  actor: Actor & { name: string },
  now: string,
): Promise<InUseAnswer | null> {
  if (form.get("do") === "use") {
    await takeIntoUse(db, kind, id, actor, now);
    return { message: null };
  }
  if (!form.has("reason")) return null;
  const said = reasonOf(form, "Say why it is used no more.");
  if ("message" in said) return said;
  return { message: await takeOutOfUse(db, kind, id, said.reason, actor, now) };
}
