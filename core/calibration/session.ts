import { z } from "zod";
import { type Capture, captureSchema } from "../bench/capture";
import { eventBaseSchema, type Folding, undoneSchema } from "../bench/event";
import { measuredOf } from "../bench/measured";
import { channelOf, type MeterSnapshot, meterSnapshotSchema } from "../bench/meter";
import { applyToStations, currentStation, emptyStation, type Station } from "../bench/station";
import { measurandFacts, measurands } from "../quantity/measurand";
import { err, ok } from "../quantity/result";
import { calibrationSnapshotSchema } from "./inForce";
import {
  conditionsSchema,
  expectedRangeSchema,
  mayLeaveOut,
  type PlannedStation,
  plannedStationSchema,
  stationName,
} from "./planned";
import { trueValue } from "./trueValue";

/** What is remembered of the meter when a calibration begins, so that its judgement needs nothing else. */
const meterHistorySchema = z.object({
  ph_slope: z.object({ percent: z.number(), at: z.string() }).nullable(),
  oxygen_first_sensitivity: z.number().nullable(),
  oxygen_zero: z.object({ signal: z.number(), at: z.string() }).nullable(),
  /** When its membrane or electrolyte was renewed last. */
  oxygen_filled_at: z.string().nullable().default(null),
});
export type MeterHistory = z.infer<typeof meterHistorySchema>;
export const noHistory: MeterHistory = {
  ph_slope: null,
  oxygen_first_sensitivity: null,
  oxygen_zero: null,
  oxygen_filled_at: null,
};

const startedSchema = eventBaseSchema.extend({
  type: z.literal("started"),
  purpose: z.enum(["calibration", "check"]),
  /** When in the day a check is made. */
  moment: z.enum(["opening", "interim", "closing"]).nullable(),
  meter: meterSnapshotSchema,
  plan: z.array(plannedStationSchema).min(1).max(40),
  expected: z.partialRecord(z.enum(measurands), expectedRangeSchema),
  conditions: conditionsSchema.nullable(),
  history: meterHistorySchema,
  /** For a check: the calibrations it tests. */
  calibrations: z.array(calibrationSnapshotSchema),
});

/** Everything that can happen while a meter is calibrated or checked. */
export const calibrationEventSchema = z.discriminatedUnion("type", [
  startedSchema,
  eventBaseSchema.extend({ type: z.literal("rinsed"), station: z.number().int().min(0) }),
  eventBaseSchema.extend({ type: z.literal("placed"), station: z.number().int().min(0) }),
  eventBaseSchema.extend({ type: z.literal("skipped"), station: z.number().int().min(0) }),
  eventBaseSchema.extend({
    type: z.literal("captured"),
    station: z.number().int().min(0),
    capture: captureSchema,
  }),
  eventBaseSchema.extend({ type: z.literal("noted"), text: z.string().trim().min(1).max(500) }),
  eventBaseSchema.extend({ type: z.literal("finished") }),
  eventBaseSchema.extend({ type: z.literal("abandoned"), reason: z.string().trim().min(1).max(200) }),
  undoneSchema,
]);
export type CalibrationEvent = z.infer<typeof calibrationEventSchema>;
export type CalibrationStarted = z.infer<typeof startedSchema>;

export type CalibrationStation = Station & PlannedStation;

export interface CalibrationState extends Omit<CalibrationStarted, "id" | "at" | "by" | "type" | "plan"> {
  status: "open" | "finished" | "abandoned";
  stations: CalibrationStation[];
  started_at: string;
  finished_at: string | null;
  notes: { at: string; by: string; text: string }[];
}

/** How a calibration's events turn into its state. */
export const calibrationFolding: Folding<CalibrationState, CalibrationEvent> = {
  undoable: (event) => ["rinsed", "placed", "captured", "skipped"].includes(event.type),
  apply(state, event) {
    if (event.type === "started") {
      if (state) return err("already-started", "This calibration has begun already.");
      const { id: _id, at, by: _by, type: _type, plan, ...rest } = event;
      return ok({
        ...rest,
        status: "open",
        stations: plan.map((planned) => ({ ...emptyStation, ...planned })),
        started_at: at,
        finished_at: null,
        notes: [],
      });
    }
    if (!state) return err("not-started", "This calibration has not begun.");
    if (event.type === "noted") {
      return ok({ ...state, notes: [...state.notes, { at: event.at, by: event.by, text: event.text }] });
    }
    if (state.status !== "open") return err("closed", "This calibration is closed. Start a new one.");
    switch (event.type) {
      case "finished":
        return currentStation(state.stations) < state.stations.length
          ? err("not-complete", "Capture every standard before you finish.")
          : ok({ ...state, status: "finished", finished_at: event.at });
      case "abandoned":
        return ok({ ...state, status: "abandoned", finished_at: event.at });
      default: {
        const station = state.stations[event.station];
        if (event.type === "skipped" && station && !mayLeaveOut(station, state.purpose)) {
          return err("needed", `${stationName(station)} is needed. Only checks and blanks can be left out.`);
        }
        if (event.type === "captured" && station) {
          const fits = captureFits(state.meter, station, event.capture);
          if (!fits.ok) return fits;
          const truth = trueValue(state, station, event.capture);
          if (!truth.ok) return truth;
        }
        const stations = applyToStations(state.stations, event, stationName);
        return stations.ok ? ok({ ...state, stations: stations.value }) : stations;
      }
    }
  },
};

/** A capture belongs to its station: the right measurand, and the kind of value this meter shows. */
function captureFits(meter: MeterSnapshot, station: PlannedStation, capture: Capture) {
  const value = measuredOf(capture, station.measurand);
  const channel = channelOf(meter, station.measurand);
  const word = measurandFacts[station.measurand].word;
  if (!value || !channel) return err("wrong-quantity", `This step measures ${word}. Check the meter's mode.`);
  if ((value.signal === null) !== (channel.display === "value")) {
    return err("wrong-display", "This meter shows the other kind of value.");
  }
  return ok(value);
}
