import dayjs from "dayjs";
import type { Knex } from "knex";
import { monotonicFactory } from "ulid";
import { postEvents } from "../../app/server/bench.server";
import type { BenchEvent } from "../../app/server/benchWork.server";
import { setFaults, setTruth } from "../../app/server/devices.server";
import { addLot, changeLot, type StoredLot } from "../../app/server/lots.server";
import { addMeter, type Meter } from "../../app/server/meters.server";
import { addPerson, type Person } from "../../app/server/people.server";
import { writeFirstRules } from "../../app/server/rules.server";
import { addSite, type Site } from "../../app/server/sites.server";
import { startCalibration, startReading } from "../../app/server/starts.server";
import type { Capture } from "../../core/bench/capture";
import { defaultHouseRules } from "../../core/quality/houseRules";
import { bufferPh, phBuffers } from "../../core/reference/phBuffers";
import {
  healthyPhTruth,
  type PhTruth,
  phSampleAt,
  settledSignal,
  switchedOn,
} from "../../core/simulation/phMeter";
import { gaussian, seededRandom } from "../../core/simulation/random";
import * as scenario from "./scenario";

const seed = 20260412;
const weeks = 12;
/** Days of the week on which the ponds are tested: Monday, Wednesday, Friday. */
const testingDays = [1, 3, 5];

interface Demo {
  db: Knex;
  today: dayjs.Dayjs;
  random: () => number;
  id: (at: string) => string;
  people: Person[];
  sites: Site[];
  meters: Record<string, Meter>;
  lots: Record<string, StoredLot>;
}

const isoDay = (day: dayjs.Dayjs) => day.format("YYYY-MM-DD");
const must = <T>(value: T | null | undefined): T => {
  if (value == null) throw new Error("The demo data contradict themselves.");
  return value;
};

/** Generates twelve weeks of Ellerwick Ponds with the core's own simulation, through the same doors a user uses. */
export async function loadDemo(db: Knex, now: Date): Promise<{ calibrations: number; readings: number }> {
  const random = seededRandom(seed);
  const makeUlid = monotonicFactory(random);
  const demo: Demo = {
    db,
    today: dayjs(now).startOf("day"),
    random,
    id: (at) => makeUlid(Date.parse(at)),
    people: [],
    sites: [],
    meters: {},
    lots: {},
  };
  const counts = { calibrations: 0, readings: 0 };
  await setTheScene(demo);
  for (let day = -7 * weeks; day < 0; day++) {
    const date = demo.today.add(day, "day");
    if (!testingDays.includes(date.day())) continue;
    await testingDay(demo, day, counts);
    if (day >= -7 && date.day() === 3) await badDay(demo, day, counts);
  }
  await thisMorning(demo, dayjs(now), counts);
  await setTheBench(demo, now.toISOString());
  return counts;
}

async function setTheScene(demo: Demo): Promise<void> {
  const { db, today } = demo;
  const start = today
    .add(-7 * weeks - 1, "day")
    .hour(8)
    .toISOString();
  await writeFirstRules(db, { ...defaultHouseRules, zone: "UTC" }, start);
  for (const person of scenario.people) demo.people.push(must(await addPerson(db, person, null, start)));
  const by = must(demo.people[0]).id;
  for (const s of scenario.sites) {
    const site = { name: s.name, water: s.water, expected_ph_low: s.low, expected_ph_high: s.high };
    demo.sites.push(must(await addSite(db, site, by, start)));
  }
  for (const { seed: meterSeed, ...meter } of scenario.meters) {
    const probe_installed_on = isoDay(today.add(Number(meter.probe_installed_on), "day"));
    demo.meters[meter.code] = must(
      await addMeter(db, { ...meter, probe_installed_on }, by, start, meterSeed),
    );
  }
  for (const lot of scenario.lots) {
    const { id, name, table } = phBuffers[lot.buffer];
    const received = today.add(lot.received, "day");
    demo.lots[lot.code] = must(
      await addLot(
        db,
        {
          kind: "ph-buffer",
          code: lot.code,
          name,
          buffer: id,
          uncertainty_ph: id === "borate" ? 0.005 : 0.01,
          table,
          received_on: isoDay(received),
          opened_on: lot.opened === null ? null : isoDay(today.add(lot.opened, "day")),
          expires_on: isoDay(today.add(lot.expires, "day")),
          shelf_life_open_days: lot.shelf,
          withdrawn: null,
        },
        by,
        received.hour(9).toISOString(),
      ),
    );
  }
}

