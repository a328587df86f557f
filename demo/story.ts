import type dayjs from "dayjs";
import type { Meter } from "../app/server/meters/meters.server";
import type { Person } from "../app/server/people/people.server";
import type { Site } from "../app/server/sites/sites.server";
import type { StoredLot } from "../app/server/stock/lots.server";
import type { StoredStandard } from "../app/server/stock/standards.server";
import type { Conditions } from "../core/calibration/planned";
import { gaussian } from "../core/quantity/random";
import { type Medium, mediumOf } from "../core/simulation/medium";
import type { SupplyLot } from "../core/stock/supply";
import type { Hands } from "./bench";
import * as scenario from "./scenario";

export const seed = 20260412;
export const weeks = 12;
/** Days of the week on which the ponds are tested: Monday, Wednesday, Friday. */
export const testingDays = [1, 3, 5];
/** The day of the failed closing check: the last testing day that lies at least so many days back. */
export const driftDay = -9;

export interface Counts {
  calibrations: number;
  readings: number;
}

export interface Demo extends Hands {
  today: dayjs.Dayjs;
  people: Person[];
  sites: Site[];
  meters: Record<string, Meter>;
  lots: Record<string, StoredStandard>;
  /** What is on the shelf besides standards. */
  supplies: StoredLot<SupplyLot>[];
  counts: Counts;
}

export const isoDay = (day: dayjs.Dayjs) => day.format("YYYY-MM-DD");
export const must = <T>(value: T | null | undefined): T => {
  if (value == null) throw new Error("The demo data contradict themselves.");
  return value;
};
export const lotOf = (demo: Demo, code: string) => must(demo.lots[code]);
export const meterOf = (demo: Demo, code: string) => must(demo.meters[code]);

/** Whether a moment lies before the first bottle of buffer 10 was withdrawn. */
export const firstBuffer10 = (at: dayjs.Dayjs, demo: Demo) => at.isBefore(demo.today.add(-31, "day"));

/** The next day on which somebody tests, counted as the days of the story are. */
export function nextTestingDay(demo: Demo, day: number): number {
  let next = day + 1;
  while (!testingDays.includes(demo.today.add(next, "day").day())) next++;
  return next;
}

export const room = (demo: Demo) => 20.2 + 0.4 * gaussian(demo.random);

export function weather(demo: Demo): Conditions {
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

/** The day from which more nitrate comes out of the South reed bed than goes in. */
const nitrateStepDay = -37;
const southReedBed = 3;

/**
 * Nitrate nitrogen of a water on a day, mg/L. What it varies by stays between two colours of the tube, so that the step is there
 * whatever the day the story is told on.
 */
export function nitrateOf({ random }: Pick<Hands, "random">, day: number, index: number): number {
  const stepped = day >= nitrateStepDay && index >= southReedBed;
  return (stepped ? 3.1 : 0.7) * (1 + 0.12 * Math.max(-2, Math.min(2, gaussian(random))));
}

export const sampleName = (index: number, at: dayjs.Dayjs) =>
  `${must(scenario.sites[index]).code}-${at.format("MMDD")}`;

export function waterOf(demo: Demo, index: number): Medium {
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
