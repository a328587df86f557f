import type { Knex } from "knex";
import type { Subject } from "../../../core/bench/subject";
import type { Conditions, PlannedStation, StationRole } from "../../../core/calibration/planned";
import type { CalibrationStarted } from "../../../core/calibration/session";
import type { Measurand } from "../../../core/quantity/measurand";
import type { MeterReadingStarted } from "../../../core/readings/meterReading";
import { duplicateRule } from "../../../core/rules/duplicateRule";
import { localDate } from "../../../core/time/local";
import { startWork } from "../bench/bench.server";
import { newWork, type Start } from "../bench/benchWork.server";
import type { Meter } from "../meters/meters.server";
import { rulesInForce } from "../rules/rules.server";
import { sampleIdCalled } from "../samples/samples.server";
import { expectedOverall, type Site, sitesInUse } from "../sites/sites.server";
import { type StoredStandard, standardSnapshot } from "../stock/standards.server";
import { calibrationsInForce, meterHistory } from "./calibrations.server";
import type { CheckMoment } from "./checks.server";

/** One step as it was chosen: a bottle where the step needs one, and why it is used if it is past its date. */
export interface ChosenStation {
  measurand: Measurand;
  role: StationRole;
  stored: StoredStandard | null;
  reason: string | null;
}

/** Opens a calibration or a check with the steps chosen; lots are kept as they are on this day. */
export async function startCalibration(
  db: Knex,
  start: Start,
  meter: Meter,
  chosen: readonly ChosenStation[],
  options: { conditions: Conditions | null; moment?: CheckMoment },
): Promise<void> {
  const { version, rules } = await rulesInForce(db);
  const today = localDate(start.at, rules.zone);
  const purpose = options.moment ? "check" : "calibration";
  const plan: PlannedStation[] = chosen.map(({ measurand, role, stored, reason }) => ({
    measurand,
    role,
    standard: stored && standardSnapshot(stored, today, reason),
  }));
  const started: CalibrationStarted = {
    id: start.event_id,
    at: start.at,
    by: start.actor.id,
    type: "started",
    purpose,
    moment: options.moment ?? null,
    meter,
    plan,
    expected: expectedOverall(await sitesInUse(db)),
    conditions: options.conditions,
    history: await meterHistory(db, meter, start.at),
    calibrations: purpose === "check" ? await calibrationsInForce(db, meter.id) : [],
  };
  await startWork(
    db,
    start.actor,
    newWork(purpose, start, version, { meter_id: meter.id }),
    started,
    start.at,
  );
}

/** What is read, where, and how. */
export interface ReadingChoices {
  sample: string;
  /** Everything the meter measures, unless told otherwise. */
  measurands?: readonly Measurand[];
  /** When the water was taken; null when it is measured at once. */
  collected_at?: string | null;
  /** The probe is in the water itself. */
  in_place?: boolean;
  /** What is in the vessel; the sample, where nothing is said. */
  subject?: Subject;
}

/** Opens a reading with the meter's newest calibrations, whatever they are worth: the judge decides that. */
export async function startReading(
  db: Knex,
  start: Start,
  meter: Meter,
  site: Site,
  {
    sample,
    measurands = meter.channels.map((c) => c.measurand),
    collected_at = null,
    in_place = false,
    subject = { kind: "sample" },
  }: ReadingChoices,
): Promise<void> {
  const { version, rules } = await rulesInForce(db);
  const started: MeterReadingStarted = {
    id: start.event_id,
    at: start.at,
    by: start.actor.id,
    type: "started",
    meter,
    measurands: [...measurands],
    site: { id: site.id, name: site.name },
    sample,
    subject,
    collected_at,
    in_place,
    calibrations: await calibrationsInForce(db, meter.id),
    duplicates: Object.fromEntries(measurands.map((m) => [m, duplicateRule(m, rules)])),
    compensation: {
      model: rules.conductivity.compensation,
      percent_per_c: rules.conductivity.coefficient_percent_per_c,
    },
  };
  const work = newWork("reading", start, version, {
    meter_id: meter.id,
    site_id: site.id,
    sample_id:
      subject.kind === "sample"
        ? await sampleIdCalled(db, sample, site.id, { started_at: start.at, finished_at: start.at })
        : null,
  });
  await startWork(db, start.actor, work, started, start.at);
}
