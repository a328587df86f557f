import type { Knex } from "knex";
import { monotonicFactory, ulid } from "ulid";
import type { Capture } from "../../../core/bench/capture";
import { measured } from "../../../core/bench/measured";
import type { Subject } from "../../../core/bench/subject";
import type { Conditions } from "../../../core/calibration/planned";
import type { Measurand } from "../../../core/quantity/measurand";
import { defaultHouseRules, type HouseRules } from "../../../core/rules/houseRules";
import { certifiedTable } from "../../../core/stock/certificates";
import type { StandardKind, StandardLot } from "../../../core/stock/standard";
import { channel } from "../../../core/testing/standards";
import { postEvents } from "../bench/bench.server";
import type { CheckMoment } from "../calibrations/checks.server";
import { type ChosenStation, startCalibration, startReading } from "../calibrations/startWork.server";
import { addMeter, type Meter, type NewMeter } from "../meters/meters.server";
import { addPerson, type Person } from "../people/people.server";
import { openDatabase } from "../platform/engine.server";
import { writeFirstRules } from "../rules/rules.server";
import { addSite, type Site } from "../sites/sites.server";
import { addLot } from "../stock/lots.server";
import type { StoredStandard } from "../stock/standards.server";
import { openBegun } from "./testDatabase";

/** A small bench in memory for tests: one person, one site, a pH meter, a pond meter, and their bottles. */
export interface TestBench {
  db: Knex;
  person: Person;
  site: Site;
  /** Shows mV. */
  meter: Meter;
  /** Conductivity, pH and oxygen on one cable. */
  pond: Meter;
  /** Buffers 7, 10 and borate. */
  lots: StoredStandard[];
  /** A conductivity standard of 718 µS/cm. */
  standard: StoredStandard;
  zero: StoredStandard;
}

export const testNow = "2026-04-12T08:00:00.000Z";
const must = <T>(value: T | null): T => {
  if (value === null) throw new Error("The test bench could not be set up.");
  return value;
};

/** A lot of a kind as tests register it: in date, opened. */
export function testLot(
  kind: StandardKind,
  material: string,
  value: number,
  change: Partial<StandardLot> = {},
): StandardLot {
  const { name, table } = certifiedTable(kind, material, null, { value_25: value, percent_per_c: 1.91 });
  return {
    kind,
    code: `L-${material || value}`,
    name,
    material,
    reference: null,
    uncertainty: 0.01,
    table,
    received_on: "2026-01-01",
    opened_on: "2026-04-01",
    expires_on: "2027-01-01",
    shelf_life_open_days: 90,
    size: null,
    portion: null,
    unit: "mL",
    place: "",
    hazards: [],
    withdrawn: null,
    discarded: null,
    ...change,
  };
}

/** A meter as a form would describe it. */
export function testMeter(code: string, quantities: Measurand[], change: Partial<NewMeter> = {}): NewMeter {
  const channels = quantities.map((m) => {
    const { sensor_id: _id, sensor_since: _since, ...rest } = channel(m);
    return rest;
  });
  return {
    code,
    name: `Meter ${code}`,
    place: "bench",
    has_cable: true,
    channels,
    installed_on: "2025-05-01",
    ...change,
  };
}

/** Lays out a bench in an empty database. */
async function layOut(db: Knex, data: HouseRules["data"]): Promise<Omit<TestBench, "db">> {
  // As in the demo: what ships and what is simulated stands for real kits and instruments.
  await writeFirstRules(db, { ...defaultHouseRules, data }, testNow);
  const person = must(await addPerson(db, { name: "Noor", role: "manager" }, null, testNow));
  const water = {
    name: "Bathing pond",
    water: "pond",
    ph_low: 7.4,
    ph_high: 8.6,
    conductivity_low: 400,
    conductivity_high: 800,
    altitude_m: 148,
  };
  const site = must(await addSite(db, water, person, testNow));
  const meter = must(await addMeter(db, testMeter("P-2", ["ph"]), person, testNow, 7));
  const pond = must(
    await addMeter(db, testMeter("M-1", ["conductivity", "ph", "oxygen"]), person, testNow, 9),
  );
  const lots: StoredStandard[] = [];
  for (const id of ["technical-7", "technical-10", "borate"]) {
    lots.push(must(await addLot(db, testLot("ph-buffer", id, Number.NaN), person, testNow)));
  }
  const standard = must(await addLot(db, testLot("conductivity-standard", "", 718), person, testNow));
  const zero = must(await addLot(db, testLot("zero-oxygen", "", 0), person, testNow));
  return { person, site, meter, pond, lots, standard, zero };
}

/** What happened at a bench before a test begins, under a name: done once, however many tests begin with it. */
export interface Past {
  name: string;
  happen(bench: TestBench): Promise<void>;
}

/** A bench in a database of its own, or in a file; with a past where one is told. */
export async function openTestBench(
  file: string | null = null,
  data: HouseRules["data"] = "demo",
  past?: Past,
): Promise<TestBench> {
  if (file) {
    const db = await openDatabase(file);
    return { db, ...(await layOut(db, data)) };
  }
  const { db, made } = await openBegun({
    name: `bench, ${data}, ${past?.name}`,
    make: async (empty) => {
      const bench = await layOut(empty, data);
      await past?.happen({ db: empty, ...bench });
      return bench;
    },
  });
  return { db, ...made };
}

