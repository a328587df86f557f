import type { Capture, Measured } from "../bench/capture";
import { measured } from "../bench/measured";
import type { Channel } from "../bench/meter";
import { emptyStation } from "../bench/station";
import { type JudgedMeasurand, judgeMeasurand } from "../calibration/kinds";
import type { Conditions, StationRole } from "../calibration/planned";
import { type CalibrationState, type MeterHistory, noHistory } from "../calibration/session";
import type { Measurand } from "../quantity/measurand";
import { defaultHouseRules, type HouseRules } from "../rules/houseRules";
import type { StandardSnapshot } from "../stock/standard";
import { channel, meterWith } from "./standards";

/** One captured step of a session, as tests write it down. */
export interface Step {
  role: StationRole;
  standard?: StandardSnapshot | null;
  value: Partial<Measured>;
  temperature_c?: number;
  steady?: boolean | null;
  rinsed?: boolean;
  seconds?: number;
}

export const sessionAt = "2026-04-12T08:00:00.000Z";

export const captureOf = (
  values: Measured[],
  temperature_c = 25,
  change: Partial<Capture> = {},
): Capture => ({
  source: "live",
  values,
  temperature_c,
  steady: true,
  seconds_in_solution: 60,
  ...change,
});

export interface SessionChange {
  channel?: Partial<Channel>;
  place?: "bench" | "field";
  conditions?: Conditions | null;
  history?: Partial<MeterHistory>;
  expected?: { low: number; high: number };
  rules?: HouseRules;
}

/** The state of a finished session of one measurand whose steps were captured as given. */
export function sessionOf(
  measurand: Measurand,
  steps: readonly Step[],
  change: SessionChange = {},
): CalibrationState {
  return {
    status: "finished",
    purpose: "calibration",
    moment: null,
    meter: meterWith([channel(measurand, change.channel)], { place: change.place ?? "bench" }),
    expected: change.expected ? { [measurand]: change.expected } : {},
    conditions: change.conditions ?? null,
    history: { ...noHistory, ...change.history },
    calibrations: [],
    started_at: sessionAt,
    finished_at: sessionAt,
    notes: [],
    stations: steps.map((step) => ({
      ...emptyStation,
      measurand,
      role: step.role,
      standard: step.standard ?? null,
      rinsed_at: step.rinsed === false ? null : sessionAt,
      captured_at: sessionAt,
      captured_by: "noor",
      capture: captureOf([measured(measurand, step.value)], step.temperature_c, {
        steady: step.steady === undefined ? true : step.steady,
        seconds_in_solution: step.seconds ?? 60,
      }),
    })),
  };
}

/** The judgement of a session; throws where nothing can be computed. */
export function judgedSession(
  measurand: Measurand,
  steps: readonly Step[],
  change: SessionChange = {},
): JudgedMeasurand {
  const judged = judgeMeasurand(
    sessionOf(measurand, steps, change),
    measurand,
    change.rules ?? defaultHouseRules,
  );
  if (!judged) throw new Error("Nothing can be computed of this session.");
  return judged;
}

/** Its verdict, then the rules that objected. */
export function objections(judged: Pick<JudgedMeasurand, "verdict" | "findings">): string[] {
  return [judged.verdict, ...judged.findings.filter((f) => f.severity !== "ok").map((f) => f.rule)];
}

/** House rules with some of them changed. */
export const rulesWith = <K extends keyof HouseRules>(
  part: K,
  change: Partial<HouseRules[K]>,
): HouseRules => ({
  ...defaultHouseRules,
  [part]: { ...(defaultHouseRules[part] as object), ...change },
});
