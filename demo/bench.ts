import type dayjs from "dayjs";
import type { Knex } from "knex";
import { postEvents } from "../app/server/bench/bench.server";
import type { BenchEvent } from "../app/server/bench/benchWork.server";
import type { CheckMoment } from "../app/server/calibrations/checks.server";
import {
  type ChosenStation,
  startCalibration,
  startReading,
} from "../app/server/calibrations/startWork.server";
import type { Meter } from "../app/server/meters/meters.server";
import type { Person } from "../app/server/people/people.server";
import type { Actor } from "../app/server/platform/rights.server";
import type { Site } from "../app/server/sites/sites.server";
import { type StoredStandard, standardSnapshot } from "../app/server/stock/standards.server";
import type { Capture, Measured } from "../core/bench/capture";
import { measured } from "../core/bench/measured";
import type { Subject } from "../core/bench/subject";
import { type Conditions, stationName } from "../core/calibration/planned";
import type { Measurand } from "../core/quantity/measurand";
import { gaussian } from "../core/quantity/random";
import { type Instrument, sampleAt, settledSignal } from "../core/simulation/instrument";
import type { Medium } from "../core/simulation/medium";
import { mediumFor } from "../core/simulation/stationMedium";

/** What the hands at the demo's bench need. */
export interface Hands {
  db: Knex;
  random: () => number;
  id: (at: string) => string;
}

/** One step of a demo calibration. */
export interface Pour {
  measurand: Measurand;
  role: ChosenStation["role"];
  lot: StoredStandard | null;
  /** How much the bottle has lost, in its own unit. */
  lost?: number;
  reason?: string;
  /** What really is in the beaker when bottles were swapped. */
  really?: StoredStandard;
}

const base = (hands: Hands, at: string, by: Person) => ({ id: hands.id(at), at, by: by.id });

async function post(
  hands: Hands,
  actor: Actor,
  work: string,
  events: BenchEvent[],
  sent: dayjs.Dayjs,
): Promise<void> {
  const posted = await postEvents(hands.db, actor, work, events, sent.toISOString());
  if (posted.refused) throw new Error(posted.refused.message);
}

/** What a simulated meter shows once settled in a medium. */
function settledCapture(
  hands: Hands,
  instrument: Instrument,
  quantities: readonly Measurand[],
  medium: Medium,
): Capture {
  const state: Instrument = { ...instrument, medium, rinsed: true, entered_s: -4000 };
  for (const q of quantities) {
    const channel = state.channels[q];
    if (channel) state.channels = { ...state.channels, [q]: { ...channel, from: settledSignal(state, q) } };
  }
  const at = Math.round(hands.random() * 3600);
  const slow = instrument.faults.some((f) => f.kind === "aged-glass");
  const seconds = slow ? 214 + 20 * hands.random() : 58 + 12 * hands.random();
  const values: Measured[] = quantities.map((q) =>
    measured(q, { signal: sampleAt(state, q, at).value, scatter: 0.03, per_min: 0.006 }),
  );
  return {
    source: "live",
    values,
    temperature_c: Math.round(medium.temperature_c * 10) / 10,
    steady: true,
    seconds_in_solution: Math.round(seconds),
  };
}

/** What a display shows, typed by the technician. */
export const typedCapture = (values: Measured[], temperature_c: number): Capture => ({
  source: "typed",
  values,
  temperature_c,
  steady: null,
  seconds_in_solution: null,
});

export interface Session {
  meter: Meter;
  by: Person;
  pours: Pour[];
  conditions?: Conditions;
  moment?: CheckMoment;
  /** What is captured at each step. */
  capture(pour: Pour, index: number): Capture;
}

/** A whole calibration or check, step by step, through the same doors a user uses. Returns its id and when it ended. */
export async function runSession(
  hands: Hands,
  begin: dayjs.Dayjs,
  session: Session,
): Promise<{ id: string; end: dayjs.Dayjs }> {
  const { id, end, send } = await beginSession(hands, begin, session);
  await send(end);
  return { id, end };
}

