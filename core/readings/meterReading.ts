import { z } from "zod";
import { captureSchema } from "../bench/capture";
import { eventBaseSchema, type Folding, undoneSchema } from "../bench/event";
import { measuredOf } from "../bench/measured";
import { channelOf, type MeterSnapshot, meterSnapshotSchema } from "../bench/meter";
import { applyToStations, currentStation, emptyStation, type Station } from "../bench/station";
import { subjectSchema } from "../bench/subject";
import { valueFrom } from "../calibration/convert";
import { calibrationSnapshotSchema } from "../calibration/inForce";
import { displayAt25 } from "../calibration/trueValue";
import { type DuplicateOutcome, oneReading, resolveDuplicates } from "../judgement/duplicates";
import { type Measurand, measurandFacts, measurands } from "../quantity/measurand";
import { err, ok } from "../quantity/result";
import { compensateLinear, compensateNatural } from "../reference/conductivity";

const duplicateRuleSchema = z.object({
  kind: z.enum(["absolute", "relative"]),
  limit: z.number().positive(),
});

const startedSchema = eventBaseSchema.extend({
  type: z.literal("started"),
  meter: meterSnapshotSchema,
  /** What is read of this sample: all or some of what the meter measures. */
  measurands: z.array(z.enum(measurands)).min(1),
  site: z.object({ id: z.string(), name: z.string() }),
  sample: z.string().trim().min(1).max(40),
  /** What is in the vessel: the sample, or a check of its batch. */
  subject: subjectSchema.default({ kind: "sample" }),
  /** When the water was taken; null when it is measured in place. */
  collected_at: z.iso.datetime().nullable().default(null),
  /** The probe is in the water itself: nothing is poured, and a meter that sends its signal is read once. */
  in_place: z.boolean().default(false),
  calibrations: z.array(calibrationSnapshotSchema),
  duplicates: z.partialRecord(z.enum(measurands), duplicateRuleSchema),
  compensation: z.object({ model: z.enum(["linear", "natural"]), percent_per_c: z.number() }),
});

