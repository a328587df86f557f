import type { Knex } from "knex";
import { calibrationEvents, findWork, orUnreadable } from "../bench/bench.server";
import { findMeter } from "../meters/meters.server";
import type { Person } from "../people/people.server";
import { nowIso } from "../platform/clock.server";
import { owedToMeter } from "../quality/overview.server";
import { followingState, type RejudgingState, rejudgingState } from "../results/rejudgeState.server";
import { rulesOfVersion } from "../rules/rules.server";
import { calibrationsOfWork, meterTrends } from "./calibrations.server";
import { type Check, checksOfWork } from "./checks.server";

/** Everything the page of one calibration or check shows, open or finished. */
export async function loadCalibration(db: Knex, workId: string, person: Person) {
  const work = await findWork(db, workId);
  const meter = work?.meter_id && (await findMeter(db, work.meter_id));
  if (!work || !meter || (work.kind !== "calibration" && work.kind !== "check"))
    throw new Response("No such calibration", { status: 404 });
  const { rules, version } = await rulesOfVersion(db, work.rules_version);
  const checks = work.kind === "check" ? await checksOfWork(db, work.id) : [];
  const finished = await calibrationsOfWork(db, work.id);
  return {
    work,
    meter,
    rules,
    version,
    // The moment for a control is right after the calibration, before the first sample.
    owed: finished.length ? await owedToMeter(db, meter.id, nowIso()) : [],
    trends: await meterTrends(db, meter, rules, work.finished_at ?? undefined),
    events: await calibrationEvents(db, work.id).catch(orUnreadable(work.id)),
    finished,
    checks,
    rejudging: await rejudgingOfWork(db, work.id, checks),
    person,
  };
}

/** What becomes of the readings that a check speaks of, or that what was taken out had touched; null where there is nothing to say. */
async function rejudgingOfWork(
  db: Knex,
  subject_id: string,
  checks: readonly Check[],
): Promise<RejudgingState | null> {
  if (checks.some((c) => !c.passed && c.counts)) return rejudgingState(db, { kind: "check", subject_id });
  return followingState(db, { kind: "work", subject_id });
}

export type LoadedCalibration = Awaited<ReturnType<typeof loadCalibration>>;
