import type { Knex } from "knex";
import { calibrationValidUntil } from "../../../core/calibration/validity";
import { type CheckRow, endKnown } from "../results/news.server";
import { rulesOfVersion } from "../rules/rules.server";

/** The calibrations that something had ended at a moment, and does no more, hold as long again as they would without it. */
export async function unend(
  trx: Knex,
  { meter_id, measurand, at }: Pick<CheckRow, "meter_id" | "measurand" | "at">,
): Promise<void> {
  const ended: { id: string; finished_at: string; rules_version: number }[] = await trx("calibrations")
    .where({ meter_id, measurand, valid_until: at })
    .orderBy("id")
    .select("id", "finished_at", "rules_version");
  for (const { id, finished_at, rules_version } of ended) {
    const { rules } = await rulesOfVersion(trx, rules_version);
    const until = calibrationValidUntil(measurand, finished_at, rules);
    const closingEnds = rules.calibration.interval === "outing";
    const known = await endKnown(trx, meter_id, measurand, finished_at, closingEnds);
    const valid_until = known && known < until ? known : until;
    await trx("calibrations").where({ id }).update({ valid_until });
  }
}
