import type { Knex } from "knex";
import type { Measurand } from "../../../core/quantity/measurand";
import type { Fault } from "../../../core/simulation/fault";
import {
  type DeviceSample,
  type Instrument,
  immerse,
  instrumentSchema,
  logUntil,
  sampleAt,
  store,
  switchedOn,
} from "../../../core/simulation/instrument";
import type { Medium } from "../../../core/simulation/medium";
import type { Memory } from "../../../core/simulation/memory";
import { config } from "../platform/config.server";

/** A simulated instrument: its hidden state and its own clock, which may run faster than the wall's. */
export interface Device {
  meter_id: string;
  state: Instrument;
  device_s: number;
  synced_at: string;
  speed: number;
  /** Whether the probe goes where the technician's ticks say; otherwise a hand outside moves it. */
  follows: boolean;
}

interface DeviceRow extends Omit<Device, "state" | "follows"> {
  state: string;
  follows: number;
}

const defaultSpeed = () => config().BRINTEL_DEVICE_SPEED;

/** Gives a meter its simulated instrument, switched on in the air. */
export async function connectDevice(
  trx: Knex,
  meterId: string,
  seed: number,
  quantities: readonly Measurand[],
  now: string,
): Promise<void> {
  await trx("simulated_devices").insert({
    meter_id: meterId,
    state: JSON.stringify(switchedOn(seed, quantities)),
    device_s: 0,
    synced_at: now,
    speed: defaultSpeed(),
    follows: true,
  });
}

export async function findDevice(db: Knex, meterId: string): Promise<Device | undefined> {
  const row = await db<DeviceRow>("simulated_devices").where({ meter_id: meterId }).first();
  return (
    row && { ...row, follows: Boolean(row.follows), state: instrumentSchema.parse(JSON.parse(row.state)) }
  );
}

/** Whether a meter is a simulated instrument. */
export const hasDevice = async (db: Knex, meterId: string): Promise<boolean> =>
  (await db("simulated_devices").where({ meter_id: meterId }).first("meter_id")) !== undefined;

/** The device's own seconds at a moment of the wall clock. */
export const deviceTime = (device: Device, nowMs: number): number =>
  device.device_s + ((nowMs - Date.parse(device.synced_at)) / 1000) * device.speed;

/** Samples of every sensor a device would have sent between two device times, at its own rate of four a second. */
export function samplesBetween(device: Device, fromS: number, toS: number): DeviceSample[] {
  const samples: DeviceSample[] = [];
  const quantities = Object.keys(device.state.channels) as Measurand[];
  for (let tick = Math.floor(fromS * 4) + 1; tick / 4 <= toS; tick++) {
    for (const quantity of quantities) samples.push(sampleAt(device.state, quantity, tick / 4));
  }
  return samples;
}

/** The instrument with all that it has logged by itself until a moment. */
const logged = (device: Device, now: string): Instrument =>
  logUntil(device.state, now, (at) => deviceTime(device, Date.parse(at)));

type Change = Partial<Pick<Device, "state" | "speed" | "follows">>;

async function change(
  db: Knex,
  meterId: string,
  now: string,
  next: (device: Device, atS: number) => Change,
): Promise<void> {
  const found = await findDevice(db, meterId);
  if (!found) return;
  // What it logged by itself until now, it logged where it was until now.
  const device = { ...found, state: logged(found, now) };
  const device_s = deviceTime(device, Date.parse(now));
  const { state = device.state, speed = device.speed, follows = device.follows } = next(device, device_s);
  await db("simulated_devices")
    .where({ meter_id: meterId })
    .update({ state: JSON.stringify(state), device_s, synced_at: now, speed, follows });
}

/**
 * Moves the simulated probe. `swap` is what a mixed-up technician would have poured instead; `by` says whose hand it
 * was: the bench's ticks do nothing while a hand outside holds the probe.
 */
export const moveProbe = (
  db: Knex,
  meterId: string,
  medium: Medium,
  now: string,
  by: "bench" | "hand",
  swap?: Medium,
) =>
  change(db, meterId, now, (device, atS) =>
    by === "bench" && !device.follows ? {} : { state: immerse(device.state, medium, atS, swap) },
  );

export const setFaults = (db: Knex, meterId: string, faults: Fault[], now: string) =>
  change(db, meterId, now, (device) => ({ state: { ...device.state, faults } }));

/** Replaces the hidden sensors, as the demo data does when it leaves an aged probe on the bench. */
export const setInstrument = (db: Knex, meterId: string, instrument: Instrument, now: string) =>
  change(db, meterId, now, () => ({ state: instrument }));

export const setSpeed = (db: Knex, meterId: string, speed: number, now: string) =>
  change(db, meterId, now, () => ({ speed }));

export const setFollows = (db: Knex, meterId: string, follows: boolean, now: string) =>
  change(db, meterId, now, () => ({ follows }));

/** Presses the instrument's own store key. */
export const pressStore = (db: Knex, meterId: string, now: string) =>
  change(db, meterId, now, (device, atS) => ({ state: store(device.state, atS, now) }));

/** Lets the instrument log by itself every so many minutes from now on; null ends it. */
export const setLogging = (db: Knex, meterId: string, every_min: number | null, now: string) =>
  change(db, meterId, now, ({ state }) => ({
    state: {
      ...state,
      memory: { ...state.memory, every_min, logged_until: every_min === null ? null : now },
    },
  }));

/** Empties the instrument's memory, as its own menu does. */
export const clearMemory = (db: Knex, meterId: string, now: string) =>
  change(db, meterId, now, ({ state }) => ({
    state: { ...state, memory: { ...state.memory, stored: [] } },
  }));

/** What an instrument has in its memory at a moment. */
export const memoryAt = (device: Device, now: string): Memory => logged(device, now).memory;
