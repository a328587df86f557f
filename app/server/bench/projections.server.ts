import type { Knex } from "knex";
import type { CalibrationState } from "../../../core/calibration/session";
import type { MeterReadingState } from "../../../core/readings/meterReading";
import type { RunState } from "../../../core/runs/runState";
import type { CustodyState } from "../../../core/samples/custody";
import type { VisitState } from "../../../core/samples/visit";
import type { PreparationState } from "../../../core/stock/preparation";
import type { StandardisationState } from "../../../core/stock/standardisation";
import { projectCalibration, projectCheck } from "../calibrations/projectCalibration.server";
import { projectAnalysis, projectReading } from "../results/projectReading.server";
import { projectBatch } from "../samples/projectBatch.server";
import { projectSamples } from "../samples/projectSamples.server";
import { projectPreparation } from "../stock/projectPreparation.server";
import { projectStandardisation } from "../stock/projectStandardisation.server";
import { projectVisit } from "../visits/projectVisit.server";
import type { BenchWork, Finishing } from "./benchWork.server";

/** Writes what is so while work still goes on: a bottle is a sample as soon as it is filled, and a batch is where it is. */
export async function projectOpen(
  trx: Knex,
  work: BenchWork,
  folded: object,
  finishing: Finishing,
): Promise<void> {
  if (work.kind === "visit") await projectSamples(trx, work, folded as VisitState, finishing);
  if (work.kind === "custody") await projectBatch(trx, work, folded as CustodyState, finishing);
}

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
    case "custody":
      return Promise.resolve();
    case "preparation":
      return projectPreparation(trx, work, folded as PreparationState, finishing);
    case "standardisation":
      return projectStandardisation(trx, work, folded as StandardisationState, finishing);
    case "analysis":
      return projectAnalysis(trx, work, folded as RunState, finishing);
  }
}
