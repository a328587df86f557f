import type { MeterReadingEvent } from "../../core/analysis/meterReading";
import type { CalibrationEvent } from "../../core/calibration/session";

export type BenchKind = "calibration" | "check" | "reading";
export type BenchEvent = CalibrationEvent | MeterReadingEvent;

export interface BenchWork {
  id: string;
  kind: BenchKind;
  meter_id: string;
  site_id: string | null;
  person_id: string;
  status: "open" | "finished" | "abandoned";
  started_at: string;
  finished_at: string | null;
  rules_version: number;
}

/** Where a piece of bench work is shown. */
export const workHref = ({ kind, id }: Pick<BenchWork, "kind" | "id">): string =>
  ({ calibration: `/calibrations/${id}`, check: `/checks/${id}`, reading: `/readings/${id}` })[kind];
