import { takeOut } from "../app/server/calibrations/takeOut.server";
import { recordService } from "../app/server/meters/service.server";
import { takeServiceOut } from "../app/server/meters/takeOutService.server";
import { runRejudging } from "../app/server/results/rejudgeRun.server";
import { type Hands, pourCapture, runSession } from "./bench";
import { ageing } from "./instruments";
import { type Demo, isoDay, lotOf, meterOf, must } from "./story";

/** The week, by its first day, on whose Wednesday Idris was in a hurry. */
const week = -24;

/** Slips of the hand that are seen at once: a control in the wrong cup, and a new membrane that was none. */
export async function hurriedDay(demo: Demo, hands: Hands, day: number): Promise<void> {
  const date = demo.today.add(day, "day");
  if (date.day() !== 3 || day < week || day >= week + 7) return;
  await wrongCup(demo, hands, day);
  await noMembrane(demo, day);
}

/** A control in the afternoon fails: borate stood where 7.00 should. Idris sees it at once, and takes the control out. */
async function wrongCup(demo: Demo, hands: Hands, day: number): Promise<void> {
  const date = demo.today.add(day, "day");
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

/** The membrane was only rinsed; the line below the right one was chosen. Without its entry the calibration holds on. */
async function noMembrane(demo: Demo, day: number): Promise<void> {
  const date = demo.today.add(day, "day").hour(17);
  const by = must(demo.people[1]);
  const entry = { kind: "membrane-changed" as const, measurand: "oxygen", on_date: isoDay(date), code: "" };
  const { id } = await recordService(
    demo.db,
    meterOf(demo, "M-1"),
    { ...entry, note: "Rinsed and wiped." },
    by,
    date.toISOString(),
  );
  await takeServiceOut(demo.db, id, "It was only cleaned.", by, date.add(4, "minute").toISOString());
}