/** Whether a moment lies before the first bottle of buffer 10 was withdrawn. */
const firstBuffer10 = (at: dayjs.Dayjs, demo: Demo) => at.isBefore(demo.today.add(-31, "day"));

/** P-2's probe is ageing: its slope falls a little faster each month. */
function ageing(day: number): PhTruth {
  const share = (day + 7 * weeks) / (7 * weeks);
  return {
    ...healthyPhTruth(42),
    slope: 0.985 - 0.02 * share - 0.008 * share ** 2,
    e0_mv: -3.2 - 2.4 * share,
  };
}

async function testingDay(
  demo: Demo,
  day: number,
  counts: { calibrations: number; readings: number },
): Promise<void> {
  const { meters, lots } = demo;
  const p2 = must(meters["P-2"]);
  const truth = ageing(day);
  const old10 = day < -31;
  const buffer10 = must(lots[old10 ? "B10-041" : "B10-055"]);
  // The first bottle of buffer 10 takes up carbon dioxide from week to week.
  const lost = old10 ? Math.max(0, (day + 50) / 18) * 0.07 : 0;
  let clock = demo.today.add(day, "day").hour(7).minute(46);
  const by = must(demo.people[day % 2 === 0 ? 0 : 1]).id;
  clock = await calibrate(demo, p2, truth, clock, by, [
    { lot: must(lots["B7-127"]), role: "point", lost: 0 },
    { lot: buffer10, role: "point", lost },
    { lot: must(lots["B9-017"]), role: "check", lost: 0 },
  ]);
  counts.calibrations++;
  if (day === -32 || (old10 && day + 2 > -32)) {
    const reason = must(scenario.lots.find((l) => l.code === "B10-041")?.withdrawn).reason;
    const on = isoDay(demo.today.add(day, "day"));
    const at = clock.add(2, "hour").toISOString();
    await changeLot(demo.db, buffer10.id, (lot) => ({ ...lot, withdrawn: { on, reason } }), by, at, reason);
  }
  for (const [index, site] of demo.sites.entries()) {
    clock = await takeReading(demo, p2, truth, clock.add(6, "minute"), by, site, waterOf(demo, index));
    counts.readings++;
  }
  clock = await calibrateByDisplay(demo, must(meters["P-1"]), clock.add(15, "minute"), by);
  counts.calibrations++;
}

/** Today has begun on the bank with the pocket meter, if the day is old enough; the bench meter waits for you. */
async function thisMorning(
  demo: Demo,
  now: dayjs.Dayjs,
  counts: { calibrations: number; readings: number },
): Promise<void> {
  const begin = now.subtract(70, "minute");
  if (isoDay(begin) !== isoDay(now)) return;
  const p1 = must(demo.meters["P-1"]);
  const by = must(demo.people[0]).id;
  let clock = await calibrateByDisplay(demo, p1, begin, by);
  counts.calibrations++;
  for (const index of [0, 1]) {
    const water = waterOf(demo, index);
    clock = await takeReading(demo, p1, null, clock.add(9, "minute"), by, must(demo.sites[index]), water);
    counts.readings++;
  }
}

function waterOf(demo: Demo, index: number): { ph: number; temperature_c: number } {
  const water = must(scenario.sites[index]);
  return {
    ph: water.ph + 0.09 * gaussian(demo.random),
    temperature_c: Math.round((water.temperature_c + 0.8 * gaussian(demo.random)) * 10) / 10,
  };
}

