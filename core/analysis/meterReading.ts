import { z } from "zod";
import { captureSchema, type MeterSnapshot, meterSnapshotSchema } from "../bench/capture";
import { eventBase, type Folding, undoneSchema } from "../bench/event";
import { applyToStations, currentStation, emptyStation, type Station } from "../bench/station";
import { phFromMv } from "../calibration/phFit";
import { type DuplicateOutcome, resolveDuplicates } from "../quality/duplicates";
import { err, ok } from "../quantity/result";

/** The calibration in force when a sample was measured, as the reading keeps it. */
export const calibrationSnapshotSchema = z.object({
  id: z.string(),
  finished_at: z.string(),
  valid_until: z.string(),
  verdict: z.enum(["sound", "qualified", "failed"]),
  basis: z.enum(["signal", "display"]),
  slope_percent: z.number(),
  offset_mv: z.number(),
  lowest_ph: z.number(),
  highest_ph: z.number(),
});
export type CalibrationSnapshot = z.infer<typeof calibrationSnapshotSchema>;

const startedSchema = eventBase.extend({
  type: z.literal("started"),
  meter: meterSnapshotSchema,
  site: z.object({ id: z.string(), name: z.string() }),
  sample: z.string().trim().min(1).max(40),
  calibration: calibrationSnapshotSchema.nullable(),
  duplicate_ph: z.number().positive(),
});

/** Everything that can happen while a sample's pH is measured in duplicate. */
export const meterReadingEventSchema = z.discriminatedUnion("type", [
  startedSchema,
  eventBase.extend({ type: z.literal("rinsed"), station: z.number().int().min(0) }),
  eventBase.extend({ type: z.literal("placed"), station: z.number().int().min(0) }),
  eventBase.extend({ type: z.literal("captured"), station: z.number().int().min(0), capture: captureSchema }),
  eventBase.extend({ type: z.literal("noted"), text: z.string().trim().min(1).max(500) }),
  eventBase.extend({ type: z.literal("finished") }),
  eventBase.extend({ type: z.literal("abandoned"), reason: z.string().trim().min(1).max(200) }),
  undoneSchema,
]);
export type MeterReadingEvent = z.infer<typeof meterReadingEventSchema>;
export type MeterReadingStarted = z.infer<typeof startedSchema>;

export interface MeterReadingState {
  status: "open" | "finished" | "abandoned";
  meter: MeterSnapshot;
  site: { id: string; name: string };
  sample: string;
  calibration: CalibrationSnapshot | null;
  duplicate_ph: number;
  /** One station a portion: two, and a third when the first two disagree. */
  stations: Station[];
  started_at: string;
  finished_at: string | null;
  notes: { at: string; by: string; text: string }[];
}

/** pH of one portion: the display's own, or the signal through the calibration in force; null without either. */
export function portionPh(state: MeterReadingState, station: Station): number | null {
  const { capture } = station;
  if (!capture) return null;
  if (capture.displayed_ph !== null) return capture.displayed_ph;
  const { calibration } = state;
  if (capture.signal_mv === null || !calibration || calibration.basis !== "signal") return null;
  return phFromMv(capture.signal_mv, capture.temperature_c, calibration.slope_percent, calibration.offset_mv);
}

/** The portions' pH so far and what the duplicate rule makes of them. */
export function readingOutcome(state: MeterReadingState): { values: number[]; outcome: DuplicateOutcome } {
  const values = state.stations.flatMap((s) => {
    const ph = portionPh(state, s);
    return ph === null ? [] : [ph];
  });
  return { values, outcome: resolveDuplicates(values, state.duplicate_ph) };
}

const portionNames = ["The first portion", "The second portion", "The third portion"];

/** How a meter reading's events turn into its state. */
export const meterReadingFolding: Folding<MeterReadingState, MeterReadingEvent> = {
  undoable: (event) => ["rinsed", "placed", "captured"].includes(event.type),
  apply(state, event) {
    if (event.type === "started") {
      if (state) return err("already-started", "This reading has begun already.");
      const { meter, site, sample, calibration, duplicate_ph } = event;
      return ok({
        status: "open",
        meter,
        site,
        sample,
        calibration,
        duplicate_ph,
        stations: [emptyStation, emptyStation],
        started_at: event.at,
        finished_at: null,
        notes: [],
      });
    }
    if (!state) return err("not-started", "This reading has not begun.");
    if (event.type === "noted") {
      return ok({ ...state, notes: [...state.notes, { at: event.at, by: event.by, text: event.text }] });
    }
    if (state.status !== "open") return err("closed", "This reading is closed. Start a new one.");
    if (event.type === "abandoned") return ok({ ...state, status: "abandoned", finished_at: event.at });
    if (event.type === "finished") {
      return currentStation(state.stations) < state.stations.length
        ? err("not-complete", "Measure every portion before you finish.")
        : ok({ ...state, status: "finished", finished_at: event.at });
    }
    if (event.type === "captured") {
      if ((event.capture.signal_mv === null) !== (state.meter.display === "value")) {
        return err("wrong-display", "This meter shows the other kind of value.");
      }
      if (event.capture.signal_mv !== null && state.calibration?.basis !== "signal") {
        return err(
          "no-calibration",
          "Without a calibration a signal in mV has no pH. Calibrate this meter first.",
        );
      }
    }
    const stations = applyToStations(
      state.stations,
      event,
      (s) => portionNames[state.stations.indexOf(s)] ?? "",
    );
    return stations.ok ? ok(withThirdPortion({ ...state, stations: stations.value })) : stations;
  },
};

/** Two portions that disagree call for a third. */
function withThirdPortion(state: MeterReadingState): MeterReadingState {
  const allMeasured = currentStation(state.stations) === state.stations.length;
  return allMeasured && readingOutcome(state).outcome.next === "measure-again" && state.stations.length < 3
    ? { ...state, stations: [...state.stations, emptyStation] }
    : state;
}