/** The same on a device that keeps what is done on it until it is sent. */
export async function beginSession(
  hands: Hands,
  begin: dayjs.Dayjs,
  session: Session,
): Promise<{ id: string; end: dayjs.Dayjs; send(at: dayjs.Dayjs): Promise<void> }> {
  const { meter, by, pours, moment } = session;
  const at = begin.toISOString();
  const work_id = hands.id(at);
  const chosen = pours.map(({ measurand, role, lot, reason }) => ({
    measurand,
    role,
    stored: lot,
    reason: reason ?? null,
  }));
  const start = { work_id, event_id: hands.id(at), actor: by, at };
  await startCalibration(hands.db, start, meter, chosen, {
    conditions: session.conditions ?? null,
    ...(moment ? { moment } : {}),
  });
  let clock = begin;
  const events: BenchEvent[] = [];
  for (const [station, pour] of pours.entries()) {
    const capture = session.capture(pour, station);
    clock = clock.add(35, "second");
    events.push({ ...base(hands, clock.toISOString(), by), type: "rinsed", station });
    clock = clock.add(20, "second");
    events.push({ ...base(hands, clock.toISOString(), by), type: "placed", station });
    clock = clock.add(capture.seconds_in_solution ?? 50, "second");
    events.push({ ...base(hands, clock.toISOString(), by), type: "captured", station, capture });
  }
  clock = clock.add(15, "second");
  events.push({ ...base(hands, clock.toISOString(), by), type: "finished" });
  const send = (sent: dayjs.Dayjs) => post(hands, by, work_id, events, sent);
  return { id: work_id, end: clock, send };
}

/** What the simulated instrument gives at a step, its bottle being what it is. */
export function pourCapture(
  hands: Hands,
  instrument: Instrument,
  pour: Pour,
  room: number,
  conditions: Conditions | null = null,
): Capture {
  const day = "2000-01-01";
  const stored = pour.really ?? pour.lot;
  const station = { ...pour, standard: stored && standardSnapshot(stored, day, null) };
  const medium = mediumFor(station, stationName(station), {
    conditions,
    temperature_c: Math.round(room * 10) / 10,
    nominal_ml: 10,
  });
  const lost = pour.lost ?? 0;
  return settledCapture(hands, instrument, [pour.measurand], { ...medium, ph: medium.ph - lost });
}

/** A sample in duplicate. */
export async function takeReading(
  hands: Hands,
  begin: dayjs.Dayjs,
  sample: {
    meter: Meter;
    by: Person;
    site: Site;
    name: string;
    /** What is in the vessel; the water of the site, where nothing is said. */
    subject?: Subject;
    /** What is captured of each portion. */
    capture(portion: number): Capture;
  },
): Promise<dayjs.Dayjs> {
  const at = begin.toISOString();
  const work_id = hands.id(at);
  const { meter, by, site, name, subject } = sample;
  await startReading(hands.db, { work_id, event_id: hands.id(at), actor: by, at }, meter, site, {
    sample: name,
    ...(subject ? { subject } : {}),
  });
  let clock = begin;
  const events: BenchEvent[] = [];
  for (const station of [0, 1]) {
    const capture = sample.capture(station);
    clock = clock.add(25, "second");
    events.push({ ...base(hands, clock.toISOString(), by), type: "rinsed", station });
    clock = clock.add(10, "second");
    events.push({ ...base(hands, clock.toISOString(), by), type: "placed", station });
    clock = clock.add(capture.seconds_in_solution ?? 60, "second");
    events.push({ ...base(hands, clock.toISOString(), by), type: "captured", station, capture });
  }
  clock = clock.add(5, "second");
  events.push({ ...base(hands, clock.toISOString(), by), type: "finished" });
  await post(hands, by, work_id, events, clock);
  return clock;
}

/** The capture of one portion of water by a simulated instrument: the same water, a little noise. */
export function portionCapture(
  hands: Hands,
  instrument: Instrument,
  quantities: readonly Measurand[],
  water: Medium,
): Capture {
  return settledCapture(hands, instrument, quantities, {
    ...water,
    ph: water.ph + 0.012 * gaussian(hands.random),
    conductivity_25: water.conductivity_25 * (1 + 0.002 * gaussian(hands.random)),
    oxygen_share: water.oxygen_share + 0.004 * gaussian(hands.random),
  });
}
