import type { Knex } from "knex";
import type { AnyEvidence } from "../../../core/results/judgeAny";
import { calibratedWith, judgeCalibrationsAnew } from "../calibrations/judgeCalibrations.server";
import { writeJournal } from "../platform/journal.server";
import { writeLocked } from "../platform/write.server";
import { followJudged } from "../quality/followResults.server";
import { rulesInForce } from "../rules/rules.server";
import { findLot, lotsOfIds } from "../stock/lots.server";
import { restingOn } from "../stock/lotUses.server";
import { judgeAnew } from "./judgeAnew.server";
import { lotsKnown } from "./lotsKnown.server";
import { calibrationNow } from "./meterEvidence.server";
import { doubtedChecks } from "./news.server";
import { projectAgain } from "./projectAgain.server";
import type { Rejudging } from "./rejudge.server";
import { readingsResting } from "./rejudgeChanges.server";

/** What is to follow of a bottle, as its re-judgings are told apart. */
export const bottleNews = {
  /** What stands on it was corrected: by which version. */
  corrected: (version: number) => `corrected ${version}`,
  /** Its withdrawal, of a moment, was taken back. */
  takenBack: (withdrawnAt: string) => `taken back ${withdrawnAt}`,
};

/** So many are judged in one piece: others go on writing between them. */
const piece = 10;
/** So many are asked of at once. */
const together = 400;

function* pieces(ids: readonly string[], size = piece): Generator<string[]> {
  for (let from = 0; from < ids.length; from += size) yield ids.slice(from, from + size);
}

/** Results that rest on a lot, by whatever was made with it too, oldest first. */
async function resultsOn(db: Knex, lotId: string): Promise<string[]> {
  const resting = await restingOn(db, lotId);
  const { touched } = await doubtedChecks(db, resting);
  return readingsResting(db, resting, touched).orderBy(["measured_at", "id"]).pluck("readings.id");
}

/** Why results are judged, and since when that is so: what was done already of it is told by both. */
type Why = Pick<Rejudging, "cause" | "requested_at">;

/** How many of some results were judged for a cause. */
async function judgedFor(db: Knex, ids: readonly string[], { cause, requested_at }: Why): Promise<number> {
  let n = 0;
  for (const some of pieces(ids, together)) {
    const found = await db("reading_judgements")
      .whereIn("reading_id", some)
      .where({ cause })
      .where("at", ">=", requested_at)
      .countDistinct({ n: "reading_id" });
    n += Number(found[0]?.n ?? 0);
  }
  return n;
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
): Promise<AnyEvidence> {
  if (!("source" in evidence)) {
    const { calibration } = evidence;
    return calibration
      ? { ...evidence, calibration: await calibrationNow(trx, calibration, { zone }) }
      : evidence;
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
  const { id, subject_id, subject_version, cause, person_id } = job;
  const finishing = { by: person_id, now };
  const ids = await resultsOn(db, subject_id);
  let seen = 0;
  const note = async (trx: Knex, n: number) => {
    seen = Math.min(ids.length, seen + n);
    await trx("rejudgings").where({ id }).update({ total: ids.length, seen });
  };
  const back = subject_version.startsWith(bottleNews.takenBack(""))
    ? subject_version.slice(bottleNews.takenBack("").length)
    : null;
  if (back !== null) {
    const works = await worksJudgedSince(db, ids, back, job);
    for (const some of pieces(works)) {
      await writeLocked(db, async (trx) => {
        await projectAgain(trx, some, cause, finishing);
        await note(trx, (ids.length * some.length) / works.length);
      });
      onProgress((0.9 * seen) / ids.length);
    }
  } else {
    const bottle = await findLot(db, subject_id);
    if (!bottle) return;
    const { zone } = (await rulesInForce(db)).rules;
    for (const some of pieces(await calibratedWith(db, subject_id)))
      await writeLocked(db, (trx) => judgeCalibrationsAnew(trx, some, bottle, cause, finishing));
    const uses: { work_id: string; at: string }[] = await db("lot_uses")
      .where({ lot_id: subject_id, role: "material" })
      .select("work_id", "at");
    const usedAt = new Map(uses.map((u) => [u.work_id, u.at]));
    for (const some of pieces(ids)) {
      await writeLocked(db, async (trx) => {
        const changed = await judgeAnew(
          trx,
          some,
          (evidence, { work_id }) => asKnown(trx, evidence, usedAt.get(work_id), zone),
          cause,
          finishing,
        );
        await followJudged(trx, changed, cause, finishing);
        await note(trx, some.length);
      });
      onProgress((0.9 * seen) / ids.length);
    }
  }
  const changed = await judgedFor(db, ids, job);
  await writeLocked(db, async (trx) => {
    const done = {
      status: "done",
      readings: ids.length,
      changed,
      seen: ids.length,
      finished_at: now,
      error: null,
    };
    const updated = await trx("rejudgings").where({ id, status: "confirmed" }).update(done);
    if (updated === 0) return;
    await writeJournal(trx, now, [
      {
        person_id,
        action: "readings re-judged",
        subject_kind: "rejudging",
        subject_id: id,
        after: { readings: ids.length, changed },
        reason: cause,
      },
    ]);
  });
}
