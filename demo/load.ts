import dayjs from "dayjs";
import type { Knex } from "knex";
import { monotonicFactory } from "ulid";
import { connectDevice, setInstrument } from "../app/server/devices.server";
import { addLot, changeLot, type StoredLot } from "../app/server/lots.server";
import { addMeter, type Meter, recordService } from "../app/server/meters.server";
import { addPerson, type Person } from "../app/server/people.server";
import { confirmRejudging } from "../app/server/rejudge.server";
import { runRejudging } from "../app/server/rejudgeRun.server";
import { writeFirstRules } from "../app/server/rules.server";
import { addSite, type Site } from "../app/server/sites.server";
import { measured } from "../core/bench/capture";
import type { Conditions } from "../core/calibration/planned";
import { defaultHouseRules } from "../core/quality/houseRules";
import { certifiedValue } from "../core/reference/certificate";
import { usualFault } from "../core/simulation/fault";
import { type Instrument, switchedOn } from "../core/simulation/instrument";
import { type Medium, mediumOf } from "../core/simulation/medium";
import { gaussian, seededRandom } from "../core/simulation/random";
import { certifiedTable } from "../core/solution/certificates";
import { runMethod } from "./analyses";
import {
  type Hands,
  type Pour,
  portionCapture,
  pourCapture,
  runSession,
  takeReading,
  typedCapture,
} from "./bench";
import * as scenario from "./scenario";

const seed = 20260412;
const weeks = 12;
/** Days of the week on which the ponds are tested: Monday, Wednesday, Friday. */
const testingDays = [1, 3, 5];
/** The day of the failed closing check: the last testing day that lies at least so many days back. */
const driftDay = -9;

interface Counts {
  calibrations: number;
  readings: number;
}

interface Demo extends Hands {
  today: dayjs.Dayjs;
  people: Person[];
  sites: Site[];
  meters: Record<string, Meter>;
  lots: Record<string, StoredLot>;
  counts: Counts;
}

const isoDay = (day: dayjs.Dayjs) => day.format("YYYY-MM-DD");
const must = <T>(value: T | null | undefined): T => {
  if (value == null) throw new Error("The demo data contradict themselves.");
  return value;
};
const lotOf = (demo: Demo, code: string) => must(demo.lots[code]);
const meterOf = (demo: Demo, code: string) => must(demo.meters[code]);

/** Generates twelve weeks of Ellerwick Ponds with the core's own simulation, through the same doors a user uses. */
export async function loadDemo(db: Knex, now: Date): Promise<Counts> {
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
    counts: { calibrations: 0, readings: 0 },
  };
  await setTheScene(demo);
  let drifted = false;
  for (let day = -7 * weeks; day < 0; day++) {
    const date = demo.today.add(day, "day");
    if (!testingDays.includes(date.day())) continue;
    const drifts: boolean = !drifted && day >= driftDay;
    drifted ||= drifts;
    await testingDay(demo, day, drifts);
    if (date.day() === 3) await nutrientRound(demo, day);
    if (day >= -7 && date.day() === 3) await badDay(demo, day);
  }
  await thisMorning(demo, dayjs(now));
  await setTheBench(demo, now.toISOString());
  return demo.counts;
}

async function setTheScene(demo: Demo): Promise<void> {
  const { db, today } = demo;
  const start = today
    .add(-7 * weeks - 1, "day")
    .hour(8)
    .toISOString();
  await writeFirstRules(db, { ...defaultHouseRules, zone: "UTC", data: "demo" }, start);
  // Whoever manages is there first, and adds the others.
  const managing = must(scenario.people.find((p) => p.role === "manager") ?? null);
  const manager = must(await addPerson(db, managing, null, start));
  for (const person of scenario.people) {
    demo.people.push(person === managing ? manager : must(await addPerson(db, person, manager, start)));
  }
  const by = must(demo.people[0]);
  for (const { name, water, low, high, ec } of scenario.sites) {
    const site = {
      name,
      water,
      ph_low: low,
      ph_high: high,
      conductivity_low: ec[0],
      conductivity_high: ec[1],
      altitude_m: scenario.altitude,
    };
    demo.sites.push(must(await addSite(db, site, by, start)));
  }
  for (const { seed: _, installed, ...meter } of scenario.meters) {
    const installed_on = isoDay(today.add(installed, "day"));
    // No instrument follows the ticks of twelve weeks: the captures say what it gave.
    demo.meters[meter.code] = must(await addMeter(db, { ...meter, installed_on }, by, start, null));
  }
  for (const lot of scenario.lots) await addDemoLot(demo, lot, by);
  await occasionalChecks(demo, by);
}