/** Everything that can happen while a sample is measured with a meter in duplicate. */
export const meterReadingEventSchema = z.discriminatedUnion("type", [
  startedSchema,
  eventBaseSchema.extend({ type: z.literal("rinsed"), station: z.number().int().min(0) }),
  eventBaseSchema.extend({ type: z.literal("placed"), station: z.number().int().min(0) }),
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
export type MeterReadingEvent = z.infer<typeof meterReadingEventSchema>;
export type MeterReadingStarted = z.infer<typeof startedSchema>;

export interface MeterReadingState extends Omit<MeterReadingStarted, "id" | "at" | "by" | "type"> {
  status: "open" | "finished" | "abandoned";
  /** One station a portion: two, and a third when any measurand of the first two disagrees. */
  stations: Station[];
  started_at: string;
  finished_at: string | null;
  notes: { at: string; by: string; text: string }[];
}

const inForce = (state: Pick<MeterReadingState, "calibrations">, measurand: Measurand) =>
  state.calibrations.find((c) => c.measurand === measurand);

/** Brings a raw conductivity to 25 °C by the house rule in force when the reading began. */
const compensator =
  ({ model, percent_per_c }: MeterReadingState["compensation"]) =>
  (conductivity: number, temperatureC: number) =>
    model === "linear"
      ? compensateLinear(conductivity, temperatureC, percent_per_c)
      : compensateNatural(conductivity, temperatureC);

/**
 * A measured signal or display as the value that is reported; a conductivity comes to 25 °C, once.
 * Units: those of the measurand. Null for a signal without a calibration.
 * Check value: 1000 µS/cm raw at 20 °C is about 1116 µS/cm at 25 °C in a natural water.
 */
export function reportValue(
  state: Pick<MeterReadingState, "calibrations" | "compensation"> & {
    meter: Pick<MeterSnapshot, "channels">;
  },
  value: { measurand: Measurand; signal: number | null; displayed: number | null },
  temperatureC: number,
): number | null {
  const found = valueFrom(value, inForce(state, value.measurand)?.coefficients ?? null, temperatureC);
  const channel = channelOf(state.meter, value.measurand);
  if (found === null || value.measurand !== "conductivity" || !channel) return found;
  const shown = value.signal === null ? channel : { ...channel, compensation: "raw" };
  return displayAt25(found, shown, temperatureC, compensator(state.compensation));
}

/** How a conductivity came to 25 °C, in words; null for what needs no compensation. */
export function compensationWords(state: MeterReadingState, measurand: Measurand): string | null {
  const channel = channelOf(state.meter, measurand);
  if (measurand !== "conductivity" || !channel) return null;
  if (channel.display === "value" && channel.compensation.startsWith("25"))
    return "compensated to 25 °C by the meter";
  if (channel.display === "value" && channel.compensation.startsWith("20"))
    return `compensated to 20 °C by the meter, brought to 25 °C by ${channel.coefficient_percent_per_c || 1.91} %/°C`;
  return state.compensation.model === "natural"
    ? "brought to 25 °C as natural waters behave"
    : `brought to 25 °C by ${state.compensation.percent_per_c} %/°C`;
}

/** A portion's value of one measurand in the unit of the reading; null while it is not measured. */
export function portionValue(
  state: MeterReadingState,
  station: Station,
  measurand: Measurand,
): number | null {
  const value = station.capture && measuredOf(station.capture, measurand);
  return value && station.capture ? reportValue(state, value, station.capture.temperature_c) : null;
}

/** Whether one reading is all: in the water, with a meter whose signal is watched until it is steady. */
export const isOneReading = ({ in_place, meter }: Pick<MeterReadingState, "in_place" | "meter">): boolean =>
  in_place && meter.has_cable;

/** The portions' values so far of one measurand and what the duplicate rule makes of them. */
export function readingOutcome(
  state: MeterReadingState,
  measurand: Measurand,
): { values: number[]; outcome: DuplicateOutcome } {
  const values = state.stations.flatMap((s) => {
    const value = portionValue(state, s, measurand);
    return value === null ? [] : [value];
  });
  const rule = state.duplicates[measurand] ?? { kind: "relative", limit: 20 };
  if (isOneReading(state)) return { values, outcome: oneReading(values) };
  return { values, outcome: resolveDuplicates(values, rule) };
}

const portionNames = ["The first portion", "The second portion", "The third portion"];

/** How a meter reading's events turn into its state. */
export const meterReadingFolding: Folding<MeterReadingState, MeterReadingEvent> = {
  undoable: (event) => ["rinsed", "placed", "captured"].includes(event.type),
  apply(state, event) {
    if (event.type === "started") {
      if (state) return err("already-started", "This reading has begun already.");
      const { id: _id, at, by: _by, type: _type, ...rest } = event;
      return ok({
        ...rest,
        status: "open",
        stations: event.in_place && event.meter.has_cable ? [emptyStation] : [emptyStation, emptyStation],
        started_at: at,
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
      const fits = captureFits(state, event.capture);
      if (!fits.ok) return fits;
    }
    const stations = applyToStations(
      state.stations,
      event,
      (s) => portionNames[state.stations.indexOf(s)] ?? "",
    );
    return stations.ok
      ? ok(withThirdPortion({ ...state, stations: lookedAtAgain(state, stations.value, event.at) }))
      : stations;
  },
};

/** A capture carries every measurand of the reading, in the kind of value the meter shows. */
function captureFits(state: MeterReadingState, capture: z.infer<typeof captureSchema>) {
  for (const measurand of state.measurands) {
    const value = measuredOf(capture, measurand);
    const { word } = measurandFacts[measurand];
    if (!value) return err("missing", `The ${word} is missing.`);
    if ((value.signal === null) !== (channelOf(state.meter, measurand)?.display === "value")) {
      return err("wrong-display", "This meter shows the other kind of value.");
    }
    if (reportValue(state, value, capture.temperature_c) === null) {
      return err(
        "no-calibration",
        `Without a calibration a signal has no ${word}. Calibrate this meter first.`,
      );
    }
  }
  return ok(capture);
}

/** In the water itself the probe stays where it is: the next look needs no rinse and no new portion. */
function lookedAtAgain({ in_place }: MeterReadingState, stations: Station[], at: string): Station[] {
  const done = stations.findLastIndex((s) => s.captured_at !== null);
  const last = stations[done];
  if (!in_place || !last) return stations;
  return stations.map((s, i) =>
    i === done + 1 && s.placed_at === null ? { ...s, rinsed_at: last.rinsed_at, placed_at: at } : s,
  );
}

/** Two portions that disagree in anything call for a third. */
function withThirdPortion(state: MeterReadingState): MeterReadingState {
  const allMeasured = currentStation(state.stations) === state.stations.length;
  const again = state.measurands.some((m) => readingOutcome(state, m).outcome.next === "measure-again");
  if (!allMeasured || !again || state.stations.length >= 3) return state;
  const third = { ...state, stations: [...state.stations, emptyStation] };
  return {
    ...third,
    stations: lookedAtAgain(third, third.stations, third.stations.at(-2)?.captured_at ?? ""),
  };
}
