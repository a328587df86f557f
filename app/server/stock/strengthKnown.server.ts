import type { Knex } from "knex";
import { z } from "zod";
import { replay } from "../../../core/bench/event";
import type { StandardisedStrength } from "../../../core/results/analysisEvidence";
import { standardisationFolding, standardisedOf } from "../../../core/stock/standardisation";
import { standardisationEventSchema } from "../../../core/stock/standardisationEvents";
import type { Finishing } from "../bench/benchWork.server";
import { rawEvents } from "../bench/eventStore.server";
import { followJudged } from "../quality/followResults.server";
import { judgeAnew } from "../results/judgeAnew.server";

/** How strong a titrant was at a moment, by the last standardisation that was finished until then; null where there was none. */
async function strengthBefore(db: Knex, lotId: string, moment: string): Promise<StandardisedStrength | null> {
  const last: { work_id: string } | undefined = await db("lot_uses")
    .where({ into_lot_id: lotId, role: "standardisation" })
    .where("at", "<=", moment)
    .orderBy("at", "desc")
    .orderBy("work_id", "desc")
    .first("work_id");
  if (!last) return null;
  const events = z
    .array(standardisationEventSchema)
    .safeParse((await rawEvents(db, [last.work_id])).get(last.work_id));
  // What cannot be read any more stops no titration: its strength is on its bottle.
  if (!events.success) return null;
  const { state } = replay(events.data, standardisationFolding);
  const found = state && standardisedOf(state);
  if (!found || !state.finished_at) return null;
  const { value, uncertainty } = found;
  const { titrant, guide } = state.started;
  return { code: titrant.code, at: state.finished_at, value, uncertainty, unit: guide.unit };
}

/** What is known of a titrant where a titration was reckoned with another strength than it had when that began; nothing else. */
export async function strengthKnown(
  db: Knex,
  lotId: string | undefined,
  reckoned: number | null | undefined,
  begun_at: string,
): Promise<{ standardised?: StandardisedStrength }> {
  if (!lotId || !reckoned) return {};
  const standardised = await strengthBefore(db, lotId, begun_at);
  return standardised && standardised.value !== reckoned ? { standardised } : {};
}

/** When a titrant was standardised next after a moment; undefined where it was not. */
export async function standardisedNext(db: Knex, lotId: string, at: string): Promise<string | undefined> {
  const next: { at: string } | undefined = await db("lot_uses")
    .where({ into_lot_id: lotId, role: "standardisation" })
    .where("at", ">", at)
    .orderBy("at")
    .first("at");
  return next?.at;
}

/** A standardisation became known, or what it found did: what was titrated since, until the next one, is judged by it. */
export async function settleStrength(
  trx: Knex,
  lotId: string,
  [at, next]: [string, string | undefined],
  cause: string,
  finishing: Finishing,
): Promise<void> {
  const used = trx("lot_uses as u")
    .join("bench_work as w", "w.id", "u.work_id")
    .where({ "u.lot_id": lotId, "u.role": "material" })
    .where("u.at", ">=", at);
  // What began before the next one may have ended after it.
  if (next) used.where("w.started_at", "<", next);
  const works: string[] = await used.distinct("u.work_id").pluck("u.work_id");
  const ids: string[] = await trx("readings")
    .whereIn("work_id", works)
    .where({ source: "analysis" })
    .orderBy("id")
    .pluck("id");
  const judged = await judgeAnew(
    trx,
    ids,
    async (evidence) => {
      if (!("strength" in evidence)) return evidence;
      const { standardised: _before, ...plain } = evidence;
      const begun = evidence.begun_at ?? evidence.measured_at;
      return { ...plain, ...(await strengthKnown(trx, lotId, evidence.strength?.value, begun)) };
    },
    cause,
    finishing,
  );
  await followJudged(trx, judged, cause, finishing);
}
