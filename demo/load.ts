import dayjs from "dayjs";
import type { Knex } from "knex";
import { monotonicFactory } from "ulid";
import { makeKey } from "../app/server/people/keys.server";
import { seededRandom } from "../core/quantity/random";
import { usualFault } from "../core/simulation/fault";
import { switchedOn } from "../core/simulation/instrument";
import { mediumOf } from "../core/simulation/medium";
import { type Hands, portionCapture, pourCapture, runSession, takeReading } from "./bench";
import { controlMorning, phosphateChecks } from "./checks";
import { broughtThisMorning, sentToLaboratory } from "./custody";
import { calibrateByDisplay, nutrientRound, shownOf, testingDay } from "./days";
import { withTruth } from "./instruments";
import { oldNotebook } from "./notebook";
import { farFromTheNet } from "./outOfReach";
import { prepareSolutions } from "./preparations";
import { deliveryNote, reviewBefore, slipOfThePen } from "./reviews";
import { nextRound, walkedUp } from "./rounds";
import { setTheBench, setTheScene } from "./scene";
import { hurriedDay } from "./slips";
import { keepSolutions } from "./solutions";
import {
  type Counts,
  type Demo,
  driftDay,
  isoDay,
  lotOf,
  meterOf,
  must,
  nextTestingDay,
  room,
  sampleName,
  seed,
  testingDays,
  waterOf,
  weeks,
} from "./story";
import { studies } from "./studies";
import { boreholeVisit, discDay, pondVisit } from "./visits";

/** Generates twelve weeks of Ellerwick Ponds with the core's own simulation, through the same doors a user uses. */
export async function loadDemo(db: Knex, now: Date): Promise<Counts> {
  const demo: Demo = {
    ...handsWith(db, seed),
    today: dayjs(now).startOf("day"),
    people: [],
    sites: [],
    meters: {},
    lots: {},
    supplies: [],
    counts: { calibrations: 0, readings: 0 },
  };
  await setTheScene(demo);
  // What stands beside the bench draws its own chances: what the bench measures does not depend on it.
  const visiting = handsWith(db, seed + 1);
  const making = handsWith(db, seed + 2);
  const checking = handsWith(db, seed + 3);
  const looking = handsWith(db, seed + 4);
  const erring = handsWith(db, seed + 5);
  const calling = handsWith(db, seed + 6);
  let drifted = false;
  for (let day = -7 * weeks; day < 0; day++) {
    const date = demo.today.add(day, "day");
    await reviewBefore(demo, day);
    await slipOfThePen(demo, day);
    await deliveryNote(demo, day);
    if (day === -7 * weeks + 2) await oldNotebook(demo, date.hour(16).toISOString());
    if (day === -20) await noticeBoard(demo, date.hour(15).toISOString());
    await prepareSolutions(demo, making, day, erring);
    if (day === -13) await keepSolutions(demo, making, date.hour(14).minute(30).toISOString());
    await studies(demo, looking, day);
    if (!testingDays.includes(date.day())) continue;
    const drifts: boolean = !drifted && day >= driftDay;
    drifted ||= drifts;
    await testingDay(demo, day, drifts, () => controlMorning(demo, checking, day));
    if (date.day() === 3) {
      await nutrientRound(demo, day);
      await phosphateChecks(demo, checking, day);
    }
    await hurriedDay(demo, erring, day);
    await farFromTheNet(demo, calling, day);
    await visits(demo, visiting, day);
    if (day >= -7 && date.day() === 3) await badDay(demo, day);
  }
  await thisMorning(demo, dayjs(now));
  await broughtThisMorning(demo, visiting, dayjs(now));
  await nextRound(demo, visiting, nextTestingDay(demo, 0), now.toISOString());
  await setTheBench(demo, now.toISOString());
  return demo.counts;
}

/** Hands with chances of their own. */
function handsWith(db: Knex, own: number): Hands {
  const random = seededRandom(own);
  const makeUlid = monotonicFactory(random);
  return { db, random, id: (at) => makeUlid(Date.parse(at)) };
}

/** The wardens' notice board shows the newest results: it reads with a key of its own, which nobody keeps. */
const noticeBoard = (demo: Demo, at: string): Promise<string> =>
  makeKey(demo.db, "the wardens' notice board", must(demo.people[3]), at);

/** Who was where: the borehole on Wednesdays, the pond on Fridays, and the disc three times on one of them. */
async function visits(demo: Demo, hands: Hands, day: number): Promise<void> {
  const weekday = demo.today.add(day, "day").day();
  const week = Math.floor((day + 7 * weeks) / 7);
  if (weekday === 3 && week % 2 === 0) {
    const sent = week === 2 || week === 8;
    const visit = await boreholeVisit(demo, hands, day, week, sent);
    if (sent) await sentToLaboratory(demo, hands, visit, week);
  }
  if (weekday === 1 && week === 9) await walkedUp(demo, hands, day);
  if (weekday === 5) await (week === 7 ? discDay(demo, hands, day) : pondVisit(demo, hands, day, week));
}

/** Today has begun on the bank with the pocket meter, if the day is old enough; the bench meter waits for you. */
async function thisMorning(demo: Demo, now: dayjs.Dayjs): Promise<void> {
  const begin = now.subtract(70, "minute");
  if (isoDay(begin) !== isoDay(now)) return;
  const meter = meterOf(demo, "P-1");
  const by = must(demo.people[0]);
  let clock = await calibrateByDisplay(demo, meter, begin, by);
  for (const index of [0, 1]) {
    const water = waterOf(demo, index);
    clock = await takeReading(demo, clock.add(9, "minute"), {
      meter,
      by,
      site: must(demo.sites[index]),
      name: sampleName(index, clock),
      capture: () => shownOf(demo, water),
    });
    demo.counts.readings++;
  }
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
