import type { Knex } from "knex";
import type { CheckOutcome } from "../../../core/calibration/check";
import { type Lot, lotSchema } from "../../../core/stock/lot";
import { lastGoodBefore } from "../calibrations/checks.server";
import type { Actor } from "../platform/rights.server";
import { write } from "../platform/write.server";
import { rulesInForce } from "../rules/rules.server";
import { changeLotIn, findLot } from "../stock/lots.server";
import { doubtedBy, doubtedLots } from "../stock/lotUses.server";
import { bottleNews } from "./followBottle.server";
import { anyReadingBetween, type CheckRow, checksInDoubt, narrowFailedChecks } from "./news.server";
import { confirmIn } from "./rejudge.server";

/** When a lot was withdrawn, by its versions: the last of them that had not been, and now is. */
async function withdrawnAt(db: Knex, lotId: string): Promise<string> {
  const versions: { at: string; document: string }[] = await db("lot_versions")
    .where({ lot_id: lotId })
    .orderBy("version", "desc")
    .select("at", "document");
  const withdrawn = ({ document }: { document: string }) =>
    (lotSchema.parse(JSON.parse(document)) as Lot).withdrawn !== null;
  const before = versions.findIndex((v) => !withdrawn(v));
  return versions[before === -1 ? versions.length - 1 : before - 1]?.at ?? "";
}

/** Checks that said nothing any more speak again, where nothing else puts their bottle in doubt. */
async function speakAgain(
  trx: Knex,
  checks: readonly { check: CheckRow; lot_id: string }[],
  zone: string,
): Promise<void> {
  // What passed says until when all was right, which those that failed ask.
  const inOrder = [...checks].sort(
    (a, b) => Number(Boolean(b.check.passed)) - Number(Boolean(a.check.passed)),
  );
  for (const { check, lot_id } of inOrder) {
    if ((JSON.parse(check.outcome) as CheckOutcome).taken_out) continue;
    if ((await doubtedLots(trx, [lot_id], check.at, zone)).size > 0) continue;
    const { id, work_id, meter_id, measurand, at, passed } = check;
    if (passed) {
      await trx("checks").where({ id }).update({ counts: true });
      await narrowFailedChecks(trx, check);
      continue;
    }
    const last_good_at = (await lastGoodBefore(trx, meter_id, measurand, at)) || check.last_good_at;
    const acted = await trx("rejudgings").where({ kind: "check", subject_id: work_id }).first("id");
    const settled = Boolean(acted) || !(await anyReadingBetween(trx, { ...check, last_good_at }));
    await trx("checks").where({ id }).update({ counts: true, last_good_at, settled });
  }
}

/**
 * Takes the withdrawal of a lot back: it was another bottle. The checks that were made with it speak again, and what was judged since by the
 * withdrawal is to be judged by all that is known now, by the re-judging that is given back. A calibration that a failed check had ended stays
 * ended. Answers with a sentence where it cannot be; a lot that is not withdrawn stays as it is.
 */
export function takeWithdrawalBack(
  db: Knex,
  id: string,
  reason: string,
  actor: Actor,
  now: string,
): Promise<{ refused?: string; rejudging?: string }> {
  return write(db, actor, "rejudge", async (trx) => {
    const stored = await findLot(trx, id);
    const doubted = await doubtedBy(trx, id);
    if (!stored?.lot.withdrawn || !doubted) return {};
    const ofLot = { kind: "lot" as const, subject_id: id };
    if (
      await trx("rejudgings")
        .where({ ...ofLot, status: "confirmed" })
        .first("id")
    )
      return {
        refused: "What rests on it is being judged anew. Wait until that is done, then take it back.",
      };
    const moment = await withdrawnAt(trx, id);
    const checks = await checksInDoubt(trx, doubted);
    const after = await changeLotIn(trx, id, (l) => ({ ...l, withdrawn: null }), actor.id, now, reason);
    // Withdrawn once more, it asks to be judged by that again.
    await trx("rejudgings")
      .where({ ...ofLot, subject_version: stored.lot.withdrawn.since })
      .update({ subject_version: `taken back ${after?.version}` });
    await speakAgain(trx, checks, (await rulesInForce(trx)).rules.zone);
    const cause = `the withdrawal of lot ${stored.lot.code} was taken back: ${reason}`;
    const request = {
      kind: "bottle" as const,
      subject_id: id,
      subject_version: bottleNews.takenBack(moment),
    };
    return { rejudging: await confirmIn(trx, request, cause, actor, now) };
  });
}
