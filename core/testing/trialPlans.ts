import type { PlannedStation, StationRole } from "../calibration/planned";
import type { Measurand } from "../quantity/measurand";
import { sensorModels } from "../simulation/sensors";
import type { TrialPlan } from "../simulation/trial";
import type { StandardSnapshot } from "../stock/standard";
import {
  absorbanceStandard,
  bufferStandard,
  channel,
  conductivityStandard,
  redoxStandard,
  zeroSolution,
} from "./standards";

const stations = (
  measurand: Measurand,
  ...steps: [StationRole, StandardSnapshot | null][]
): PlannedStation[] => steps.map(([role, standard]) => ({ measurand, role, standard }));

const conditions = {
  pressure_hpa: 1004,
  pressure_typed_hpa: 1004,
  pressure_kind: "station" as const,
  altitude_m: 80,
  salinity: 0,
  salinity_known: true,
};

const plain = (measurand: Measurand, steps: PlannedStation[]): TrialPlan => ({
  channel: channel(measurand),
  stations: steps,
  conditions: null,
  firstSensitivity: null,
});

/** A thorough calibration of each measurand, as the trials of the diagnosis make it. */
export const trialPlans: Record<Measurand, (seed: number) => TrialPlan> = {
  ph: () =>
    plain(
      "ph",
      stations(
        "ph",
        ["point", bufferStandard("technical-7")],
        ["point", bufferStandard("technical-4")],
        ["point", bufferStandard("technical-10")],
      ),
    ),
  conductivity: () =>
    plain(
      "conductivity",
      stations(
        "conductivity",
        ["blank", null],
        ["point", conductivityStandard(147)],
        ["point", conductivityStandard(1413)],
      ),
    ),
  oxygen: (seed) => ({
    ...plain("oxygen", stations("oxygen", ["zero", zeroSolution()], ["span", null])),
    conditions,
    firstSensitivity: sensorModels.oxygen.healthy(seed).gain,
  }),
  redox: () =>
    plain(
      "redox",
      stations("redox", ["check", redoxStandard("quinhydrone-7")], ["check", redoxStandard("quinhydrone-4")]),
    ),
  temperature: () => ({
    ...plain("temperature", stations("temperature", ["check", null], ["check", null])),
    temperatures: [0.2, 25],
  }),
  absorbance: () =>
    plain(
      "absorbance",
      stations(
        "absorbance",
        ["blank", null],
        ["check", absorbanceStandard(0.3)],
        ["check", absorbanceStandard(1.5)],
      ),
    ),
  volume: () =>
    plain(
      "volume",
      Array.from({ length: 10 }, () => ({ measurand: "volume", role: "point", standard: null }) as const),
    ),
};