/** A steady live capture of signals, by measurand. */
export const liveSignals = (signals: Partial<Record<Measurand, number>>, temperature_c = 25): Capture => ({
  source: "live",
  values: Object.entries(signals).map(([m, signal]) =>
    measured(m as Measurand, { signal, scatter: 0, per_min: 0.001 }),
  ),
  temperature_c,
  steady: true,
  seconds_in_solution: 60,
});

export const liveCapture = (mv: number, temperature_c = 25): Capture =>
  liveSignals({ ph: mv }, temperature_c);

/** Ids of one browser rise. */
const nextId = monotonicFactory();
const stamp = (bench: TestBench, at = testNow) => ({ id: nextId(), at, by: bench.person.id });

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

const newStart = (bench: TestBench, at: string) => ({
  work_id: ulid(),
  event_id: ulid(),
  actor: bench.person,
  at,
});

export async function beginCalibration(bench: TestBench, at = testNow): Promise<string> {
  const start = newStart(bench, at);
  const chosen = bench.lots.map(
    (stored, i): ChosenStation => ({
      measurand: "ph",
      role: i < 2 ? "point" : "check",
      stored,
      reason: null,
    }),
  );
  await startCalibration(bench.db, start, bench.meter, chosen, { conditions: null });
  return start.work_id;
}

export async function beginReading(
  bench: TestBench,
  sample = "BP-0412",
  at = testNow,
  meter = bench.meter,
  subject: Subject = { kind: "sample" },
): Promise<string> {
  const start = newStart(bench, at);
  await startReading(bench.db, start, meter, bench.site, { sample, subject });
  return start.work_id;
}

const testConditions: Conditions = {
  pressure_hpa: 1000,
  pressure_typed_hpa: 1000,
  pressure_kind: "station",
  altitude_m: 148,
  salinity: 0,
  salinity_known: false,
};

async function finish(bench: TestBench, id: string, captures: Capture[], at: string): Promise<string> {
  const posted = await postEvents(bench.db, bench.person, id, wholeRun(bench, captures, at), at);
  if (posted.refused) throw new Error(posted.refused.message);
  return id;
}

/** A calibration of the pH meter with a perfect electrode, finished. */
export const calibratedPh = async (bench: TestBench, at = testNow): Promise<string> =>
  finish(
    bench,
    await beginCalibration(bench, at),
    [liveCapture(0), liveCapture(-178.1), liveCapture(-128.97)],
    at,
  );

const pondSteps = (bench: TestBench, check: boolean): ChosenStation[] => {
  const [seven = null, ten = null, borate = null] = bench.lots;
  const step = (
    measurand: Measurand,
    role: ChosenStation["role"],
    stored: StoredStandard | null,
  ): ChosenStation => ({
    measurand,
    role,
    stored,
    reason: null,
  });
  return check
    ? [
        step("conductivity", "check", bench.standard),
        step("ph", "check", seven),
        step("oxygen", "span", null),
      ]
    : [
        step("conductivity", "blank", null),
        step("conductivity", "point", bench.standard),
        step("ph", "point", seven),
        step("ph", "point", ten),
        step("ph", "check", borate),
        step("oxygen", "zero", bench.zero),
        step("oxygen", "span", null),
      ];
};

/** A calibration of the pond meter with perfect sensors, finished. Air gives 90 nA, the standard what is said. */
export async function calibratedPond(bench: TestBench, at = testNow, conductivity = 718): Promise<string> {
  const start = newStart(bench, at);
  await startCalibration(bench.db, start, bench.pond, pondSteps(bench, false), {
    conditions: testConditions,
  });
  const captures = [
    liveSignals({ conductivity: 0.8 }),
    liveSignals({ conductivity }),
    liveCapture(0),
    liveCapture(-178.1),
    liveCapture(-128.97),
    liveSignals({ oxygen: 0.5 }),
    liveSignals({ oxygen: 90 }),
  ];
  return finish(bench, start.work_id, captures, at);
}

/** A check of the pond meter that reads what is given, finished. */
export async function checkedPond(
  bench: TestBench,
  signals: { conductivity: number; ph: number; oxygen: number },
  at: string,
  moment: CheckMoment = "closing",
): Promise<string> {
  const start = newStart(bench, at);
  await startCalibration(bench.db, start, bench.pond, pondSteps(bench, true), {
    conditions: testConditions,
    moment,
  });
  const { conductivity, ph, oxygen } = signals;
  return finish(
    bench,
    start.work_id,
    [liveSignals({ conductivity }), liveSignals({ ph }), liveSignals({ oxygen })],
    at,
  );
}

/** A reading of the pond meter in duplicate, finished. */
export async function pondReading(
  bench: TestBench,
  signals: Partial<Record<Measurand, number>>,
  at: string,
  sample = "BP-0412",
): Promise<string> {
  const id = await beginReading(bench, sample, at, bench.pond);
  return finish(bench, id, [liveSignals(signals), liveSignals(signals)], at);
}

/** A reading of the pH meter in duplicate, finished. */
export const phReading = async (
  bench: TestBench,
  mv: number,
  at = testNow,
  sample = "BP-0412",
  subject: Subject = { kind: "sample" },
): Promise<string> =>
  finish(
    bench,
    await beginReading(bench, sample, at, bench.meter, subject),
    [liveCapture(mv), liveCapture(mv)],
    at,
  );
