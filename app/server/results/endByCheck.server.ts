import type { Knex } from "knex";
import type { AnyEvidence } from "../../../core/results/judgeAny";
import { withCalibrationEnded } from "../../../core/results/rejudge";
import type { Finishing } from "../bench/benchWork.server";
import { followJudged } from "../quality/followResults.server";
import { judgeAnew } from "./judgeAnew.server";
import { endCalibrations, readingsAfterEnd } from "./news.server";

/**
 * Ends what is in force of a meter at a moment by a check. What was read after it, before the check was finished, is judged by that at once,
 * and what rests on that follows.
 */
export async function endByCheck(
  trx: Knex,
  check: Parameters<typeof readingsAfterEnd>[1] & { at: string },
  finishing: Finishing,
): Promise<void> {
  const { meter_id, measurand, at } = check;
  await endCalibrations(trx, meter_id, measurand, at);
  const after: string[] = await readingsAfterEnd(trx, check, at).pluck("readings.id");
  if (after.length === 0) return;
  const ended = (evidence: AnyEvidence) =>
    "source" in evidence ? evidence : withCalibrationEnded(evidence, at);
  const cause = "a check before it ended the calibration";
  const changed = await judgeAnew(trx, after, ended, cause, finishing);
  await followJudged(trx, changed, cause, finishing);
}
