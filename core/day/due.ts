import { restsUntil } from "../bench/service";
import { inOrder } from "../quantity/inOrder";
import { type Measurand, measurandFacts, merelyChecked } from "../quantity/measurand";
import type { HouseRules } from "../rules/houseRules";
import { localDate } from "../time/local";
import { showTime } from "../time/words";
import { localTime } from "../time/zone";

/** One measurand of a meter, as far as what is due for it is concerned. */
export interface DueMeter {
  id: string;
  code: string;
  measurands: {
    measurand: Measurand;
    calibration: {
      finished_at: string;
      valid_until: string;
      verdict: "sound" | "qualified" | "failed";
    } | null;
    /** The last check that passed, and the last that failed. */
    passed_at: string | null;
    failed_at: string | null;
    readings_since_check: number;
    last_reading_at: string | null;
    /** The moment since when the sensor is in use (ISO, UTC); empty for the one that the meter came with. */
    sensor_since: string;
  }[];
  busy: boolean;
}

export interface DueItem {
  id: string;
  kind: "calibrate" | "check" | "lot" | "order";
  meter_id: string | null;
  measurands: Measurand[];
  title: string;
  /** What the title speaks of, as people call it: the code of a meter or of a lot; null where it is no single thing. */
  subject: string | null;
  detail: string;
  /** When it is due (ISO); at or before now means at once. */
  at: string;
  moment: "opening" | "interim" | "closing" | null;
}

const words = (list: readonly Measurand[]) => list.map((m) => measurandFacts[m].word).join(", ");
type Line = DueMeter["measurands"][number];

function calibrationDue(line: Line, now: string, zone: string): { why: string; at: string } | null {
  const c = line.calibration;
  if (!c) return { why: "never calibrated", at: now };
  if (c.verdict === "failed") return { why: "the last one failed", at: now };
  if (line.failed_at && line.failed_at > c.finished_at) return { why: "the check failed", at: now };
  if (line.sensor_since > c.finished_at) {
    const rests = line.measurand === "oxygen" ? restsUntil(line.sensor_since, now) : null;
    const why = "the sensor was changed";
    return rests ? { why: `${why} and rests until ${showTime(rests, zone)}`, at: rests } : { why, at: now };
  }
  return c.valid_until < now ? { why: "before its first reading", at: now } : null;
}

/** Calibrations that are due, one line a meter and reason. */
function calibrations(meter: DueMeter, now: string, zone: string): DueItem[] {
  const due = meter.measurands.flatMap((line) => {
    const found = calibrationDue(line, now, zone);
    return found ? [{ ...found, measurand: line.measurand }] : [];
  });
  // A thermometer or a photometer that nobody ever checked is a matter of its own, not of the morning.
  const groups: [typeof due, string][] = [
    [due.filter((d) => !merelyChecked.has(d.measurand)), "Calibrate"],
    [due.filter((d) => merelyChecked.has(d.measurand)), "Check"],
  ];
  return groups.flatMap(([items, verb]) => {
    const first = items[0];
    if (!first) return [];
    const list = items.map((i) => i.measurand);
    return [
      {
        id: `calibrate-${meter.id}-${verb === "Check" ? "occasional" : "day"}`,
        kind: "calibrate" as const,
        meter_id: meter.id,
        measurands: list,
        title: `${verb} ${meter.code}`,
        subject: meter.code,
        detail: `${words(list)}: ${[...new Set(items.map((i) => i.why))].join("; ")}`,
        at: items.map((i) => i.at).sort()[0] ?? first.at,
        moment: null,
      },
    ];
  });
}

/** The check that is due of a calibrated meter in use: the day's first, after so many readings, or the closing one. */
function checks(meter: DueMeter, now: string, rules: HouseRules): DueItem[] {
  const lines = meter.measurands.filter(
    (line) => !merelyChecked.has(line.measurand) && !calibrationDue(line, now, rules.zone),
  );
  if (lines.length === 0) return [];
  const today = localDate(now, rules.zone);
  const on = (at: string | null) => at !== null && localDate(at, rules.zone) === today;
  const list = lines.map((l) => l.measurand);
  const item = (
    moment: "opening" | "interim" | "closing",
    title: string,
    detail: string,
    at: string,
  ): DueItem => ({
    id: `check-${moment}-${meter.id}`,
    kind: "check",
    meter_id: meter.id,
    measurands: list,
    title,
    subject: meter.code,
    detail,
    at,
    moment,
  });
  const unchecked = lines.filter((l) => !on(l.calibration?.finished_at ?? null) && !on(l.passed_at));
  if (rules.calibration.interval === "week-with-daily-check" && unchecked.length) {
    return [item("opening", `Check ${meter.code}`, "before the day's first reading", now)];
  }
  const since = Math.max(...lines.map((l) => l.readings_since_check));
  if (since >= rules.calibration.control_every) {
    return [item("interim", `Control of ${meter.code}`, `${since} readings since the last one`, now)];
  }
  const usedToday = lines.some((l) => on(l.last_reading_at) && l.readings_since_check > 0);
  if (rules.calibration.closing_check && usedToday) {
    const evening = localTime(today, 17, rules.zone);
    return [
      item(
        "closing",
        `Closing check of ${meter.code}`,
        "at the end of the day",
        evening > now ? evening : now,
      ),
    ];
  }
  return [];
}

/**
 * What is due for the meters at a moment, most urgent first: calibrations, checks of the day, controls, closing checks.
 * Times are ISO in UTC. Source: house rules. Check value: a meter whose calibration ended yesterday is due now.
 */
export function dueForMeters(meters: readonly DueMeter[], now: string, rules: HouseRules): DueItem[] {
  return meters
    .filter((m) => !m.busy)
    .flatMap((m) => [...calibrations(m, now, rules.zone), ...checks(m, now, rules)])
    .sort((a, b) => inOrder(a.at, b.at) || rank(a) - rank(b));
}

/** A control that is due comes before a calibration that can wait for its first reading. */
const rank = (item: DueItem): number => (item.kind === "check" ? 0 : item.id.endsWith("occasional") ? 2 : 1);
