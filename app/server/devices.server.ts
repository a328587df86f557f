import type { Knex } from "knex";
import {
  type DeviceSample,
  immerse,
  type Medium,
  type PhFault,
  type PhMeterState,
  type PhTruth,
  phMeterStateSchema,
  phSampleAt,
  switchedOn,
} from "../../core/simulation/phMeter";

/** A simulated instrument: its hidden state and its own clock, which may run faster than the wall's. */
export interface Device {
  meter_id: string;
  state: PhMeterState;
  device_s: number;
  synced_at: string;
  speed: number;
}

interface DeviceRow extends Omit<Device, "state"> {
  state: string;
}

const defaultSpeed = () => Number(process.env.BRINTEL_DEVICE_SPEED ?? 1) || 1;

/** Gives a meter its simulated instrument, switched on in the air. */
export async function connectDevice(trx: Knex, meterId: string, truth: PhTruth, now: string): Promise<void> {
  await trx("simulated_devices").insert({
    meter_id: meterId,
    state: JSON.stringify(switchedOn(truth)),
    device_s: 0,
    synced_at: now,
    speed: defaultSpeed(),
  });
}

export async function findDevice(db: Knex, meterId: string): Promise<Device | undefined> {
  const row = await db<DeviceRow>("simulated_devices").where({ meter_id: meterId }).first();
  return row && { ...row, state: phMeterStateSchema.parse(JSON.parse(row.state)) };
}

/** The device's own seconds at a moment of the wall clock. */
export const deviceTime = (device: Device, nowMs: number): number =>
  device.device_s + ((nowMs - Date.parse(device.synced_at)) / 1000) * device.speed;

/** Samples a device would have sent between two device times, at its own rate of four a second. */
export function samplesBetween(device: Device, fromS: number, toS: number): DeviceSample[] {
  const samples: DeviceSample[] = [];
  for (let tick = Math.floor(fromS * 4) + 1; tick / 4 <= toS; tick++) {
    samples.push(phSampleAt(device.state, tick / 4));
  }
  return samples;
}

async function change(
  db: Knex,
  meterId: string,
  now: string,
  next: (device: Device, atS: number) => Partial<Pick<Device, "state" | "speed">>,
): Promise<void> {
  const device = await findDevice(db, meterId);
  if (!device) return;
  const device_s = deviceTime(device, Date.parse(now));
  const { state = device.state, speed = device.speed } = next(device, device_s);
  await db("simulated_devices")
    .where({ meter_id: meterId })
    .update({ state: JSON.stringify(state), device_s, synced_at: now, speed });
}

/** Moves the simulated probe; `swap` is what a mixed-up technician would have poured instead. */
export const moveProbe = (db: Knex, meterId: string, medium: Medium, now: string, swap?: Medium) =>
  change(db, meterId, now, (device, atS) => ({ state: immerse(device.state, medium, atS, swap) }));

export const setFaults = (db: Knex, meterId: string, faults: PhFault[], now: string) =>
  change(db, meterId, now, (device) => ({
    state: { ...device.state, truth: { ...device.state.truth, faults } },
  }));

export const setTruth = (db: Knex, meterId: string, truth: PhTruth, now: string) =>
  change(db, meterId, now, (device) => ({ state: { ...device.state, truth } }));

export const setSpeed = (db: Knex, meterId: string, speed: number, now: string) =>
  change(db, meterId, now, () => ({ speed }));
