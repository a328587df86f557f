import type { Knex } from "knex";
import { type Method, methodSchema } from "../../../core/methods/method";
import type { RefusedLine } from "../../../core/samples/labResults";
import type { Actor } from "../platform/rights.server";
import { findMethod, objectionTo, saveMethodIn } from "../runs/methods.server";
import { documentsOf, type MethodsFile, takeOver } from "./importFile.server";

export interface LookedMethods {
  /** Which could be kept: the document's number in the file, the version it would be, and whether one stands before it. */
  methods: { nth: number; method: Method; basedOn: number }[];
  refused: RefusedLine[];
  message: string | null;
}

/** What a file of methods holds: which could be kept, as which version, and which not and why. */
export async function lookAtMethods(db: Knex, row: MethodsFile): Promise<LookedMethods> {
  const documents = await documentsOf(db, row.id);
  if (!documents) return { methods: [], refused: [], message: "The file is not kept any longer." };
  const methods: LookedMethods["methods"] = [];
  const refused: RefusedLine[] = [];
  for (const [i, document] of documents.entries()) {
    const nth = i + 1;
    const refuse = (column: string, reason: string) => refused.push({ line: nth, column, reason });
    const parsed = methodSchema.safeParse(document);
    if (!parsed.success) {
      for (const issue of parsed.error.issues.slice(0, 20)) refuse(issue.path.join("."), issue.message);
      continue;
    }
    const { id } = parsed.data;
    const before = methods.find((m) => m.method.id === id);
    if (before) {
      refuse("id", `Document ${before.nth} has this id.`);
      continue;
    }
    const wrong = objectionTo(parsed.data);
    if (wrong) {
      refuse(wrong.path, wrong.message);
      continue;
    }
    const present = (await findMethod(db, id))?.method;
    const basedOn = present?.version ?? 0;
    const method = { ...parsed.data, version: basedOn + 1 };
    if (present && JSON.stringify({ ...method, version: basedOn }) === JSON.stringify(present))
      refuse("id", `It is kept here just so, as version ${basedOn}.`);
    else methods.push({ nth, method, basedOn });
  }
  return { methods, refused, message: null };
}

/** Keeps the methods of a file, each as the next version of its own. */
export const takeMethods = (
  db: Knex,
  id: string,
  partly: boolean,
  actor: Actor,
  now: string,
): Promise<string | null> =>
  takeOver<MethodsFile, LookedMethods["methods"][number]>(
    db,
    id,
    {
      kind: "methods",
      right: "methods",
      counted: "documents",
      look: async (trx, row) => {
        const { methods: found, ...looked } = await lookAtMethods(trx, row);
        return { found, ...looked };
      },
      keep: async (trx, row, { nth, method, basedOn }) => {
        const reason = `document ${nth} of ${row.name}`;
        const kept = await saveMethodIn(trx, method, basedOn, reason, actor.id, now);
        if ("problems" in kept) throw new Error(`A method that could be read cannot be kept: ${method.id}`);
        return { id: kept.saved.id, version: kept.saved.version };
      },
    },
    partly,
    actor,
    now,
  );
