import { measuredOf } from "../bench/measured";
import type { TakenOut } from "../bench/takenOut";
import { atMost } from "../quantity/compare";
import type { Measurand } from "../quantity/measurand";
import type { HouseRules } from "../rules/houseRules";
import { valueFrom } from "./convert";
import { assessDrift, type Drift, type DriftQuantity, driftQuantities } from "./drift";
import { measurandsOf } from "./result";
import type { CalibrationState } from "./session";
import { trueValue } from "./trueValue";

/** What a check found of one measurand: the standard that was furthest off decides. */
export interface CheckOutcome {
  measurand: Measurand;
  station: number;
  true_value: number;
  /** What the meter reads by the calibration in force, on the footing of the standard. */
  read_value: number;
  error: number;
  /** The limit it was held against, in the unit of the measurand. */
  limit: number;
  passed: boolean;
  /** How a failed check grades the record; null for what does not drift linearly. */
  drift: Drift | null;
  steady: boolean | null;
  /** Why it says nothing, where somebody took it out; absent while it stands. */
  taken_out?: TakenOut;
}

/**
 * What a check is worth: whether it passed, unless its standard is not trusted (`counts`) or somebody took it out.
 * Source: common practice. Check value: one that failed and was taken out is void.
 */
export function checkVerdict({
  passed,
  counts,
  outcome: { taken_out },
}: {
  passed: boolean;
  counts: boolean;
  outcome: Pick<CheckOutcome, "taken_out">;
}): "sound" | "failed" | "held" | "void" {
  if (taken_out) return "void";
  if (!counts) return "held";
  return passed ? "sound" : "failed";
}

/** The most a check may be off, in the unit of the measurand. Source: house rules. Check value: pH at the bench is 0.05. */
export function checkLimit(
  measurand: Measurand,
  trueValueOfStandard: number,
  place: "bench" | "field",
  rules: HouseRules,
): number {
  switch (measurand) {
    case "ph":
      return rules.ph.check_ph[place];
    case "conductivity":
      return (rules.conductivity.check_percent[place] / 100) * trueValueOfStandard;
    case "oxygen":
      return rules.oxygen.check_mg_l;
    case "redox":
      return rules.redox.check_mv;
    case "temperature":
      return rules.temperature.check_c[place];
    case "absorbance":
      return (rules.absorbance.check_percent / 100) * trueValueOfStandard;
    case "volume":
      return (rules.volume.error_percent / 100) * trueValueOfStandard;
  }
}

const isDriftQuantity = (m: Measurand): m is DriftQuantity =>
  (driftQuantities as readonly string[]).includes(m);

/**
 * The outcome of a check as far as it has come, one for each measurand measured.
 * Units: those of the measurand. Source: house rules for the limits; Wagner et al. 2006 for drift and grade.
 * Check value: pH 7.30 read in buffer 7.00 fails, drift +0.30, grade good.
 */
export function checkOutcomes(state: CalibrationState, rules: HouseRules): CheckOutcome[] {
  return measurandsOf(state).flatMap((measurand) => {
    const coefficients = state.calibrations.find((c) => c.measurand === measurand)?.coefficients ?? null;
    const outcomes = state.stations.flatMap((station, index): CheckOutcome[] => {
      const { capture } = station;
      const value = capture && measuredOf(capture, measurand);
      if (station.measurand !== measurand || !capture || !value) return [];
      const truth = trueValue(state, station, capture);
      const read = valueFrom(value, coefficients, capture.temperature_c);
      if (!truth.ok || read === null) return [];
      const limit = checkLimit(measurand, truth.value, state.meter.place, rules);
      return [
        {
          measurand,
          station: index,
          true_value: truth.value,
          read_value: read,
          error: read - truth.value,
          limit,
          passed: atMost(Math.abs(read - truth.value), limit),
          drift: isDriftQuantity(measurand) ? assessDrift(measurand, truth.value, read) : null,
          steady: capture.steady,
        },
      ];
    });
    const worst = outcomes.sort((a, b) => Math.abs(b.error) / b.limit - Math.abs(a.error) / a.limit)[0];
    return worst ? [worst] : [];
  });
}