async function addDemoLot(demo: Demo, lot: (typeof scenario.lots)[number], by: Person): Promise<void> {
  const { kind, material = "" } = lot;
  const { name, table } = certifiedTable(kind, material, null, {
    value_25: lot.value ?? Number.NaN,
    percent_per_c: 1.91,
  });
  const received = demo.today.add(lot.received, "day");
  demo.lots[lot.code] = must(
    await addLot(
      demo.db,
      {
        kind,
        code: lot.code,
        name,
        material,
        reference: null,
        uncertainty: lot.uncertainty,
        table,
        received_on: isoDay(received),
        opened_on: lot.opened === null ? null : isoDay(demo.today.add(lot.opened, "day")),
        expires_on: isoDay(demo.today.add(lot.expires, "day")),
        shelf_life_open_days: lot.shelf,
        bottle_ml: lot.bottle_ml ?? null,
        portion_ml: lot.portion_ml ?? null,
        withdrawn: null,
      },
      by,
      received.hour(9).toISOString(),
    ),
  );
}

/** Instruments that are looked at from time to time: thermometer, photometer, pipette; and what was done to them. */
async function occasionalChecks(demo: Demo, by: Person): Promise<void> {
  const day = demo.today.add(-5, "day");
  const pours = (list: Omit<Pour, "lost">[]): Pour[] => list;
  const room = 20.3;
  await runSession(demo, demo.today.add(-60, "day").hour(14), {
    meter: meterOf(demo, "T-1"),
    by,
    pours: pours([
      { measurand: "temperature", role: "check", lot: null },
      { measurand: "temperature", role: "check", lot: null },
    ]),
    capture: (_pour, i) =>
      typedCapture(
        [measured("temperature", { displayed: i === 0 ? 0.2 : 22.3, reference: i === 0 ? 0 : 22.1 })],
        i === 0 ? 0.2 : 22.3,
      ),
  });
  const photometer = switchedOn(23, ["absorbance"]);
  await runSession(demo, day.hour(10), {
    meter: meterOf(demo, "F-1"),
    by,
    pours: pours([
      { measurand: "absorbance", role: "blank", lot: null },
      { measurand: "absorbance", role: "check", lot: lotOf(demo, "A-030") },
      { measurand: "absorbance", role: "check", lot: lotOf(demo, "A-150") },
    ]),
    capture: (pour) => pourCapture(demo, photometer, pour, room),
  });
  const pipette = switchedOn(24, ["volume"]);
  await runSession(demo, day.hour(11), {
    meter: meterOf(demo, "V-1"),
    by,
    pours: [0, 1, 2].map(() => ({ measurand: "volume", role: "point", lot: null })),
    capture: (pour) => pourCapture(demo, { ...pipette, entered_s: 0 }, pour, room),
  });
  demo.counts.calibrations += 3;
  await recordService(
    demo.db,
    meterOf(demo, "M-1"),
    {
      kind: "cleaned",
      measurand: "conductivity",
      on_date: isoDay(demo.today.add(-20, "day")),
      code: "",
      note: "Lime on the electrodes; soaked in weak acid, gloves and glasses on, and rinsed.",
    },
    by,
    demo.today.add(-20, "day").hour(15).toISOString(),
  );
}

/** Whether a moment lies before the first bottle of buffer 10 was withdrawn. */
const firstBuffer10 = (at: dayjs.Dayjs, demo: Demo) => at.isBefore(demo.today.add(-31, "day"));

