import type { Knex } from "knex";
import { ulid } from "ulid";
import { counted } from "../../../core/quantity/format";
import { insertRows } from "../platform/insertMany";
import { writeJournal } from "../platform/journal.server";
import type { Actor } from "../platform/rights.server";
import { write } from "../platform/write.server";
import { rulesInForce } from "../rules/rules.server";
import { needsLook, shiftToReview } from "./review.server";
import { hashOfForm, hashOfSignature, signedForms } from "./signedForm.server";

/** A reading as somebody saw it: a note is of that, and of nothing that came after. */
export interface Seen {
  id: string;
  judgement: number;
}

/**
 * Notes that a reviewer looked at readings as they are, with one comment for all. Returns how many were noted; those that were judged anew
 * meanwhile are not.
 */
export function noteLooked(
  db: Knex,
  seen: readonly Seen[],
  comment: string,
  actor: Actor,
  now: string,
): Promise<number> {
  return write(db, actor, "review", async (trx) => {
    const present: { id: string; judgements: number }[] = await trx("readings")
      .whereIn(
        "id",
        seen.map((s) => s.id),
      )
      .select("id", "judgements");
    const noted: string[] = (
      await trx("review_notes")
        .whereIn(
          "reading_id",
          seen.map((s) => s.id),
        )
        .where({ person_id: actor.id, comment })
        .select("reading_id", "judgement")
    ).map((n: { reading_id: string; judgement: number }) => `${n.reading_id} ${n.judgement}`);
    // A second click says nothing new.
    const fresh = seen.filter(
      (s) =>
        present.some((p) => p.id === s.id && p.judgements === s.judgement) &&
        !noted.includes(`${s.id} ${s.judgement}`),
    );
    const notes = fresh.map(({ id, judgement }) => ({ id: ulid(), reading_id: id, judgement, comment }));
    await insertRows(
      trx,
      "review_notes",
      notes.map((note) => ({ ...note, at: now, person_id: actor.id })),
    );
    await writeJournal(
      trx,
      now,
      notes.map(({ reading_id, ...after }) => ({
        person_id: actor.id,
        action: "reading looked at",
        subject_kind: "reading",
        subject_id: reading_id,
        after,
      })),
    );
    return fresh.length;
  });
}

export interface Shift {
  day: string;
  from: string;
  to: string;
}

/** Signed, with how many were left for somebody else; or not, with a sentence. */
export type Signed = { readings: number; own: number; hash: string } | { refused: string };

/**
 * Signs what of a shift is not signed as it is now. Everything that is not simply sound must have been looked at; what the signer measured is
 * left to somebody else where the rules ask for that. What was signed is hashed, and the hash stands in the journal's chain.
 */
export function signShift(
  db: Knex,
  { day, from, to }: Shift,
  comment: string,
  actor: Actor,
  now: string,
): Promise<Signed> {
  return write(db, actor, "review", async (trx): Promise<Signed> => {
    const { rules } = await rulesInForce(trx);
    const all = await shiftToReview(trx, from, to);
    const own = rules.records.second_person === "other" ? all.filter((r) => r.by_id === actor.id) : [];
    const rows = all.filter((r) => !own.includes(r));
    const unlooked = rows.filter((r) => needsLook(r) && !r.looked);
    if (unlooked.length)
      return {
        refused: `${counted(unlooked.length, "result")} must be looked at first: what is held, qualified, taken out or changed.`,
      };
    if (rows.length === 0) {
      return {
        refused: own.length
          ? "You measured all of this yourself: somebody else signs it."
          : "There is nothing left to sign.",
      };
    }
    const signature_id = ulid(Date.parse(now));
    const signed: { reading_id: string; judgement: number; hash: string }[] = [];
    for (let at = 0; at < rows.length; at += 300) {
      const part = rows.slice(at, at + 300);
      const forms = await signedForms(
        trx,
        part.map((r) => r.id),
      );
      for (const { id, judgements } of part) {
        const form = forms.get(id);
        if (!form) throw new Error(`The reading ${id} has no evidence.`);
        signed.push({ reading_id: id, judgement: judgements, hash: hashOfForm(form) });
      }
    }
    const hash = hashOfSignature(signed);
    const signature = { day, from_at: from, to_at: to, comment, readings: signed.length, hash };
    await trx("signatures").insert({ id: signature_id, at: now, person_id: actor.id, ...signature });
    await insertRows(
      trx,
      "signed_readings",
      signed.map((s) => ({ signature_id, ...s })),
      100,
    );
    for (let at = 0; at < signed.length; at += 300) {
      await trx("readings")
        .whereIn(
          "id",
          signed.slice(at, at + 300).map((s) => s.reading_id),
        )
        .update({ signed_judgement: trx.ref("judgements") });
    }
    await writeJournal(trx, now, [
      {
        person_id: actor.id,
        action: "shift signed",
        subject_kind: "signature",
        subject_id: signature_id,
        after: signature,
      },
    ]);
    return { readings: signed.length, own: own.length, hash };
  });
}
