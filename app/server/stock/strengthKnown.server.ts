import type { Knex } from "knex";
import { z } from "zod";
import { replay } from "../../../core/bench/event";
import type { StandardisedStrength } from "../../../core/results/analysisEvidence";
import {
  type StandardisationState,
  standardisationFolding,
  standardisedOf,
} from "../../../core/stock/standardisation";
import { standardisationEventSchema } from "../../../core/stock/standardisationEvents";
import type { Finishing } from "../bench/benchWork.server";
import { rawEvents } from "../bench/eventStore.server";
import { followJudged } from "../quality/followResults.server";
import { judgeAnew } from "../results/judgeAnew.server";

/** A standardisation as it stands; null where its events cannot be read any more. */
async function stateOf(db: Knex, work_id: string): Promise<StandardisationState | null> {
  const events = z.array(standardisationEventSchema).safeParse((await rawEvents(db, [work_id])).get(work_id));
  return events.success ? replay(events.data, standardisationFolding).state : null;
}

/** How strong a titrant was at a moment, by the last standardisation that was finished until then; null where there was none. */
async function strengthBefore(db: Knex, lotId: string, moment: string): Promise<StandardisedStrength | null> {
  const last: { work_id: string } | undefined = await db("lot_uses")
    .where({ into_lot_id: lotId, role: "standardisation" })
    .where("at", "<=", moment)
    .orderBy("at", "desc")
    .orderBy("work_id", "desc")
    .first("work_id");
  // What cannot be read any more stops no titration: its strength is on its bottle.
  const state = last && (await stateOf(db, last.work_id));
  const found = state && standardisedOf(state);
  if (!found || !state.finished_at) return null;
  const { value, uncertainty } = found;
  const { titrant, guide } = state.started;
  return { code: titrant.code, at: state.finished_at, value, uncertainty, unit: guide.unit };
}

/** The standardisations of a titrant until a moment that were taken out, the newest first. */
async function takenOutBefore(db: Knex, lotId: string, moment: string): Promise<StandardisationState[]> {
  const works: string[] = await db("lot_uses")
    .where({ lot_id: lotId, slot: "titrant" })
    // As its index says it.
    .whereRaw("role = 'taken-out'")
    .where("at", "<=", moment)
    .orderBy("at", "desc")
    .orderBy("work_id", "desc")
    .pluck("work_id");
  const states: StandardisationState[] = [];
  for (const work of works) {
    const state = await stateOf(db, work);
    if (state) states.push(state);
  }
  return states;
}

/** How strong a titrant is at a moment by what stands; where all was taken out, as it was before the first. Null where none was ever made. */
async function strengthStanding(
  db: Knex,
  lotId: string,
  moment: string,
  out: readonly StandardisationState[],
): Promise<StandardisedStrength | null> {
  const standing = await strengthBefore(db, lotId, moment);
  const first = out.at(-1)?.started;
  if (standing || !first) return standing;
  const { titrant, guide } = first;
  const { value = null, uncertainty = null } = titrant.strength ?? {};
  return { code: titrant.code, at: null, value, uncertainty, unit: guide.unit };
}

/** How strong a titrant is by what stands now, where one of its standardisations was taken out. */
export const strengthWithout = async (db: Knex, lotId: string): Promise<StandardisedStrength | null> =>
  strengthStanding(db, lotId, "9999", await takenOutBefore(db, lotId, "9999"));

/**
 * What is known of a titrant where a titration was reckoned with another strength than it had when that began, or with one that was taken out;
 * nothing else.
 */
export async function strengthKnown(
  db: Knex,
  lotId: string | undefined,
  reckoned: number | null | undefined,
  begun_at: string,
): Promise<{ standardised?: StandardisedStrength }> {
  if (!lotId || !reckoned) return {};
  const out = await takenOutBefore(db, lotId, begun_at);
  const standing = await strengthStanding(db, lotId, begun_at, out);
  if (!standing || standing.value === reckoned) return {};
  const [wrong] = out;
  if (!wrong?.taken_out || !wrong.finished_at || wrong.finished_at < (standing.at ?? ""))
    return { standardised: standing };
  const taken_out = { at: wrong.finished_at, reason: wrong.taken_out.reason };
  return { standardised: { ...standing, taken_out } };
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

/** What was titrated with a lot from a moment on, until it was standardised next, by the ids of its works. */
export async function titratedWith(
  db: Knex,
  lotId: string,
  [at, next]: readonly [string, string | undefined],
): Promise<string[]> {
  const used = db("lot_uses as u")
    .join("bench_work as w", "w.id", "u.work_id")
    .where({ "u.lot_id": lotId, "u.role": "material", "w.kind": "analysis" })
    .where("u.at", ">=", at);
  // What began before the next one may have ended after it.
  if (next) used.where("w.started_at", "<", next);
  return used.distinct("u.work_id").orderBy("u.work_id").pluck("u.work_id");
}

/** A standardisation became known, or what it found did: what was titrated since, until the next one, is judged by it. */
export async function settleStrength(
  trx: Knex,
  lotId: string,
  stretch: readonly [string, string | undefined],
  cause: string,
  finishing: Finishing,
): Promise<void> {
  const ids: string[] = await trx("readings")
    .whereIn("work_id", await titratedWith(trx, lotId, stretch))
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