/** A bad day: the old probe fails, the training meter's buffers are swapped, an expired lot is used, a reading falls outside. */
async function badDay(
  demo: Demo,
  day: number,
  counts: { calibrations: number; readings: number },
): Promise<void> {
  const { meters, lots } = demo;
  const by = must(demo.people[1]).id;
  const p3 = must(meters["P-3"]);
  const aged: PhTruth = { ...healthyPhTruth(73), slope: 0.985, faults: ["aged-glass"] };
  let clock = demo.today.add(day, "day").hour(13).minute(20);
  clock = await calibrate(demo, p3, aged, clock, by, [
    {
      lot: must(lots["B7-098"]),
      role: "point",
      lost: 0,
      reason: "The good bottle was out at the bathing pond.",
    },
    { lot: must(lots["B4-118"]), role: "point", lost: 0 },
    { lot: must(lots["B9-017"]), role: "check", lost: 0 },
  ]);
  const site = must(demo.sites[4]);
  clock = await takeReading(demo, p3, aged, clock.add(8, "minute"), by, site, {
    ph: 8.9,
    temperature_c: 15.1,
  });
  counts.readings++;
  const p4 = must(meters["P-4"]);
  await calibrate(demo, p4, healthyPhTruth(91), clock.add(10, "minute"), by, [
    { lot: must(lots["B7-127"]), role: "point", lost: 0, really: must(lots["B4-118"]) },
    { lot: must(lots["B4-118"]), role: "point", lost: 0, really: must(lots["B7-127"]) },
    { lot: must(lots["B9-017"]), role: "check", lost: 0 },
  ]);
  counts.calibrations += 2;
}

interface Pour {
  lot: StoredLot;
  role: "point" | "check";
  /** How much pH the bottle has lost. */
  lost: number;
  reason?: string;
  /** What really is in the beaker when bottles were swapped. */
  really?: StoredLot;
}

const base = (demo: Demo, at: string, by: string) => ({ id: demo.id(at), at, by });

async function post(demo: Demo, work: string, events: BenchEvent[]): Promise<void> {
  const posted = await postEvents(demo.db, work, events, must(events.at(-1)).at);
  if ("refused" in posted) throw new Error(posted.refused.message);
}

/** What the simulated meter shows once settled in a solution. */
function settledCapture(demo: Demo, truth: PhTruth, ph: number, temperature_c: number): Capture {
  const medium = { label: "", kind: "sample" as const, ph, temperature_c };
  const state = { ...switchedOn(truth), medium, rinsed: true };
  const seconds = truth.faults.includes("aged-glass") ? 214 + 20 * demo.random() : 58 + 12 * demo.random();
  const settled = { ...state, from_mv: settledSignal(state) };
  const sample = phSampleAt(settled, Math.round(demo.random() * 3600));
  return {
    source: "live",
    signal_mv: Math.round(sample.value * 10) / 10,
    displayed_ph: null,
    adjusted_ph: null,
    temperature_c: sample.temperature_c,
    steady: true,
    seconds_in_solution: Math.round(seconds),
    slope_ph_per_min: 0.006,
  };
}

async function calibrate(
  demo: Demo,
  meter: Meter,
  truth: PhTruth,
  begin: dayjs.Dayjs,
  by: string,
  pours: Pour[],
): Promise<dayjs.Dayjs> {
  const at = begin.toISOString();
  const work_id = demo.id(at);
  const expected = { low: 7.1, high: 8.6 };
  const buffers = pours.map(({ lot, role, reason = null }) => ({ stored: lot, role, reason }));
  await startCalibration(demo.db, { work_id, event_id: demo.id(at), by, at }, meter, buffers, expected);
  let clock = begin;
  const events: BenchEvent[] = [];
  const room = 20.2 + 0.4 * gaussian(demo.random);
  for (const [station, pour] of pours.entries()) {
    const { table } = (pour.really ?? pour.lot).lot;
    const ph = bufferPh(table, Math.round(room * 10) / 10);
    const capture = settledCapture(
      demo,
      truth,
      (ph.ok ? ph.value : 7) - pour.lost,
      Math.round(room * 10) / 10,
    );
    clock = clock.add(40, "second");
    events.push({ ...base(demo, clock.toISOString(), by), type: "rinsed", station });
    clock = clock.add(20, "second");
    events.push({ ...base(demo, clock.toISOString(), by), type: "placed", station });
    clock = clock.add(capture.seconds_in_solution ?? 60, "second");
    events.push({ ...base(demo, clock.toISOString(), by), type: "captured", station, capture });
  }
  clock = clock.add(15, "second");
  events.push({ ...base(demo, clock.toISOString(), by), type: "finished" });
  await post(demo, work_id, events);
  return clock;
}

