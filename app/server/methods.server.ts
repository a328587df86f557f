import type { Knex } from "knex";
import { methodLibrary } from "../../core/analysis/library";
import { type Method, methodSchema } from "../../core/analysis/method";
import { writeJournal } from "./platform/journal.server";
import type { Actor } from "./platform/rights.server";
import { write } from "./platform/write.server";

export interface StoredMethod {
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

const fromRow = (row: MethodRow): StoredMethod => ({
  method: methodSchema.parse(JSON.parse(row.document)),
  origin: "own",
  at: row.at,
});

/** The newest version of every method, shipped and own, by name. */
export async function listMethods(db: Knex): Promise<StoredMethod[]> {
  const newest = db("methods").groupBy("id").max("version as version").select("id").as("n");
  const rows: MethodRow[] = await db("methods")
    .join(newest, (on) => {
      on.on("n.id", "methods.id").andOn("n.version", "methods.version");
    })
    .select("methods.*");
  const shipped = methodLibrary.map((method): StoredMethod => ({ method, origin: "shipped", at: null }));
  return [...rows.map(fromRow), ...shipped].sort((a, b) => a.method.name.localeCompare(b.method.name));
}

/** The newest version of a method. */
export async function findMethod(db: Knex, id: string): Promise<StoredMethod | undefined> {
  const row: MethodRow | undefined = await db<MethodRow>("methods")
    .where({ id })
    .orderBy("version", "desc")
    .first();
  if (row) return fromRow(row);
  const method = methodLibrary.find((m) => m.id === id);
  return method && { method, origin: "shipped", at: null };
}

export type SavedMethod = { saved: Method } | { problems: { path: string; message: string }[] };

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
  return write(db, actor, "methods", async (trx) => {
    const parsed = methodSchema.safeParse({ ...(input as object), version: basedOn + 1 });
    if (!parsed.success) {
      return {
        problems: parsed.error.issues.map((i) => ({ path: i.path.join("."), message: i.message })),
      };
    }
    const method = parsed.data;
    if (methodLibrary.some((m) => m.id === method.id)) {
      return {
        problems: [{ path: "id", message: "A shipped method has this id. Give your copy another one." }],
      };
    }
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
      person_id: actor.id,
    });
    await writeJournal(trx, now, [
      {
        person_id: actor.id,
        action: "method kept",
        subject_kind: "method",
        subject_id: method.id,
        after: { name: method.name, version: method.version },
        reason,
      },
    ]);
    return { saved: method };
  });
}
