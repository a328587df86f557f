import type { Knex } from "knex";
import { ulid } from "ulid";
import type { Capture } from "../../../core/bench/capture";
import { defaultHouseRules } from "../../../core/quality/houseRules";
import { type BufferId, phBuffers } from "../../../core/reference/phBuffers";
import { addLot, type StoredLot } from "../lots.server";
import { addMeter, type Meter } from "../meters.server";
import { addPerson, type Person } from "../people.server";
import { writeFirstRules } from "../rules.server";
import { addSite, type Site } from "../sites.server";
import { openDatabase } from "../sqlite.server";
import { startCalibration, startReading } from "../starts.server";

/** A small bench in memory for tests: one person, one site, one meter, three bottles. */
export interface TestBench {
  db: Knex;
  person: Person;
  site: Site;
  meter: Meter;
  lots: StoredLot[];
}

export const testNow = "2026-04-12T08:00:00.000Z";
const must = <T>(value: T | null): T => {
  if (value === null) throw new Error("The test bench could not be set up.");
  return value;
};

export async function openTestBench(file = ":memory:"): Promise<TestBench> {
  const db = await openDatabase(file);
  await writeFirstRules(db, defaultHouseRules, testNow);
  const person = must(await addPerson(db, { name: "Noor", role: "technician" }, null, testNow));
  const water = { name: "Bathing pond", water: "pond", expected_ph_low: 7.4, expected_ph_high: 8.6 };
  const site = must(await addSite(db, water, person.id, testNow));
  const kind = { name: "Bench", display: "signal", place: "bench", has_cable: true } as const;
  const meter = must(
    await addMeter(db, { ...kind, code: "P-2", probe_installed_on: "2025-05-01" }, person.id, testNow, 7),
  );
  const ids: BufferId[] = ["technical-7", "technical-10", "borate"];
  const lots: StoredLot[] = [];
  for (const id of ids) {
    const { name, table } = phBuffers[id];
    const dates = { received_on: "2026-01-01", opened_on: "2026-04-01", expires_on: "2027-01-01" };
    const lot = {
      kind: "ph-buffer",
      code: `L-${id}`,
      name,
      buffer: id,
      table,
      uncertainty_ph: 0.01,
    } as const;
    lots.push(
      must(
        await addLot(db, { ...lot, ...dates, shelf_life_open_days: 90, withdrawn: null }, person.id, testNow),
      ),
    );
  }
  return { db, person, site, meter, lots };
}

export const liveCapture = (signal_mv: number, temperature_c = 25): Capture => ({
  source: "live",
  signal_mv,
  displayed_ph: null,
  adjusted_ph: null,
  temperature_c,
  steady: true,
  seconds_in_solution: 60,
  slope_ph_per_min: 0.001,
});

const stamp = (bench: TestBench, at = testNow) => ({ id: ulid(), at, by: bench.person.id });

/** Rinse, put in and capture at each station, then finish: the events of a whole piece of bench work. */
export function wholeRun(bench: TestBench, captures: Capture[], at = testNow) {
  return [
    ...captures.flatMap((capture, station) => [
      { ...stamp(bench, at), type: "rinsed" as const, station },
      { ...stamp(bench, at), type: "placed" as const, station },
      { ...stamp(bench, at), type: "captured" as const, station, capture },
    ]),
    { ...stamp(bench, at), type: "finished" as const },
  ];
}

export async function beginCalibration(bench: TestBench, at = testNow): Promise<string> {
  const work_id = ulid();
  await startCalibration(
    bench.db,
    { work_id, event_id: ulid(), by: bench.person.id, at },
    bench.meter,
    bench.lots.map((stored, i) => ({ stored, role: i < 2 ? "point" : "check", reason: null })),
    { low: 7.4, high: 8.6 },
  );
  return work_id;
}

export async function beginReading(bench: TestBench, sample = "BP-0412", at = testNow): Promise<string> {
  const work_id = ulid();
  await startReading(
    bench.db,
    { work_id, event_id: ulid(), by: bench.person.id, at },
    bench.meter,
    bench.site,
    sample,
  );
  return work_id;
}
