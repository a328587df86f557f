import type { Knex } from "knex";
import { ulid } from "ulid";
import type { ResultKind } from "../../../core/bench/resultKinds";
import type { Verdict } from "../../../core/judgement/finding";
import type { Finishing } from "../bench/benchWork.server";
import { writeJournal } from "../platform/journal.server";
import type { Actor } from "../platform/rights.server";
import { write } from "../platform/write.server";
import { judgeAnew } from "../results/judgeAnew.server";
import { followCheck } from "./batches.server";

export interface QualityAction {
  id: string;
  reading_id: string;
  opened_at: string;
  closed_at: string | null;
  cause: string | null;
  done: string | null;
  closed_by: string | null;
  kind: ResultKind;
  analyte: string;
  subject_code: string | null;
  instrument_id: string;
  parameter: string;
  measured_at: string;
  value: number | null;
  shown: string | null;
  decimals: number;
  unit: string;
  verdict: Verdict;
  findings: string;
  work_id: string;
  source: "meter" | "analysis";
}

/** A check that is out asks for a cause: opened once, and forgotten when the check is held no longer without anybody's doing. */
export async function noteAction(
  trx: Knex,
  { id, verdict }: { id: string; verdict: Verdict },
  { now }: Finishing,
): Promise<void> {
  if (verdict === "held")
    await trx("quality_actions")
      .insert({ id: ulid(), reading_id: id, opened_at: now })
      .onConflict("reading_id")
      .ignore();
  else await trx("quality_actions").where({ reading_id: id, closed_at: null }).delete();
}

const actions = (db: Knex) =>
  db("quality_actions as q")
    .join("readings as r", "r.id", "q.reading_id")
    .leftJoin("people as p", "p.id", "q.person_id")
    .select(
      "q.id",
      "q.reading_id",
      "q.opened_at",
      "q.closed_at",
      "q.cause",
      "q.done",
      "p.name as closed_by",
      "r.kind",
      "r.analyte",
      "r.subject_code",
      "r.instrument_id",
      "r.parameter",
      "r.measured_at",
      "r.value",
      "r.shown",
      "r.decimals",
      "r.unit",
      "r.verdict",
      "r.findings",
      "r.work_id",
      "r.source",
    );

const newestFirst = ["q.opened_at", "q.id"].map((column) => ({ column, order: "desc" }) as const);

/** Checks that are out and that nobody has found a cause for. */
const stillOpen = (query: Knex.QueryBuilder) => query.whereNull("q.closed_at").whereNot("r.verdict", "void");
const openOnes = (db: Knex) =>
  stillOpen(db("quality_actions as q").join("readings as r", "r.id", "q.reading_id"));

/** The newest of them. */
export const openActions = (db: Knex, most = 10_000): Promise<QualityAction[]> =>
  stillOpen(actions(db)).orderBy(newestFirst).limit(most);

/** How many there are, of those that were measured between two moments where these are given. */
export async function countOpen(db: Knex, measured?: [from: string, to: string]): Promise<number> {
  const query = openOnes(db);
  if (measured) query.whereBetween("r.measured_at", measured);
  const [row] = await query.count({ n: "*" });
  return Number(row?.n);
}

/** All of them, the newest first, as a line names them. */
export const openCauses = (db: Knex): Promise<Pick<QualityAction, "id" | "kind" | "analyte">[]> =>
  openOnes(db).orderBy(newestFirst).select("q.id", "r.kind", "r.analyte");

/** The newest of those that were seen to. */
export const closedActions = (db: Knex, most = 20): Promise<QualityAction[]> =>
  actions(db).whereNotNull("q.closed_at").orderBy("q.closed_at", "desc").limit(most);

/**
 * Notes the cause of a check that was out and what was done: the samples it held are qualified by that name. A sentence where it is too
 * late; a second click changes nothing.
 */
export function closeAction(
  db: Knex,
  id: string,
  { cause, done }: { cause: string; done: string },
  actor: Actor & { name: string },
  now: string,
): Promise<string | null> {
  return write(db, actor, "measure", async (trx) => {
    const action: QualityAction | undefined = await actions(trx).where("q.id", id).first();
    if (!action) return "This check is in order now: there is nothing to see to.";
    if (action.closed_at)
      return action.cause === cause
        ? null
        : `${action.closed_by} has noted a cause already: ${action.cause}.`;
    await trx("quality_actions").where({ id }).update({ closed_at: now, cause, done, person_id: actor.id });
    const settled = { action_id: id, cause, by: actor.name, at: now };
    const words = `cause found: ${cause}`;
    const finishing = { by: actor.id, now };
    await judgeAnew(
      trx,
      [action.reading_id],
      (evidence) =>
        "quality" in evidence && evidence.quality
          ? { ...evidence, quality: { ...evidence.quality, settled } }
          : evidence,
      words,
      finishing,
    );
    await followCheck(trx, { ...action, at: action.measured_at }, words, finishing);
    await writeJournal(trx, now, [
      {
        person_id: actor.id,
        action: "check seen to",
        subject_kind: "reading",
        subject_id: action.reading_id,
        after: { cause, done },
        reason: cause,
      },
    ]);
    return null;
  });
}
