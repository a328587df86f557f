import type { Knex } from "knex";
import { filling, renewing, serviceKinds } from "../../../core/bench/service";
import type { TakenOut } from "../../../core/bench/takenOut";
import type { Measurand } from "../../../core/quantity/measurand";
import { showTime } from "../../../core/time/words";
import { unend } from "../calibrations/unend.server";
import { writeJournal } from "../platform/journal.server";
import type { Actor } from "../platform/rights.server";
import { write } from "../platform/write.server";
import { touchedBy } from "../results/followTakenOut.server";
import { confirmIn } from "../results/rejudge.server";
import { rulesInForce } from "../rules/rules.server";
import { settleElectrolyte, settleSensors } from "./sensors.server";
import { type FoundEntry, findService } from "./service.server";

/** What the entry had changed is as if it had not been written. */
async function settleWithout(
  trx: Knex,
  { meter_id, kind, done_at, ends_at }: FoundEntry,
  measurand: Measurand,
): Promise<void> {
  const place = { meter_id, measurand };
  await settleSensors(trx, place, done_at);
  if (ends_at) await unend(trx, { ...place, at: ends_at });
  if (filling.has(kind) || renewing.has(kind)) await settleElectrolyte(trx, place, done_at);
}

/**
 * Takes an entry out of the service log that was written wrong: it was another meter, or the membrane was only cleaned. It stays to be seen.
 * The sensor that it began never was, what it had ended holds again, and what was calibrated since is of the sensor and of the bottle before;
 * what was judged by it is judged by all that is known without it, by the re-judging that is given back, where there is something. Answers with
 * a sentence where it cannot be. Out already: nothing happens.
 */
export function takeServiceOut(
  db: Knex,
  id: string,
  reason: string,
  actor: Actor & { name: string },
  now: string,
): Promise<{ refused?: string; rejudging?: string }> {
  return write(db, actor, "void", async (trx) => {
    const entry = await findService(trx, id);
    if (!entry) throw new Response("No such service", { status: 404 });
    if (entry.taken_out) return {};
    // What is being judged by it would become current afterwards.
    const running = await trx("rejudgings")
      .where({ subject_id: id, status: "confirmed" })
      .whereIn("kind", ["service", "entry"])
      .first("id");
    if (running)
      return {
        refused: "What was read since is being judged anew. Wait until that is done, then take it out.",
      };
    const out: TakenOut = { at: now, by: actor.name, reason };
    await trx("service_log")
      .where({ id })
      .update({ taken_out: JSON.stringify(out) });
    if (entry.measurand) await settleWithout(trx, entry, entry.measurand);
    await writeJournal(trx, now, [
      {
        person_id: actor.id,
        action: "service taken out",
        subject_kind: "meter",
        subject_id: entry.meter_id,
        before: { id, kind: entry.kind, done_at: entry.done_at },
        reason,
      },
    ]);
    if ((await touchedBy(trx, id)).length === 0) return {};
    const { zone } = (await rulesInForce(trx)).rules;
    const when = showTime(entry.done_at, zone, "both");
    const cause = `“${serviceKinds[entry.kind]}” of ${when} was taken out: ${reason}`;
    const request = { kind: "entry" as const, subject_id: id, subject_version: "out" };
    return { rejudging: await confirmIn(trx, request, cause, actor, now) };
  });
}
