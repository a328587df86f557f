import type dayjs from "dayjs";
import { closeAction, openActions } from "../app/server/quality/actions.server";
import { chartPoints, setLimits } from "../app/server/quality/charts.server";
import { gaussian } from "../core/quantity/random";
import { mediumOf } from "../core/simulation/medium";
import { runMethod } from "./analyses";
import { type Hands, portionCapture, takeReading } from "./bench";
import { ageing } from "./instruments";
import { type Demo, firstBuffer10, meterOf, must, room, weeks } from "./story";

/** Pond water of the first day, filtered and kept cool: the pond's own control of pH. */
const ownControl = { code: "OC-8", ph: 8.42, conductivity_25: 520 };
/** So many first results are its study. */
const study = 8;
const key = {
  code: ownControl.code,
  parameter: "ph",
  analyte: "pH",
};
/** The week in which a vial was washed with the wrong soap. */
const soapyWeek = 5;
/** The weeks in which phosphate is added to the pond's sample. */
const spikedWeeks = new Set([2, 5, 8, 10]);

/** Own control of the pH meter, right after its calibration. Where the buffer is off, it shows. */
export async function controlMorning(demo: Demo, hands: Hands, day: number): Promise<void> {
  const by = must(demo.people[day % 2 === 0 ? 0 : 1]);
  const begin = demo.today.add(day, "day").hour(8).minute(22);
  if (!firstBuffer10(begin, demo)) await causeFound(demo, begin);
  const meter = meterOf(demo, "P-2");
  const [site] = demo.sites.slice(4);
  const water = mediumOf({
    label: ownControl.code,
    kind: "sample",
    ph: ownControl.ph,
    conductivity_25: ownControl.conductivity_25,
    percent_per_c: null,
    oxygen_share: 0.9,
    temperature_c: room({ ...demo, random: hands.random }),
  });
  const end = await takeReading(hands, begin, {
    meter,
    by,
    site: must(site),
    name: ownControl.code,
    subject: { kind: "control", code: ownControl.code, lot_id: null, expected: null, uncertainty: null },
    capture: () => portionCapture(hands, ageing(day), ["ph"], water),
  });
  demo.counts.readings++;
  const chart = { ...key, instrument_id: meter.id };
  const points = await chartPoints(demo.db, chart);
  if (points.length === study)
    await setLimits(
      demo.db,
      chart,
      { study: points.map((p) => p.id), method: "study", reason: "study of the first eight" },
      by,
      end.add(5, "minute").toISOString(),
    );
}

/** Once the bad buffer is found, what it did to the control has its cause. */
async function causeFound(demo: Demo, at: dayjs.Dayjs): Promise<void> {
  const by = must(demo.people[0]);
  for (const action of await openActions(demo.db))
    if (action.subject_code === ownControl.code)
      await closeAction(
        demo.db,
        action.id,
        {
          cause: "buffer 10, bottle B10-041, had taken up carbon dioxide",
          done: "a new bottle opened, the meter calibrated again",
        },
        by,
        at.toISOString(),
      );
}

/** With the phosphate of the week a blank, and now and then a spike of the pond's own water. */
export async function phosphateChecks(demo: Demo, hands: Hands, day: number): Promise<void> {
  const by = must(demo.people[1]);
  const week = Math.floor((day + 7 * weeks) / 7);
  const site = must(demo.sites[4]);
  let clock = demo.today.add(day, "day").hour(16).minute(20);
  const run = { method: "phosphate-photometer", site, by, temperature_c: 20 };
  const soapy = week === soapyWeek;
  const blank = { ...run, sample: "pure water", subject: { kind: "blank", of: "reagent" } } as const;
  clock = await runMethod({ ...demo, id: hands.id }, clock, { ...blank, size: soapy ? 0.19 : 0 });
  demo.counts.readings++;
  if (soapy) {
    const [action] = (await openActions(demo.db)).filter((a) => a.kind === "blank");
    clock = await runMethod({ ...demo, id: hands.id }, clock.add(20, "minute"), { ...blank, size: 0 });
    demo.counts.readings++;
    await closeAction(
      demo.db,
      must(action).id,
      {
        cause: "vials washed with a soap that holds phosphate",
        done: "vials rinsed with acid and pure water, blank repeated",
      },
      by,
      clock.add(4, "minute").toISOString(),
    );
  }
  if (!spikedWeeks.has(week)) return;
  const unspiked: { id: string; value: number; sample: string } | undefined = await demo
    .db("readings")
    .where({ instrument_id: run.method, kind: "sample" })
    .whereNotNull("value")
    .orderBy("measured_at", "desc")
    .first("id", "value", "sample");
  const { id, value, sample } = must(unspiked);
  const [sample_ml, spike_ml, strength] = [10, 0.1, 50];
  const recovered = 0.97 + 0.03 * gaussian(hands.random);
  const size = (value * sample_ml + recovered * spike_ml * strength) / (sample_ml + spike_ml);
  await runMethod({ ...demo, id: hands.id }, clock.add(15, "minute"), {
    ...run,
    sample,
    size,
    subject: { kind: "spike", code: "PS-50P", lot_id: null, unspiked_id: id, sample_ml, spike_ml, strength },
  });
  demo.counts.readings++;
}
