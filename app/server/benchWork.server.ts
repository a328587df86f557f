import type { MeterReadingEvent } from "../../core/analysis/meterReading";
import type { CalibrationEvent } from "../../core/calibration/session";

export type BenchKind = "calibration" | "reading";
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