/** The next day on which somebody tests, counted as the days of the story are. */
function nextTestingDay(demo: Demo, day: number): number {
  let next = day + 1;
  while (!testingDays.includes(demo.today.add(next, "day").day())) next++;
  return next;
}

/** An instrument with one sensor's hidden numbers changed. */
function withTruth(
  instrument: Instrument,
  quantity: "ph" | "conductivity" | "oxygen",
  change: { offset?: number; gain?: number },
): Instrument {
  const channel = must(instrument.channels[quantity]);
  return {
    ...instrument,
    channels: { ...instrument.channels, [quantity]: { ...channel, truth: { ...channel.truth, ...change } } },
  };
}

/** P-2's probe is ageing: its slope falls a little faster each month. */
function ageing(day: number): Instrument {
  const share = (day + 7 * weeks) / (7 * weeks);
  return withTruth(switchedOn(42, ["ph"]), "ph", {
    gain: 0.985 - 0.02 * share - 0.008 * share ** 2,
    offset: -3.2 - 2.4 * share,
  });
}

/** M-1's oxygen membrane loses a little from week to week. */
function pondMeter(day: number): Instrument {
  const share = (day + 7 * weeks) / (7 * weeks);
  const fresh = switchedOn(57, ["conductivity", "ph", "oxygen"]);
  const gain = must(fresh.channels.oxygen).truth.gain;
  return withTruth(fresh, "oxygen", { gain: gain * (1 - 0.14 * share) });
}

const room = (demo: Demo) => 20.2 + 0.4 * gaussian(demo.random);

function weather(demo: Demo): Conditions {
  const pressure = Math.round((996 + 6 * gaussian(demo.random)) * 10) / 10;
  return {
    pressure_hpa: pressure,
    pressure_typed_hpa: pressure,
    pressure_kind: "station",
    altitude_m: scenario.altitude,
    salinity: 0,
    salinity_known: false,
  };
}

async function testingDay(demo: Demo, day: number, drifts: boolean): Promise<void> {
  const by = must(demo.people[day % 2 === 0 ? 0 : 1]);
  const begin = demo.today.add(day, "day").hour(7).minute(46);
  let clock = await phMorning(demo, day, begin, by);
  clock = await pondRound(demo, day, clock.add(5, "minute"), by, drifts);
  clock = await phReadings(demo, day, clock.add(10, "minute"), by);
  await calibrateByDisplay(demo, meterOf(demo, "P-1"), clock.add(15, "minute"), by);
}

/** The day from which more nitrate comes out of the South reed bed than goes in. */
const nitrateStepDay = -37;

/** Once a week nitrate is looked at along the water, with phosphate and oxygen of the bathing pond. */
async function nutrientRound(demo: Demo, day: number): Promise<void> {
  const by = must(demo.people[1]);
  const [basin, south, pond, outfall] = [1, 3, 4, 6];
  let clock = demo.today.add(day, "day").hour(13).minute(10);
  const run = async (method: string, index: number, size: number) => {
    const end = await runMethod(demo, clock, {
      method,
      site: must(demo.sites[index]),
      sample: sampleName(index, clock),
      by,
      temperature_c: 20,
      size,
    });
    clock = end.add(4, "minute");
    demo.counts.readings++;
  };
  for (const index of [basin, south, pond, outfall]) {
    const stepped = day >= nitrateStepDay && index >= south;
    await run("nitrate-tube", index, (stepped ? 3.1 : 0.7) * (1 + 0.12 * gaussian(demo.random)));
  }
  await run("phosphate-photometer", pond, Math.max(0.06, 0.24 + 0.05 * gaussian(demo.random)));
  await run("oxygen-drops", pond, Math.round(8 + gaussian(demo.random)));
}

/** The bottle of buffer 10 of a day; the first one takes up carbon dioxide from week to week. */
function buffer10On(demo: Demo, day: number) {
  const old10 = day < -31;
  return {
    old10,
    buffer10: lotOf(demo, old10 ? "B10-041" : "B10-055"),
    lost: old10 ? Math.max(0, (day + 50) / 18) * 0.07 : 0,
  };
}

