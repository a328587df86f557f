import { err, ok, type Result } from "../quantity/result";
import type { Capture } from "./capture";

/** One place the probe goes to: rinsed, put in, captured. Buffers and sample portions are both stations. */
export interface Station {
  rinsed_at: string | null;
  placed_at: string | null;
  captured_at: string | null;
  captured_by: string | null;
  capture: Capture | null;
  /** Why a station that could be left out was left out. */
  skipped: boolean;
}

export const emptyStation: Station = {
  rinsed_at: null,
  placed_at: null,
  captured_at: null,
  captured_by: null,
  capture: null,
  skipped: false,
};

export type StationAction = "rinse" | "place" | "capture" | "finish";

const isDone = (station: Station) => station.capture !== null || station.skipped;

/** Index of the station in hand; the count of stations when all are done. */
export function currentStation(stations: readonly Station[]): number {
  const index = stations.findIndex((s) => !isDone(s));
  return index < 0 ? stations.length : index;
}

/** The obvious next thing to do. */
export function nextAction(stations: readonly Station[]): StationAction {
  const station = stations[currentStation(stations)];
  if (!station) return "finish";
  if (station.placed_at) return "capture";
  return station.rinsed_at ? "place" : "rinse";
}

export type StationEvent =
  | { type: "rinsed" | "placed" | "skipped"; at: string; by: string; station: number }
  | { type: "captured"; at: string; by: string; station: number; capture: Capture };

/** Applies an event to its station, or says why it cannot happen now. `name` is what the technician calls the station. */
export function applyToStations<T extends Station>(
  stations: readonly T[],
  event: StationEvent,
  name: (station: T) => string,
): Result<T[]> {
  const station = stations[event.station];
  if (!station) return err("no-such-station", "There is no such step in this work.");
  if (isDone(station)) {
    return err(
      "already-captured",
      `${name(station)} is captured already. Undo it first to measure it again.`,
    );
  }
  if (event.station !== currentStation(stations)) {
    return err("not-its-turn", `${name(station)} comes later. Finish the step in hand first.`);
  }
  const change = changeOf(station, event, name(station));
  if (!change.ok) return change;
  return ok(stations.map((s, i) => (i === event.station ? { ...s, ...change.value } : s)));
}

function changeOf(station: Station, event: StationEvent, name: string): Result<Partial<Station>> {
  switch (event.type) {
    case "rinsed":
      return station.rinsed_at || station.placed_at
        ? err("already-rinsed", "The rinse is ticked already.")
        : ok({ rinsed_at: event.at });
    case "placed":
      return station.placed_at
        ? err("already-placed", `The probe is in ${name} already.`)
        : ok({ placed_at: event.at });
    case "skipped":
      return ok({ skipped: true });
    case "captured":
      return ok({ capture: event.capture, captured_at: event.at, captured_by: event.by });
  }
}
