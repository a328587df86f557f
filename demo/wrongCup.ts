import { takeOut } from "../app/server/calibrations/takeOut.server";
import { runRejudging } from "../app/server/results/rejudgeRun.server";
import { type Hands, pourCapture, runSession } from "./bench";
import { ageing } from "./instruments";
import { type Demo, lotOf, meterOf, must } from "./story";

/** The week, by its first day, on whose Wednesday Idris held the probe into the cup beside the right one. */
const week = -24;

/** A control in the afternoon fails: borate stood where 7.00 should. Idris sees it at once, and takes the control out. */
export async function wrongCup(demo: Demo, hands: Hands, day: number): Promise<void> {
  const date = demo.today.add(day, "day");
  if (date.day() !== 3 || day < week || day >= week + 7) return;
  const by = must(demo.people[1]);
  const check = await runSession(hands, date.hour(16).minute(40), {
    meter: meterOf(demo, "P-2"),
    by,
    pours: [{ measurand: "ph", role: "check", lot: lotOf(demo, "B7-127"), really: lotOf(demo, "B9-017") }],
    moment: "interim",
    capture: (pour) => pourCapture(hands, ageing(day), pour, 20),
  });
  const at = check.end.add(3, "minute").toISOString();
  const { rejudging } = await takeOut(demo.db, check.id, "The probe stood in the cup of pH 9.", by, at);
  if (rejudging) await runRejudging(demo.db, rejudging, at);
}
