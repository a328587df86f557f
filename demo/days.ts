import type dayjs from "dayjs";
import type { Meter } from "../app/server/meters/meters.server";
import type { Person } from "../app/server/people/people.server";
import { confirmRejudging } from "../app/server/results/rejudge.server";
import { runRejudging } from "../app/server/results/rejudgeRun.server";
import { changeLot } from "../app/server/stock/lots.server";
import type { Capture } from "../core/bench/capture";
import { measured } from "../core/bench/measured";
import { gaussian } from "../core/quantity/random";
import { certifiedValue } from "../core/reference/certificate";
import type { Medium } from "../core/simulation/medium";
import { runMethod } from "./analyses";
import {
  type Hands,
  portionCapture,
  pourCapture,
  runSession,
  type Session,
  takeReading,
  typedCapture,
} from "./bench";
import { ageing, pondMeter, wandered } from "./instruments";
import * as scenario from "./scenario";
import {
  type Demo,
  firstBuffer10,
  isoDay,
  lotOf,
  meterOf,
  must,
  nextTestingDay,
  nitrateOf,
  room,
  sampleName,
  waterOf,
  weather,
  weeks,
} from "./story";

export async function testingDay(
  demo: Demo,
  day: number,
  drifts: boolean,
  control: () => Promise<void>,
): Promise<void> {
  const by = must(demo.people[day % 2 === 0 ? 0 : 1]);
  const begin = demo.today.add(day, "day").hour(7).minute(46);
  let clock = await phMorning(demo, day, begin, by);
  await control();
  clock = await pondRound(demo, day, clock.add(5, "minute"), by, drifts);
  clock = await phReadings(demo, day, clock.add(10, "minute"), by);
  await calibrateByDisplay(demo, meterOf(demo, "P-1"), clock.add(15, "minute"), by);
}

/** Once a week nitrate is looked at along the water, with phosphate and oxygen of the bathing pond. */
export async function nutrientRound(demo: Demo, day: number): Promise<void> {
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
    await run("nitrate-tube", index, nitrateOf(demo, day, index));
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

/** The pocket meter shows only pH: read, adjusted, read again. */
export function byDisplay(
  demo: Demo,
  { random }: Hands,
  meter: Meter,
  begin: dayjs.Dayjs,
  by: Person,
): Session {
  const codes = ["B7-127", firstBuffer10(begin, demo) ? "B10-041" : "B10-055", "B9-017"];
  return {
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
      const error = role === "point" ? (ph - 7) * -0.008 + 0.03 * gaussian(random) : 0.012 * gaussian(random);
      const shown = (value: number) => Math.round(value * 100) / 100;
      return typedCapture(
        [measured("ph", { displayed: shown(ph + error), adjusted: role === "point" ? shown(ph) : null })],
        20,
      );
    },
  };
}

export async function calibrateByDisplay(
  demo: Demo,
  meter: Meter,
  begin: dayjs.Dayjs,
  by: Person,
): Promise<dayjs.Dayjs> {
  const { end } = await runSession(demo, begin, byDisplay(demo, demo, meter, begin, by));
  demo.counts.calibrations++;
  return end;
}

/** What the display of the pocket meter is read at in a water. */
export function shownOf({ random }: Hands, water: Medium): Capture {
  const displayed = Math.round((water.ph + 0.015 * gaussian(random)) * 100) / 100;
  return typedCapture([measured("ph", { displayed })], water.temperature_c);
}
