import { keepDetectionLimit } from "../app/server/quality/detection.server";
import { gaussian } from "../core/quantity/random";
import { runMethod } from "./analyses";
import type { Hands } from "./bench";
import { type Demo, must, nitrateOf, sampleName, weeks } from "./story";

/** A low standard of phosphate, measured again and again on one afternoon to see what the photometer can tell from nothing. */
const low = { code: "LC-1", phosphate: 0.12, day: -23, replicates: 8 };
/** From this week on a colour is looked at by a second person too. */
const firstLooks = 3;

/** What is found out about the bench itself: how two people see one colour, and what the photometer can tell from nothing. */
export async function studies(demo: Demo, hands: Hands, day: number): Promise<void> {
  const by = must(demo.people[1]);
  const own = { ...demo, id: hands.id };
  const site = must(demo.sites[3]);
  if (day === low.day) {
    let clock = demo.today.add(day, "day").hour(18).minute(5);
    for (let i = 0; i < low.replicates; i++) {
      clock = await runMethod(own, clock.add(2, "minute"), {
        method: "phosphate-photometer",
        site,
        sample: low.code,
        by,
        temperature_c: 20,
        size: low.phosphate + 0.013 * gaussian(hands.random),
        subject: { kind: "control", code: low.code, lot_id: null, expected: null, uncertainty: null },
      });
      demo.counts.readings++;
    }
    const key = {
      code: low.code,
      parameter: "phosphate",
      analyte: "Phosphate as PO4",
      instrument_id: "phosphate-photometer",
    };
    const refused = await keepDetectionLimit(
      demo.db,
      key,
      low.replicates,
      by,
      clock.add(3, "minute").toISOString(),
    );
    if (refused) throw new Error(refused);
  }
  const date = demo.today.add(day, "day");
  const week = Math.floor((day + 7 * weeks) / 7);
  if (date.day() !== 3 || week < firstLooks) return;
  // One of the two sees the tubes a step more, most of the time.
  const helping = must(demo.people[2]);
  const begin = date.hour(15).minute(2);
  await runMethod(own, begin, {
    method: "nitrate-tube",
    site,
    sample: sampleName(3, begin),
    by,
    temperature_c: 20,
    size: nitrateOf(hands, day, 3),
    second: { observer: helping.name, more: () => (hands.random() < 0.75 ? 1 : 0) },
  });
  demo.counts.readings++;
}
