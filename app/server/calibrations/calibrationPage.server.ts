import type { Knex } from "knex";
import { calibrationEvents, findWork, orUnreadable } from "../bench/bench.server";
import { findMeter } from "../meters/meters.server";
import type { Person } from "../people/people.server";
import { nowIso } from "../platform/clock.server";
import { owedToMeter } from "../quality/overview.server";
import { rejudgingState } from "../results/rejudgeState.server";
import { rulesOfVersion } from "../rules/rules.server";
import { calibrationsOfWork, meterTrends } from "./calibrations.server";
import { checksOfWork } from "./checks.server";

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
    rejudging: checks.some((c) => !c.passed && c.counts)
      ? await rejudgingState(db, { kind: "check", subject_id: work.id })
      : null,
    person,
  };
}

export type LoadedCalibration = Awaited<ReturnType<typeof loadCalibration>>;
