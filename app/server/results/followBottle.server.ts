import type { Knex } from "knex";
import type { AnyEvidence } from "../../../core/results/judgeAny";
import { calibratedWith, judgeCalibrationsAnew } from "../calibrations/judgeCalibrations.server";
import { writeLocked } from "../platform/write.server";
import { followJudged } from "../quality/followResults.server";
import { rulesInForce } from "../rules/rules.server";
import { findLot, lotsOfIds } from "../stock/lots.server";
import { restingOn } from "../stock/lotUses.server";
import { endPieces, inPieces, pieces, projectInPieces, together, type Why } from "./inPieces.server";
import { judgeAnew } from "./judgeAnew.server";
import { lotsKnown } from "./lotsKnown.server";
import { calibrationNow } from "./meterEvidence.server";
import { doubtedChecks } from "./news.server";
import type { Rejudging } from "./rejudge.server";
import { readingsResting } from "./rejudgeChanges.server";

/** What is to follow of a bottle, as its re-judgings are told apart. */
export const bottleNews = {
  /** What stands on it was corrected: by which version. */
  corrected: (version: number) => `corrected ${version}`,
  /** Its withdrawal, of a moment, was taken back. */
  takenBack: (withdrawnAt: string) => `taken back ${withdrawnAt}`,
};

/** Results that rest on a lot, by whatever was made with it too, oldest first. */
async function resultsOn(db: Knex, lotId: string): Promise<string[]> {
  const resting = await restingOn(db, lotId);
  const { touched } = await doubtedChecks(db, resting);
  return readingsResting(db, resting, touched).orderBy(["measured_at", "id"]).pluck("readings.id");
}

/** The works of those results that were judged since a moment, and not for a cause yet. */
async function worksJudgedSince(
  db: Knex,
  ids: readonly string[],
  moment: string,
  { cause, requested_at }: Why,
): Promise<string[]> {
  const works = new Set<string>();
  const judged = () => db("reading_judgements as j").whereRaw("j.reading_id = r.id").select("j.seq");
  for (const some of pieces(ids, together)) {
    const found: string[] = await db("readings as r")
      .whereIn("r.id", some)
      .whereExists(judged().where("j.at", ">=", moment))
      .whereNotExists(judged().where("j.cause", cause).where("j.at", ">=", requested_at))
      .distinct("r.work_id")
      .pluck("r.work_id");
    for (const id of found) works.add(id);
  }
  return [...works].sort();
}

/** Evidence with what is known now of the bottles it rests on: its own, and those of the calibration. */
async function asKnown(
  trx: Knex,
  evidence: AnyEvidence,
  usedAt: string | undefined,
  zone: string,
  calibrations: Map<string, Awaited<ReturnType<typeof calibrationNow>>>,
): Promise<AnyEvidence> {
  if (!("source" in evidence)) {
    const { calibration } = evidence;
    if (!calibration) return evidence;
    // Readings of one calibration follow each other: it is looked up once for those of a piece.
    const key = `${calibration.id} ${calibration.checked_at}`;
    const known = calibrations.get(key) ?? (await calibrationNow(trx, calibration, { zone }));
    calibrations.set(key, known);
    return { ...evidence, calibration: known };
  }
  if (evidence.source !== "analysis") return evidence;
  const stored = await lotsOfIds(
    trx,
    evidence.lots.flatMap((l) => l.lot_id ?? []),
  );
  return {
    ...evidence,
    lots: await lotsKnown(trx, evidence.lots, stored, usedAt ?? evidence.measured_at, zone),
  };
}

/**
 * Does a confirmed re-judging of what rests on a bottle of which something else is known now: days that stood wrong on it, or a withdrawal
 * that was taken back. What was reckoned with its value stays. Killed at any moment, what is left is done when it is taken up again.
 */
export async function followBottle(
  db: Knex,
  job: Rejudging,
  now: string,
  onProgress: (share: number) => void,
): Promise<void> {
  const { subject_id, subject_version } = job;
  const ids = await resultsOn(db, subject_id);
  if (subject_version.startsWith(bottleNews.takenBack(""))) {
    const since = subject_version.slice(bottleNews.takenBack("").length);
    const works = await worksJudgedSince(db, ids, since, job);
    await projectInPieces(db, job, ids.length, works, now, onProgress);
  } else await judgeCorrected(db, job, ids, now, onProgress);
  await endPieces(db, job, ids, now);
}

/** Judges what rests on a bottle by the days that stand on it now: the calibrations first, then the results. */
async function judgeCorrected(
  db: Knex,
  job: Rejudging,
  ids: readonly string[],
  now: string,
  onProgress: (share: number) => void,
): Promise<void> {
  const { subject_id, cause, person_id } = job;
  const finishing = { by: person_id, now };
  const bottle = await findLot(db, subject_id);
  if (!bottle) return;
  const { zone } = (await rulesInForce(db)).rules;
  for (const some of pieces(await calibratedWith(db, subject_id)))
    await writeLocked(db, (trx) => judgeCalibrationsAnew(trx, some, bottle, cause, finishing));
  const uses: { work_id: string; at: string }[] = await db("lot_uses")
    .where({ lot_id: subject_id, role: "material" })
    .select("work_id", "at");
  const usedAt = new Map(uses.map((u) => [u.work_id, u.at]));
  const judge = async (trx: Knex.Transaction, some: string[]) => {
    const calibrations = new Map();
    const changed = await judgeAnew(
      trx,
      some,
      (evidence, { work_id }) => asKnown(trx, evidence, usedAt.get(work_id), zone, calibrations),
      cause,
      finishing,
    );
    await followJudged(trx, changed, cause, finishing);
  };
  await inPieces(db, job, ids.length, ids, judge, onProgress);
}
