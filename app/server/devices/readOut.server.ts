import type { Knex } from "knex";
import type { Measurand } from "../../../core/quantity/measurand";
import { memoryText } from "../../../core/simulation/memory";
import { bringFile } from "../exchange/importFile.server";
import { findMeter } from "../meters/meters.server";
import type { Actor } from "../platform/rights.server";
import { findDevice, memoryAt } from "./devices.server";

/**
 * Reads a simulated instrument's memory out over its cable and brings it in like any other file: what the ledger has of it already is
 * known by its moment and not taken twice. Returns the file's id; a sentence where there is nothing to read.
 */
export async function readOutMemory(
  db: Knex,
  meterId: string,
  actor: Actor,
  now: string,
): Promise<{ id: string } | { message: string }> {
  const meter = await findMeter(db, meterId);
  const device = await findDevice(db, meterId);
  if (!meter || !device) return { message: "This meter has no cable." };
  const memory = memoryAt(device, now);
  if (memory.stored.length === 0) return { message: "There is nothing in its memory." };
  const quantities = Object.keys(device.state.channels) as Measurand[];
  const text = memoryText(memory, meter.code, quantities);
  return bringFile(db, { name: `Memory of ${meter.code}`, text }, actor, now);
}
