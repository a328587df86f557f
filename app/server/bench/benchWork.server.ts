import type { CalibrationEvent } from "../../../core/calibration/session";
import type { Measurand } from "../../../core/quantity/measurand";
import type { MeterReadingEvent } from "../../../core/readings/meterReading";
import type { RunEvent } from "../../../core/runs/runEvents";
import type { CustodyEvent } from "../../../core/samples/custodyEvents";
import type { VisitEvent } from "../../../core/samples/visitEvents";
import type { PreparationEvent } from "../../../core/stock/preparationEvents";
import type { StandardisationEvent } from "../../../core/stock/standardisationEvents";
import type { Actor } from "../platform/rights.server";

export type BenchKind =
  | "calibration"
  | "check"
  | "reading"
  | "analysis"
  | "visit"
  | "custody"
  | "preparation"
  | "standardisation";
export type BenchEvent =
  | CalibrationEvent
  | MeterReadingEvent
  | RunEvent
  | VisitEvent
  | CustodyEvent
  | PreparationEvent
  | StandardisationEvent;

export interface BenchWork {
  id: string;
  kind: BenchKind;
  /** What an analysis is called; the others are named by their meter. */
  title: string | null;
  /** Null for an analysis, which needs no meter. */
  meter_id: string | null;
  site_id: string | null;
  /** The method of an analysis. */
  method_id: string | null;
  /** The visit from which it was begun; null at a bench without one. */
  visit_id: string | null;
  /** The registered sample it measures; null where the water bears only a name. */
  sample_id: string | null;
  person_id: string;
  status: "open" | "finished" | "abandoned";
  started_at: string;
  finished_at: string | null;
  rules_version: number;
  event_count: number;
}

/** How a piece of work begins, whatever its kind. */
export interface Start {
  /** Client-made ids: of the work and of its first event, so that a double click starts one. */
  work_id: string;
  event_id: string;
  actor: Actor;
  at: string;
  /** The visit it is begun from. */
  visit_id?: string | null;
}

/** A piece of work as it begins; `more` is what belongs to its kind. */
export const newWork = (
  kind: BenchKind,
  { work_id, actor, at, visit_id = null }: Start,
  rules_version: number,
  more: Partial<Pick<BenchWork, "title" | "meter_id" | "site_id" | "method_id" | "sample_id">>,
): Omit<BenchWork, "event_count"> => ({
  id: work_id,
  kind,
  title: null,
  meter_id: null,
  site_id: null,
  method_id: null,
  sample_id: null,
  visit_id,
  person_id: actor.id,
  status: "open",
  started_at: at,
  finished_at: null,
  rules_version,
  ...more,
});

/** Where a piece of bench work is shown. */
export const workHref = ({ kind, id }: Pick<BenchWork, "kind" | "id">): string =>
  ({
    calibration: `/calibrations/${id}`,
    check: `/checks/${id}`,
    reading: `/readings/${id}`,
    analysis: `/runs/${id}`,
    visit: `/visits/${id}`,
    custody: `/custody/${id}`,
    preparation: `/stock/preparations/${id}`,
    standardisation: `/stock/standardisations/${id}`,
  })[kind];

/** A record of one measurand of a piece of work carries both in its id. */
export const recordId = (workId: string, measurand: Measurand): string => `${workId}-${measurand}`;

/** Who finished the work, and when the server heard of it; `late` when it was finished before and an event came after. */
export interface Finishing {
  by: string;
  now: string;
  late?: boolean;
}