/** P-2 is calibrated with 7 and 10 and checked with borate; the first bottle of buffer 10 goes bad meanwhile. */
async function phMorning(demo: Demo, day: number, begin: dayjs.Dayjs, by: Person): Promise<dayjs.Dayjs> {
  const { buffer10, lost, old10 } = buffer10On(demo, day);
  const warm = room(demo);
  const { end } = await runSession(demo, begin, {
    meter: meterOf(demo, "P-2"),
    by,
    pours: [
      { measurand: "ph", role: "point", lot: lotOf(demo, "B7-127") },
      { measurand: "ph", role: "point", lot: buffer10, lost },
      { measurand: "ph", role: "check", lot: lotOf(demo, "B9-017") },
    ],
    capture: (pour) => pourCapture(demo, ageing(day), pour, warm),
  });
  demo.counts.calibrations++;
  if (old10 && !buffer10On(demo, nextTestingDay(demo, day)).old10) {
    const reason = must(scenario.lots.find((l) => l.code === "B10-041")?.withdrawn).reason;
    const on = isoDay(demo.today.add(day, "day"));
    const since = isoDay(demo.today.add(-42, "day"));
    const at = end.add(2, "hour").toISOString();
    await changeLot(
      demo.db,
      buffer10.id,
      (lot) => ({ ...lot, withdrawn: { on, since, reason } }),
      by,
      at,
      reason,
    );
    const request = { kind: "lot" as const, subject_id: buffer10.id };
    const job = await confirmRejudging(demo.db, request, `lot ${buffer10.lot.code} was withdrawn`, by, at);
    await runRejudging(demo.db, job, at);
  }
  return end;
}

/** Every site's pH, and a closing check of the bench meter. */
async function phReadings(demo: Demo, day: number, begin: dayjs.Dayjs, by: Person): Promise<dayjs.Dayjs> {
  let clock = begin;
  const meter = meterOf(demo, "P-2");
  for (const [index, site] of demo.sites.entries()) {
    const water = waterOf(demo, index);
    clock = await takeReading(demo, clock.add(6, "minute"), {
      meter,
      by,
      site,
      name: sampleName(index, clock),
      capture: () => portionCapture(demo, ageing(day), ["ph"], water),
    });
    demo.counts.readings++;
  }
  const { end } = await runSession(demo, clock.add(20, "minute"), {
    meter,
    by,
    moment: "closing",
    pours: [{ measurand: "ph", role: "check", lot: lotOf(demo, "B7-127") }],
    capture: (pour) => pourCapture(demo, ageing(day), pour, room(demo)),
  });
  return end;
}

/**
 * M-1 goes round four waters. On one day its conductivity cell fouls and its pH wanders between morning and evening:
 * the closing check fails, and the readings are corrected.
 */
