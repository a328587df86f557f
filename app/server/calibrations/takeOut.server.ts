import type { Knex } from "knex";
import type { TakenOut } from "../../../core/bench/takenOut";
import type { CheckOutcome } from "../../../core/calibration/check";
import { isTakenOut, takenOutFinding } from "../../../core/calibration/takenOut";
import { showTime } from "../../../core/time/words";
import { findWork } from "../bench/bench.server";
import { writeJournal } from "../platform/journal.server";
import { pack, unpack } from "../platform/pack.server";
import type { Actor } from "../platform/rights.server";
import { write } from "../platform/write.server";
import { touchedBy } from "../results/followTakenOut.server";
import type { CheckRow } from "../results/news.server";
import { confirmIn } from "../results/rejudge.server";
import { rulesInForce } from "../rules/rules.server";
import type { Calibration } from "./calibrations.server";
import { discount, discountCalibration } from "./discount.server";
import { unend } from "./unend.server";

/** Takes the checks of a piece of work out; false where they are out already. */
async function checksOut(trx: Knex, work_id: string, out: TakenOut): Promise<boolean> {
  const checks: CheckRow[] = await trx("checks").where({ work_id }).orderBy("id");
  const standing = checks.filter((c) => !(JSON.parse(c.outcome) as CheckOutcome).taken_out);
  for (const check of standing) {
    const outcome: CheckOutcome = { ...JSON.parse(check.outcome), taken_out: out };
    await trx("checks")
      .where({ id: check.id })
      .update({ outcome: JSON.stringify(outcome) });
  }
  const counted = standing.filter((c) => c.counts);
  await discount(
    trx,
    counted.map((c) => c.id),
  );
  for (const check of counted) await unend(trx, check);
  return standing.length > 0;
}

/** Takes the calibrations of a piece of work out; false where they are out already. */
async function calibrationsOut(trx: Knex, work_id: string, out: TakenOut): Promise<boolean> {
  const rows: (Pick<Calibration, "id" | "meter_id" | "measurand" | "finished_at"> & {
    packed: Uint8Array;
  })[] = await trx("calibrations")
    .where({ work_id })
    .orderBy("id")
    .select("id", "meter_id", "measurand", "finished_at", "packed");
  let some = false;
  for (const row of rows) {
    const { result, findings } = unpack<Pick<Calibration, "result" | "findings">>(row.packed);
    if (isTakenOut(findings)) continue;
    some = true;
    const packed = pack({ result, findings: [takenOutFinding(out), ...findings] });
    await trx("calibrations").where({ id: row.id }).update({ verdict: "failed", trend: null, packed });
    await discountCalibration(trx, row);
  }
  return some;
}

/**
 * Takes a calibration or a check out of the record that was made wrong: another buffer stood in the cup, it was another meter. It stays to be
 * seen. A calibration counts as failed and is no point in the life of its sensor, a check says nothing, and what it had ended holds again; what
 * was judged by it is to be judged by all that is known without it, by the re-judging that is given back, where there is something. Answers
 * with a sentence where it cannot be. Out already: nothing happens.
 */
export function takeOut(
  db: Knex,
  workId: string,
  reason: string,
  actor: Actor & { name: string },
  now: string,
): Promise<{ refused?: string; rejudging?: string }> {
  return write(db, actor, "void", async (trx) => {
    const work = await findWork(trx, workId);
    if (work?.status !== "finished" || (work.kind !== "check" && work.kind !== "calibration"))
      throw new Response("No such calibration", { status: 404 });
    // What is being judged by it would become current afterwards.
    const ofCheck = { kind: "check", subject_id: workId, status: "confirmed" };
    if (await trx("rejudgings").where(ofCheck).first("id"))
      return {
        refused: "What it speaks of is being judged anew. Wait until that is done, then take it out.",
      };
    const out = { at: now, by: actor.name, reason };
    const some =
      work.kind === "check" ? await checksOut(trx, workId, out) : await calibrationsOut(trx, workId, out);
    if (!some) return {};
    await writeJournal(trx, now, [
      {
        person_id: actor.id,
        action: `${work.kind} taken out`,
        subject_kind: work.kind,
        subject_id: workId,
        reason,
      },
    ]);
    if ((await touchedBy(trx, workId)).length === 0) return {};
    const { zone } = (await rulesInForce(trx)).rules;
    const when = showTime(work.finished_at ?? work.started_at, zone, "both");
    const request = { kind: "work" as const, subject_id: workId, subject_version: "" };
    return {
      rejudging: await confirmIn(
        trx,
        request,
        `the ${work.kind} of ${when} was taken out: ${reason}`,
        actor,
        now,
      ),
    };
  });
}
