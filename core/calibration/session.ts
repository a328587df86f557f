import { z } from "zod";
import { captureSchema, type MeterSnapshot, meterSnapshotSchema } from "../bench/capture";
import { eventBase, type Folding, undoneSchema } from "../bench/event";
import { applyToStations, currentStation, emptyStation, type Station } from "../bench/station";
import { err, ok } from "../quantity/result";
import { bufferPh } from "../reference/phBuffers";
import { type LotSnapshot, lotSnapshotSchema } from "../solution/lot";

const plannedBufferSchema = z.object({ role: z.enum(["point", "check"]), lot: lotSnapshotSchema });

export const expectedRangeSchema = z.object({ low: z.number(), high: z.number() });
export type ExpectedRange = z.infer<typeof expectedRangeSchema>;

const startedSchema = eventBase.extend({
  type: z.literal("started"),
  meter: meterSnapshotSchema,
  buffers: z.array(plannedBufferSchema).min(2),
  expected: expectedRangeSchema,
});

/** Everything that can happen while a pH meter is calibrated. */
export const calibrationEventSchema = z.discriminatedUnion("type", [
  startedSchema,
  eventBase.extend({ type: z.literal("rinsed"), station: z.number().int().min(0) }),
  eventBase.extend({ type: z.literal("placed"), station: z.number().int().min(0) }),
  eventBase.extend({ type: z.literal("skipped"), station: z.number().int().min(0) }),
  eventBase.extend({ type: z.literal("captured"), station: z.number().int().min(0), capture: captureSchema }),
  eventBase.extend({ type: z.literal("noted"), text: z.string().trim().min(1).max(500) }),
  eventBase.extend({ type: z.literal("finished") }),
  eventBase.extend({ type: z.literal("abandoned"), reason: z.string().trim().min(1).max(200) }),
  undoneSchema,
]);
export type CalibrationEvent = z.infer<typeof calibrationEventSchema>;
export type CalibrationStarted = z.infer<typeof startedSchema>;

export interface BufferStation extends Station {
  role: "point" | "check";
  lot: LotSnapshot;
}

export interface CalibrationState {
  status: "open" | "finished" | "abandoned";
  meter: MeterSnapshot;
  expected: ExpectedRange;
  stations: BufferStation[];
  started_at: string;
  finished_at: string | null;
  notes: { at: string; by: string; text: string }[];
}

export const bufferName = (station: BufferStation) => `Buffer ${station.lot.nominal_ph.toFixed(2)}`;

/** How a calibration's events turn into its state. */
export const calibrationFolding: Folding<CalibrationState, CalibrationEvent> = {
  undoable: (event) => ["rinsed", "placed", "captured", "skipped"].includes(event.type),
  apply(state, event) {
    if (event.type === "started") {
      if (state) return err("already-started", "This calibration has begun already.");
      return ok({
        status: "open",
        meter: event.meter,
        expected: event.expected,
        stations: event.buffers.map((b) => ({ ...emptyStation, ...b })),
        started_at: event.at,
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
          ? err("not-complete", "Capture every buffer before you finish.")
          : ok({ ...state, status: "finished", finished_at: event.at });
      case "abandoned":
        return ok({ ...state, status: "abandoned", finished_at: event.at });
      default: {
        const station = state.stations[event.station];
        if (event.type === "skipped" && station?.role === "point") {
          return err("needed", "This buffer is needed for the line. Only the check can be left out.");
        }
        if (event.type === "captured" && station) {
          const wrongKind = (event.capture.signal_mv === null) !== (state.meter.display === "value");
          if (wrongKind) return err("wrong-display", "This meter shows the other kind of value.");
          const truth = bufferPh(station.lot.table, event.capture.temperature_c);
          if (!truth.ok) return truth;
        }
        const stations = applyToStations(state.stations, event, bufferName);
        return stations.ok ? ok({ ...state, stations: stations.value }) : stations;
      }
    }
  },
};