async function pondRound(
  demo: Demo,
  day: number,
  begin: dayjs.Dayjs,
  by: Person,
  drifts: boolean,
): Promise<dayjs.Dayjs> {
  const meter = meterOf(demo, "M-1");
  const { buffer10, lost } = buffer10On(demo, day);
  const morning = pondMeter(day);
  const conditions = weather(demo);
  const warm = room(demo);
  const zeroDay =
    [...Array(7 * weeks)].some((_, i) => i % 28 === 0 && -7 * weeks + i === day) ||
    day === -12 ||
    day === -13;
  const { end } = await runSession(demo, begin, {
    meter,
    by,
    conditions,
    pours: [
      { measurand: "conductivity", role: "blank", lot: null },
      { measurand: "conductivity", role: "point", lot: lotOf(demo, "K-718-09") },
      { measurand: "ph", role: "point", lot: lotOf(demo, "B7-127") },
      { measurand: "ph", role: "point", lot: buffer10, lost },
      { measurand: "ph", role: "check", lot: lotOf(demo, "B9-017") },
      ...(zeroDay ? [{ measurand: "oxygen", role: "zero", lot: lotOf(demo, "Z-31") } as const] : []),
      { measurand: "oxygen", role: "span", lot: null },
    ],
    capture: (pour) => pourCapture(demo, morning, pour, warm, conditions),
  });
  demo.counts.calibrations++;
  const started = end;
  const total = 90;
  let clock = end;
  for (const index of [0, 1, 4, 6]) {
    const water = { ...waterOf(demo, index), pressure_hpa: conditions.pressure_hpa };
    const share = drifts ? Math.min(1, clock.diff(started, "minute") / total) : 0;
    const site = must(demo.sites[index]);
    clock = await takeReading(demo, clock.add(12, "minute"), {
      meter,
      by,
      site,
      name: sampleName(index, clock),
      capture: () => portionCapture(demo, wandered(morning, share), ["conductivity", "ph", "oxygen"], water),
    });
    demo.counts.readings += 3;
  }
  const evening = wandered(morning, drifts ? 1 : 0);
  const check = await runSession(demo, clock.add(15, "minute"), {
    meter,
    by,
    conditions,
    moment: "closing",
    pours: [
      { measurand: "conductivity", role: "check", lot: lotOf(demo, "K-718-09") },
      { measurand: "ph", role: "check", lot: lotOf(demo, "B7-127") },
      { measurand: "oxygen", role: "span", lot: null },
    ],
    capture: (pour) => pourCapture(demo, evening, pour, warm, conditions),
  });
  if (drifts) {
    const at = check.end.add(4, "minute").toISOString();
    const request = { kind: "check" as const, subject_id: check.id };
    const job = await confirmRejudging(demo.db, request, "the check that followed failed", by, at);
    await runRejudging(demo.db, job, at);
  }
  return check.end;
}

/** A cell that fouls by 13 % and a reference that wanders by 16 mV, so far as they have come. */
function wandered(instrument: Instrument, share: number): Instrument {
  if (share === 0) return instrument;
  const cell = must(instrument.channels.conductivity).truth;
  const glass = must(instrument.channels.ph).truth;
  return withTruth(withTruth(instrument, "conductivity", { gain: cell.gain * (1 - 0.13 * share) }), "ph", {
    offset: glass.offset - 16 * share,
  });
}

const sampleName = (index: number, at: dayjs.Dayjs) =>
  `${must(scenario.sites[index]).code}-${at.format("MMDD")}`;

/** Today has begun on the bank with the pocket meter, if the day is old enough; the bench meter waits for you. */
async function thisMorning(demo: Demo, now: dayjs.Dayjs): Promise<void> {
  const begin = now.subtract(70, "minute");
  if (isoDay(begin) !== isoDay(now)) return;
  const meter = meterOf(demo, "P-1");
  const by = must(demo.people[0]);
  let clock = await calibrateByDisplay(demo, meter, begin, by);
  for (const index of [0, 1]) {
    const water = waterOf(demo, index);
    const shown = () => Math.round((water.ph + 0.015 * gaussian(demo.random)) * 100) / 100;
    clock = await takeReading(demo, clock.add(9, "minute"), {
      meter,
      by,
      site: must(demo.sites[index]),
      name: sampleName(index, clock),
      capture: () => typedCapture([measured("ph", { displayed: shown() })], water.temperature_c),
    });
    demo.counts.readings++;
  }
}

function waterOf(demo: Demo, index: number): Medium {
  const water = must(scenario.sites[index]);
  const [low, high] = water.ec;
  return mediumOf({
    label: water.name,
    kind: "sample",
    ph: water.ph + 0.09 * gaussian(demo.random),
    conductivity_25: (low + high) / 2 + ((high - low) / 8) * gaussian(demo.random),
    percent_per_c: null,
    oxygen_share: water.oxygen + 0.03 * gaussian(demo.random),
    temperature_c: Math.round((water.temperature_c + 0.8 * gaussian(demo.random)) * 10) / 10,
  });
}

