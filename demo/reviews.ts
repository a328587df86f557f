import { findReading } from "../app/server/results/readings.server";
import { runRejudging } from "../app/server/results/rejudgeRun.server";
import { amendReading, presentText } from "../app/server/review/amend.server";
import { daysToReview, lookGroups, shiftToReview } from "../app/server/review/review.server";
import { noteLooked, signShift } from "../app/server/review/sign.server";
import { correctLot } from "../app/server/stock/correctLot.server";
import { lotsOfCodes, type StoredLot } from "../app/server/stock/lots.server";
import { addDays, dayBounds } from "../core/time/zone";
import { type Demo, isoDay, must } from "./story";

/** What the reviewer writes beside a result, by the rule that stands against it. */
const seen: Record<string, string> = {
  "lot-withdrawn": "The buffer that lost pH: the withdrawal says what it does, the note stands.",
  "check-after": "Corrected for the drift; the trend before and after agrees with it.",
  duplicates: "Third portion taken as the method asks; the pair that agrees is reported.",
  normal: "Unusual for the site, and so was the week: kept, to be compared with the next.",
  imported: "Compared with the notebook, page by page.",
  amended: "Compared with the field sheet: the sheet is right.",
  void: "Rightly taken out.",
};
const otherwise = { held: "Not for use until it is measured again.", rest: "Seen; the note stands." };

/** The last days are left to whoever opens the demo. */
const left = 3;
const bounds = dayBounds("UTC");

/** In the morning Maren looks at what is new, writes what she saw, and signs the shifts before. */
export async function reviewBefore(demo: Demo, day: number): Promise<void> {
  if (day > -left) return;
  const by = must(demo.people[2]);
  const morning = demo.today.add(day, "day").hour(7).minute(35);
  const last = isoDay(morning.subtract(1, "day"));
  for (const { day: shift } of (await daysToReview(demo.db, last, bounds)).reverse()) {
    const [from, to] = [bounds.start(shift), bounds.end(shift)];
    for (const { verdict, rows } of lookGroups(await shiftToReview(demo.db, from, to))) {
      const rule = rows[0]?.findings.map((f) => f.rule).find((r) => seen[r]);
      const comment = (rule && seen[rule]) ?? (verdict === "held" ? otherwise.held : otherwise.rest);
      const looked = rows.map((r) => ({ id: r.id, judgement: r.judgements }));
      await noteLooked(demo.db, looked, comment, by, morning.toISOString());
    }
    // What Maren measured herself, Petra signs.
    for (const [i, signer] of [by, must(demo.people[3])].entries()) {
      const at = morning.add(6 + 20 * i, "minute").toISOString();
      await signShift(demo.db, { day: shift, from, to }, "", signer, at);
    }
  }
}

/** The day on which Idris puts the delivery notes away. */
const filedDay = -30;

/** What was written when a jar came is held against its delivery note: it came a day earlier. */
export async function deliveryNote(demo: Demo, day: number): Promise<void> {
  if (day !== filedDay) return;
  const at = demo.today.add(day, "day").hour(15).minute(20);
  const [{ id, version, lot }] = (await lotsOfCodes(demo.db, ["NACL-5"])) as [StoredLot];
  const form = new FormData();
  const { name, opened_on, expires_on, shelf_life_open_days, size, portion } = lot;
  const standing = { version, name, opened_on, expires_on, shelf_life_open_days, size, portion };
  for (const [field, value] of Object.entries(standing)) form.set(field, String(value ?? ""));
  form.set("received_on", addDays(lot.received_on, -1));
  form.set("reason", "The delivery note has the day before.");
  const when = { now: at.toISOString(), today: isoDay(at) };
  const { errors, rejudging } = await correctLot(demo.db, id, form, must(demo.people[1]), when);
  if (errors) throw new Error(Object.values(errors).join(" "));
  if (rejudging) await runRejudging(demo.db, rejudging, when.now);
}

/** The day on which Noor finds that she had written two digits the wrong way round. */
const slipDay = -9;

/** A slip of the pen, found when the field sheet was filed: the result was signed, so it is amended. */
export async function slipOfThePen(demo: Demo, day: number): Promise<void> {
  if (day !== slipDay) return;
  const by = must(demo.people[0]);
  const morning = demo.today.add(day, "day").hour(9).minute(10).toISOString();
  const { id }: { id: string } = await demo
    .db("readings")
    // The photometer shows a number that somebody writes down.
    .where({ parameter: "phosphate", kind: "sample", source: "analysis" })
    .whereNotNull("readings.signed_judgement")
    .orderBy("readings.measured_at", "desc")
    .first("readings.id");
  const reading = must((await findReading(demo.db, id)) ?? null);
  const written = presentText(reading, "value");
  const [whole = "", tenths = "", hundredths = ""] = /^(\d+\.)(\d)(\d)$/.exec(written)?.slice(1) ?? [];
  const text =
    tenths === hundredths ? `${whole}${hundredths}${(Number(tenths) + 1) % 10}` : whole + hundredths + tenths;
  const judgement: number = (await demo.db("readings").where({ id }).first("judgements")).judgements;
  const reason = "Two digits changed places; the field sheet has it right.";
  const refused = await amendReading(demo.db, id, { what: "value", text, reason, judgement }, by, morning);
  if (refused) throw new Error(refused);
}
