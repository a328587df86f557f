import type { Knex } from "knex";
import { methodLibrary } from "../../../core/methods/library";
import { type Method, methodSchema } from "../../../core/methods/method";
import { type InUse, outOfUse } from "../platform/inUse.server";
import { writeJournal } from "../platform/journal.server";
import type { Actor } from "../platform/rights.server";
import { write } from "../platform/write.server";

export interface StoredMethod extends InUse {
  method: Method;
  /** Shipped with the program, or the organisation's own. */
  origin: "shipped" | "own";
  at: string | null;
}

interface MethodRow {
  id: string;
  version: number;
  document: string;
  reason: string;
  at: string;
  person_id: string;
}

const fromRow = (row: MethodRow): Omit<StoredMethod, "out_of_use"> => ({
  method: methodSchema.parse(JSON.parse(row.document)),
  origin: "own",
  at: row.at,
});

/** The newest version of every method that is run here, shipped and own, by name. */
export const listMethods = async (db: Knex): Promise<StoredMethod[]> =>
  (await allMethods(db)).filter((m) => m.out_of_use === null);

/** As {@link listMethods}, with those that are out of use. */
export async function allMethods(db: Knex): Promise<StoredMethod[]> {
  const newest = db("methods").groupBy("id").max("version as version").select("id").as("n");
  const rows: MethodRow[] = await db("methods")
    .join(newest, (on) => {
      on.on("n.id", "methods.id").andOn("n.version", "methods.version");
    })
    .select("methods.*");
  const shipped = methodLibrary.map((method) => ({ method, origin: "shipped" as const, at: null }));
  const out = await outOfUse(db, "methods");
  return [...rows.map(fromRow), ...shipped]
    .map((m): StoredMethod => ({ ...m, out_of_use: out.get(m.method.id) ?? null }))
    .sort((a, b) => a.method.name.localeCompare(b.method.name));
}

/** The newest version of a method. */
export async function findMethod(db: Knex, id: string): Promise<StoredMethod | undefined> {
  const row: MethodRow | undefined = await db<MethodRow>("methods")
    .where({ id })
    .orderBy("version", "desc")
    .first();
  const method = methodLibrary.find((m) => m.id === id);
  const found = row ? fromRow(row) : method && { method, origin: "shipped" as const, at: null };
  return found && { ...found, out_of_use: (await outOfUse(db, "methods")).get(id) ?? null };
}

/** A document is read with every run that rests on it. */
const longestDocument = 30_000;

export type SavedMethod = { saved: Method } | { problems: { path: string; message: string }[] };

/** Why a document that is a method cannot be one of the organisation's own; null where it can. */
export function objectionTo(method: Method): { path: string; message: string } | null {
  if (JSON.stringify(method).length > longestDocument) {
    const message = `A method is at most ${longestDocument / 1000} kB long. Shorten its texts, its scale or its table.`;
    return { path: "", message };
  }
  return methodLibrary.some((m) => m.id === method.id)
    ? { path: "id", message: "A shipped method has this id. Give your copy another one." }
    : null;
}

/**
 * Keeps a method of the organisation's own as its next version. A shipped one is never overwritten: its id is taken.
 * `basedOn` is the version that was edited, 0 for a new one; somebody else's later version is not overwritten either.
 */
export function saveMethod(
  db: Knex,
  input: unknown,
  basedOn: number,
  reason: string,
  actor: Actor,
  now: string,
): Promise<SavedMethod> {
  return write(db, actor, "methods", (trx) => saveMethodIn(trx, input, basedOn, reason, actor.id, now));
}

/** Keeps a method inside of a write that goes on. */
export async function saveMethodIn(
  trx: Knex,
  input: unknown,
  basedOn: number,
  reason: string,
  by: string,
  now: string,
): Promise<SavedMethod> {
  const parsed = methodSchema.safeParse({ ...(input as object), version: basedOn + 1 });
  if (!parsed.success) {
    return {
      problems: parsed.error.issues.map((i) => ({ path: i.path.join("."), message: i.message })),
    };
  }
  const method = parsed.data;
  const wrong = objectionTo(method);
  if (wrong) return { problems: [wrong] };
  const present: MethodRow | undefined = await trx<MethodRow>("methods")
    .where({ id: method.id })
    .orderBy("version", "desc")
    .first();
  if ((present?.version ?? 0) !== basedOn) {
    const message = present
      ? `Version ${present.version} was kept meanwhile. Look at it before you change it.`
      : "This method is not known here.";
    return { problems: [{ path: "id", message: basedOn === 0 ? "Another method has this id." : message }] };
  }
  await trx("methods").insert({
    id: method.id,
    version: method.version,
    document: JSON.stringify(method),
    reason,
    at: now,
    person_id: by,
  });
  await writeJournal(trx, now, [
    {
      person_id: by,
      action: "method kept",
      subject_kind: "method",
      subject_id: method.id,
      after: { name: method.name, version: method.version },
      reason,
    },
  ]);
  return { saved: method };
}
