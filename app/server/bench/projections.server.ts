import type { Knex } from "knex";
import type { CalibrationState } from "../../../core/calibration/session";
import type { MeterReadingState } from "../../../core/readings/meterReading";
import type { RunState } from "../../../core/runs/runState";
import type { VisitState } from "../../../core/samples/visit";
import { projectCalibration, projectCheck } from "../calibrations/projectCalibration.server";
import { projectAnalysis, projectReading } from "../results/projectReading.server";
import { projectVisit } from "../visits/projectVisit.server";
import type { BenchWork, Finishing } from "./benchWork.server";
/** Writes what a piece of bench work that has just been finished amounts to. */
export function projectFinished(
  trx: Knex,
  work: BenchWork,
  folded: object,
  finishing: Finishing,
): Promise<void> {
  switch (work.kind) {
    // Nothing but a note can follow the end of these: there is nothing to write anew.
    case "calibration":
      return finishing.late
        ? Promise.resolve()
        : projectCalibration(trx, work, folded as CalibrationState, finishing);
    case "check":
      return finishing.late
        ? Promise.resolve()
        : projectCheck(trx, work, folded as CalibrationState, finishing);
    case "reading":
      return finishing.late
        ? Promise.resolve()
        : projectReading(trx, work, folded as MeterReadingState, finishing);
    case "visit":
      return projectVisit(trx, work, folded as VisitState, finishing);
    case "analysis":
      return projectAnalysis(trx, work, folded as RunState, finishing);
  }
}