/** A bad day: the old probe fails, the training meter's buffers are swapped, an expired lot is used, a reading falls outside. */
async function badDay(demo: Demo, day: number): Promise<void> {
  const by = must(demo.people[1]);
  const aged = withTruth(switchedOn(73, ["ph"], [usualFault("aged-glass")]), "ph", { gain: 0.985 });
  const warm = room(demo);
  const { end } = await runSession(demo, demo.today.add(day, "day").hour(13).minute(20), {
    meter: meterOf(demo, "P-3"),
    by,
    pours: [
      {
        measurand: "ph",
        role: "point",
        lot: lotOf(demo, "B7-098"),
        reason: "The good bottle was out at the bathing pond.",
      },
      { measurand: "ph", role: "point", lot: lotOf(demo, "B4-118") },
      { measurand: "ph", role: "check", lot: lotOf(demo, "B9-017") },
    ],
    capture: (pour) => pourCapture(demo, aged, pour, warm),
  });
  const outside = mediumOf({ label: "Bathing pond", kind: "sample", ph: 8.9, temperature_c: 15.1 });
  const clock = await takeReading(demo, end.add(8, "minute"), {
    meter: meterOf(demo, "P-3"),
    by,
    site: must(demo.sites[4]),
    name: sampleName(4, end),
    capture: () => portionCapture(demo, aged, ["ph"], outside),
  });
  demo.counts.readings++;
  const training = switchedOn(91, ["ph"]);
  await runSession(demo, clock.add(10, "minute"), {
    meter: meterOf(demo, "P-4"),
    by,
    pours: [
      { measurand: "ph", role: "point", lot: lotOf(demo, "B7-127"), really: lotOf(demo, "B4-118") },
      { measurand: "ph", role: "point", lot: lotOf(demo, "B4-118"), really: lotOf(demo, "B7-127") },
      { measurand: "ph", role: "check", lot: lotOf(demo, "B9-017") },
    ],
    capture: (pour) => pourCapture(demo, training, pour, warm),
  });
  demo.counts.calibrations += 2;
}

/** The pocket meter shows only pH: read, adjusted, read again. */
async function calibrateByDisplay(
  demo: Demo,
  meter: Meter,
  begin: dayjs.Dayjs,
  by: Person,
): Promise<dayjs.Dayjs> {
  const codes = ["B7-127", firstBuffer10(begin, demo) ? "B10-041" : "B10-055", "B9-017"];
  const { end } = await runSession(demo, begin, {
    meter,
    by,
    pours: codes.map((code, i) => ({
      measurand: "ph",
      role: i < 2 ? "point" : "check",
      lot: lotOf(demo, code),
    })),
    capture: ({ role, lot }) => {
      const truth = certifiedValue(must(lot).lot.table, 20);
      const ph = truth.ok ? truth.value : 7;
      const error =
        role === "point" ? (ph - 7) * -0.008 + 0.03 * gaussian(demo.random) : 0.012 * gaussian(demo.random);
      const shown = (value: number) => Math.round(value * 100) / 100;
      return typedCapture(
        [measured("ph", { displayed: shown(ph + error), adjusted: role === "point" ? shown(ph) : null })],
        20,
      );
    },
  });
  demo.counts.calibrations++;
  return end;
}

/** Puts the simulated instruments on the bench as the story has them today. */
async function setTheBench(demo: Demo, now: string): Promise<void> {
  const { db } = demo;
  for (const { code, has_cable, seed: meterSeed, channels } of scenario.meters) {
    const quantities = channels.map((c) => c.measurand);
    if (has_cable) await connectDevice(db, meterOf(demo, code).id, meterSeed, quantities, now);
  }
  const faulty = (meterSeed: number, fault: Parameters<typeof usualFault>[0]) =>
    switchedOn(meterSeed, ["ph"], [usualFault(fault)]);
  await setInstrument(db, meterOf(demo, "P-2").id, ageing(0), now);
  await setInstrument(db, meterOf(demo, "P-3").id, faulty(73, "aged-glass"), now);
  await setInstrument(db, meterOf(demo, "P-4").id, faulty(91, "swapped-buffers"), now);
  await setInstrument(db, meterOf(demo, "M-1").id, pondMeter(0), now);
}
