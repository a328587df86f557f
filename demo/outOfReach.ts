import { beginSession, type Hands, takeReading } from "./bench";
import { byDisplay, shownOf } from "./days";
import { type Demo, meterOf, must, sampleName, waterOf } from "./story";

/** The week, by its first day, on whose Monday the network by the outfall was down. */
const week = -24;
const outfall = 6;

/**
 * Noor calibrates the pocket meter by the outfall, on a tablet that reaches nobody there. Idris reads with it at once, on one that does: his
 * reading rests on the calibration of the morning, until her tablet comes home and what it kept is known.
 */
export async function farFromTheNet(demo: Demo, hands: Hands, day: number): Promise<void> {
  const date = demo.today.add(day, "day");
  if (date.day() !== 1 || day < week || day >= week + 7) return;
  const [noor, idris] = demo.people;
  const meter = meterOf(demo, "P-1");
  const begin = date.hour(15).minute(5);
  const { end, send } = await beginSession(hands, begin, byDisplay(demo, hands, meter, begin, must(noor)));
  const water = waterOf({ ...demo, ...hands }, outfall);
  const read = await takeReading(hands, end.add(6, "minute"), {
    meter,
    by: must(idris),
    site: must(demo.sites[outfall]),
    name: `${sampleName(outfall, end)}b`,
    capture: () => shownOf(hands, water),
  });
  await send(read.add(95, "minute"));
  demo.counts.calibrations++;
  demo.counts.readings++;
}
