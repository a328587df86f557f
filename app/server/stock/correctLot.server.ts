import type { Knex } from "knex";
import { correctionsOf, judgedOtherwise, reckonedOtherwise } from "../../../core/stock/corrected";
import { type Lot, lotSchema } from "../../../core/stock/lot";
import { rawEvents } from "../bench/eventStore.server";
import { type FieldErrors, fieldErrors, NumberFields, textField } from "../platform/forms.server";
import type { Actor } from "../platform/rights.server";
import { write } from "../platform/write.server";
import { bottleNews } from "../results/followBottle.server";
import { confirmIn } from "../results/rejudge.server";
import { bottleFacts, lotFromForm } from "./lotForm.server";
import { changeLotIn, findLot, type StoredLot } from "./lots.server";
import { noteEmptied } from "./lotUses.server";

/** Pieces of work that are under way and may have been begun with a bottle. */
const underWay = ["calibration", "check", "analysis", "preparation", "standardisation"];

/** So many of them are looked at, the newest first: what was begun long ago and never ended keeps what it was begun with. */
const lookedAt = 200;

/** Whether something that is under way was begun with a lot: what it was begun with is kept with it. */
async function inHandNow(db: Knex, id: string): Promise<boolean> {
  const open: string[] = await db("bench_work")
    .where({ status: "open" })
    .whereIn("kind", underWay)
    .orderBy("started_at", "desc")
    .limit(lookedAt)
    .pluck("id");
  return JSON.stringify([...(await rawEvents(db, open)).values()]).includes(id);
}

/**
 * Why a lot's value, its strength, its leaflet and its code stay as they are, in a sentence: others were reckoned with them. Null while they
 * may be corrected. A calibration that failed was reckoned with it and serves nobody.
 */
export async function whyFixed(db: Knex, id: string): Promise<string | null> {
  const lot: { made_in: string | null } | undefined = await db("lots").where({ id }).first("made_in");
  if (lot?.made_in) return "Its value comes of how it was made here.";
  const served = await db("lot_uses as u")
    .join("bench_work as w", "w.id", "u.work_id")
    .where("u.lot_id", id)
    .whereNot((q) =>
      q
        .where("w.kind", "calibration")
        .whereNotExists(
          db("calibrations as c").whereRaw("c.work_id = w.id").whereNot("c.verdict", "failed").select("c.id"),
        ),
    )
    .countDistinct({ n: "w.id" })
    .first();
  const n = Number(served?.n ?? 0);
  const again =
    "Where it is wrong, withdraw the bottle, which holds what rests on it, and register what it holds under another code.";
  if (n > 0)
    return `Its value and its code stay: ${n === 1 ? "one piece of work was" : `${n} pieces of work were`} reckoned with them. ${again}`;
  const standardised = await db("lot_uses")
    .where({ into_lot_id: id, role: "standardisation" })
    .first("work_id");
  if (standardised) return "Its strength is what it was found to be: standardise it again where it is wrong.";
  return (await inHandNow(db, id))
    ? "Its value and its code stay for now: something that is under way was begun with it. Finish it or give it up first."
    : null;
}

/** What a form says a lot should be: all of it, where its value may be corrected, or what stands beside the value. */
function asCorrected(form: FormData, { lot }: StoredLot): { lot: Lot } | { errors: FieldErrors } {
  const kept = {
    withdrawn: lot.withdrawn,
    discarded: lot.discarded,
    place: lot.place,
    hazards: lot.hazards,
    unit: lot.unit,
  };
  const whole = textField(form, "kind") !== "";
  if (whole) {
    const parsed = lotFromForm(form);
    return parsed.success ? { lot: { ...parsed.data, ...kept } } : { errors: fieldErrors(parsed.error) };
  }
  const numbers = new NumberFields(form);
  const facts = bottleFacts(form, numbers, "table" in lot);
  const named = textField(form, "name");
  const parsed = numbers.parse(lotSchema, { ...lot, ...facts, ...(named ? { name: named } : {}) });
  return parsed.success ? { lot: parsed.data as Lot } : { errors: fieldErrors(parsed.error) };
}

/** What one use of it took was written wrong: what was taken of it is counted anew. */
async function countAnew(trx: Knex, id: string, before: Lot, after: Lot): Promise<void> {
  if (before.portion === null || after.portion === null || before.portion === after.portion) return;
  await trx("lot_uses")
    .where({ lot_id: id })
    .whereIn("role", ["standard", "material"])
    .update({ amount: trx.raw("amount * ?", [after.portion / before.portion]) });
  const taken = await trx("lot_uses").where({ lot_id: id }).sum({ n: "amount" }).first();
  await trx("lots")
    .where({ id })
    .update({ used: Number(taken?.n ?? 0) });
  await noteEmptied(trx, [id]);
}

/** What can be said wrong of a bottle on any day: that it came or was opened on a day to come. */
function daysToCome({ received_on, opened_on }: Lot, today: string): FieldErrors {
  return {
    ...(received_on > today ? { received_on: "It cannot have come on a day to come." } : {}),
    ...(opened_on && opened_on > today ? { opened_on: "It cannot have been opened on a day to come." } : {}),
  };
}

/**
 * Corrects what was written wrong of a lot, with a reason; what was calibrated and measured with it is to be judged by what is known now, by
 * the re-judging that is given back. The same again changes nothing. Answers with sentences at their fields where it cannot be.
 */
export async function correctLot(
  db: Knex,
  id: string,
  form: FormData,
  actor: Actor,
  { now, today }: { now: string; today: string },
): Promise<{ errors?: FieldErrors; rejudging?: string }> {
  const reason = textField(form, "reason");
  return write(db, actor, "stock", async (trx) => {
    const stored = await findLot(trx, id);
    if (!stored) throw new Response("No such lot", { status: 404 });
    const read = asCorrected(form, stored);
    const errors: FieldErrors = "lot" in read ? daysToCome(read.lot, today) : { ...read.errors };
    if (!reason) errors.reason = "Say how it came to be written wrong.";
    if (reason.length > 200) errors.reason = "Keep it under 201 characters.";
    if (textField(form, "version") !== String(stored.version))
      errors[""] =
        `This lot was changed since you opened the page (it is version ${stored.version} now). Look at it again.`;
    if (!("lot" in read)) return { errors };
    const { lot } = read;
    const otherwise = reckonedOtherwise(stored.lot, lot);
    const fixed = otherwise.length ? await whyFixed(trx, id) : null;
    if (fixed) errors[""] = fixed;
    if (lot.code !== stored.lot.code && (await trx("lots").where({ code: lot.code }).first("id")))
      errors.code = `There is a lot ${lot.code} already.`;
    if (Object.keys(errors).length) return { errors };
    const corrections = correctionsOf(stored.lot, lot);
    if (corrections.length === 0) return {};
    const said = corrections.join("; ");
    const after = await changeLotIn(trx, id, () => lot, actor.id, now, `${reason} (${said})`);
    if (!after) return {};
    await countAnew(trx, id, stored.lot, after.lot);
    const used = await trx("lot_uses").where({ lot_id: id }).first("work_id");
    if (!used || !judgedOtherwise(stored.lot, after.lot)) return {};
    const request = {
      kind: "bottle" as const,
      subject_id: id,
      subject_version: bottleNews.corrected(after.version),
    };
    const cause = `lot ${after.lot.code} was corrected: ${said}`;
    return { rejudging: await confirmIn(trx, request, cause, actor, now) };
  });
}