/** The pocket meter shows only pH: read, adjusted, read again. */
async function calibrateByDisplay(
  demo: Demo,
  meter: Meter,
  begin: dayjs.Dayjs,
  by: string,
): Promise<dayjs.Dayjs> {
  const at = begin.toISOString();
  const work_id = demo.id(at);
  const lots = ["B7-127", firstBuffer10(begin, demo) ? "B10-041" : "B10-055", "B9-017"].map((code) =>
    must(demo.lots[code]),
  );
  const buffers = lots.map((stored, i) => ({
    stored,
    role: i < 2 ? ("point" as const) : ("check" as const),
    reason: null,
  }));
  await startCalibration(demo.db, { work_id, event_id: demo.id(at), by, at }, meter, buffers, {
    low: 7.1,
    high: 8.6,
  });
  let clock = begin;
  const events: BenchEvent[] = [];
  for (const [station, stored] of lots.entries()) {
    const truth = bufferPh(stored.lot.table, 20);
    const ph = truth.ok ? truth.value : 7;
    const error = (ph - 7) * -0.008 + 0.03 * gaussian(demo.random);
    const shown = (value: number) => Math.round(value * 100) / 100;
    clock = clock.add(30, "second");
    events.push({ ...base(demo, clock.toISOString(), by), type: "rinsed", station });
    clock = clock.add(70, "second");
    const capture: Capture = {
      source: "typed",
      signal_mv: null,
      displayed_ph: shown(station < 2 ? ph + error : ph + 0.012 * gaussian(demo.random)),
      adjusted_ph: station < 2 ? shown(ph) : null,
      temperature_c: 20,
      steady: null,
      seconds_in_solution: null,
      slope_ph_per_min: null,
    };
    events.push({ ...base(demo, clock.toISOString(), by), type: "placed", station });
    events.push({ ...base(demo, clock.toISOString(), by), type: "captured", station, capture });
  }
  events.push({ ...base(demo, clock.toISOString(), by), type: "finished" });
  await post(demo, work_id, events);
  return clock;
}

/** What a pocket meter's display shows in a sample, typed by the technician. */
function displayedCapture(demo: Demo, ph: number, temperature_c: number): Capture {
  return {
    source: "typed",
    signal_mv: null,
    displayed_ph: Math.round((ph + 0.015 * gaussian(demo.random)) * 100) / 100,
    adjusted_ph: null,
    temperature_c,
    steady: null,
    seconds_in_solution: null,
    slope_ph_per_min: null,
  };
}

/** A sample in duplicate; without a simulated electrode the values are those of a display. */
async function takeReading(
  demo: Demo,
  meter: Meter,
  truth: PhTruth | null,
  begin: dayjs.Dayjs,
  by: string,
  site: Site,
  water: { ph: number; temperature_c: number },
): Promise<dayjs.Dayjs> {
  const at = begin.toISOString();
  const work_id = demo.id(at);
  const code = must(scenario.sites[site.position - 1]).code;
  const start = { work_id, event_id: demo.id(at), by, at };
  await startReading(demo.db, start, meter, site, `${code}-${begin.format("MMDD")}`);
  let clock = begin;
  const events: BenchEvent[] = [];
  for (const station of [0, 1]) {
    const ph = water.ph + 0.012 * gaussian(demo.random);
    const capture = truth
      ? settledCapture(demo, truth, ph, water.temperature_c)
      : displayedCapture(demo, ph, water.temperature_c);
    clock = clock.add(25, "second");
    events.push({ ...base(demo, clock.toISOString(), by), type: "rinsed", station });
    clock = clock.add(10, "second");
    events.push({ ...base(demo, clock.toISOString(), by), type: "placed", station });
    clock = clock.add(capture.seconds_in_solution ?? 60, "second");
    events.push({ ...base(demo, clock.toISOString(), by), type: "captured", station, capture });
  }
  clock = clock.add(5, "second");
  events.push({ ...base(demo, clock.toISOString(), by), type: "finished" });
  await post(demo, work_id, events);
  return clock;
}

/** Leaves the simulated instruments on the bench as the story has them today. */
async function setTheBench(demo: Demo, now: string): Promise<void> {
  const { db, meters } = demo;
  await setTruth(db, must(meters["P-2"]).id, ageing(0), now);
  await setFaults(db, must(meters["P-3"]).id, ["aged-glass"], now);
  await setFaults(db, must(meters["P-4"]).id, ["swapped-buffers"], now);
}
