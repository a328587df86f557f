import type { Knex } from "knex";
import { ulid } from "ulid";
import { z } from "zod";
import type { TakenOut } from "../../../core/bench/takenOut";
import { planSchema, type VisitPlan } from "../../../core/samples/visitEvents";
import { showDate } from "../../../core/time/words";
import { writeJournal } from "../platform/journal.server";
import type { Actor } from "../platform/rights.server";
import { takenOutOf } from "../platform/takenOutOf";
import { write } from "../platform/write.server";
import { findSite } from "../sites/sites.server";
import { startVisit } from "./visits.server";

const stopSchema = z.object({
  site_id: z.string(),
  site: z.string(),
  plan: planSchema,
  /** The visit it becomes: known before it begins, so that it begins once. */
  work: z.ulid(),
  event: z.ulid(),
});
type Stop = z.infer<typeof stopSchema>;

export interface Round {
  id: string;
  on_date: string;
  name: string;
  person_id: string;
  person: string;
  stops: Stop[];
  /** Null while it stands. */
  called_off: TakenOut | null;
}

interface Row extends Omit<Round, "stops" | "called_off"> {
  stops: string;
  called_off: string | null;
}

const fromRow = ({ stops, called_off, ...row }: Row): Round => ({
  ...row,
  stops: z.array(stopSchema).parse(JSON.parse(stops)),
  called_off: takenOutOf(called_off),
});

const joined = (db: Knex) =>
  db("rounds")
    .join("people", "people.id", "rounds.person_id")
    .select(
      "rounds.id",
      "on_date",
      "rounds.name",
      "person_id",
      "people.name as person",
      "stops",
      "called_off",
    );

export async function findRound(db: Knex, id: string): Promise<Round | undefined> {
  const row: Row | undefined = await joined(db).where("rounds.id", id).first();
  return row && fromRow(row);
}

/** The rounds of today and later, and the last few before; none that was called off. */
export async function nextRounds(db: Knex, today: string): Promise<Round[]> {
  const standing = () => joined(db).whereNull("called_off");
  const ahead: Row[] = await standing().where("on_date", ">=", today).orderBy("on_date").limit(20);
  const before: Row[] = await standing().where("on_date", "<", today).orderBy("on_date", "desc").limit(3);
  return [...ahead, ...before].map(fromRow);
}

/** The rounds of today and later that were called off: what somebody may still be waiting for. */
export async function roundsCalledOff(
  db: Knex,
  today: string,
): Promise<{ href: string; name: string; out: TakenOut }[]> {
  const rows: Row[] = await joined(db)
    .whereNotNull("called_off")
    .where("on_date", ">=", today)
    .orderBy("on_date")
    .limit(20);
  return rows
    .map(fromRow)
    .flatMap(({ id, name, on_date, called_off: out }) =>
      out ? [{ href: `/visits/rounds/${id}`, name: `${name}, ${showDate(on_date, "weekday")}`, out }] : [],
    );
}

/** A sample's label that is printed before its bottle is filled: what the house calls the water, the day, the place in the round. */
const labelsFor = (plan: VisitPlan, short: string): VisitPlan["labels"] =>
  plan.bottles.map((_, i) => {
    const id = ulid();
    // The end of the id tells the bottles of two rounds on one day apart.
    return { id, code: `${short}-${i + 1}${id.slice(-2)}` };
  });

/** Plans a round; the same id again is the same round. `shorts` are what the house calls each water on its labels. */
export function planRound(
  db: Knex,
  round: { id: string; on_date: string; name: string; person_id: string },
  stops: readonly { site_id: string; site: string; short: string; plan: VisitPlan }[],
  actor: Actor,
  now: string,
): Promise<void> {
  return write(db, actor, "measure", async (trx) => {
    if (await trx("rounds").where({ id: round.id }).first("id")) return;
    const whole = stops.map(
      ({ site_id, site, short, plan }): Stop => ({
        site_id,
        site,
        plan: { ...plan, labels: labelsFor(plan, short) },
        work: ulid(),
        event: ulid(),
      }),
    );
    await trx("rounds").insert({ ...round, stops: JSON.stringify(whole), made_at: now });
    await writeJournal(trx, now, [
      {
        person_id: actor.id,
        action: "round planned",
        subject_kind: "round",
        subject_id: round.id,
        after: { ...round, stops: whole.map((s) => ({ site: s.site_id, visit: s.work })) },
      },
    ]);
  });
}

/** Puts a round off, or gives it to somebody else. The same again: nothing happens. */
export function moveRound(
  db: Knex,
  id: string,
  to: { on_date: string; person_id: string },
  actor: Actor,
  now: string,
): Promise<void> {
  return write(db, actor, "measure", async (trx) => {
    const round = await findRound(trx, id);
    if (!round) throw new Response("No such round", { status: 404 });
    const before = { on_date: round.on_date, person_id: round.person_id };
    if (before.on_date === to.on_date && before.person_id === to.person_id) return;
    await trx("rounds").where({ id }).update(to);
    await writeJournal(trx, now, [
      {
        person_id: actor.id,
        action: "round moved",
        subject_kind: "round",
        subject_id: id,
        before,
        after: to,
      },
    ]);
  });
}

/** Calls a round off, with a reason: what was begun of it stays, the rest is not owed. Called off already: nothing happens. */
export function callOff(
  db: Knex,
  id: string,
  reason: string,
  actor: Actor & { name: string },
  now: string,
): Promise<void> {
  return write(db, actor, "measure", async (trx) => {
    const round = await findRound(trx, id);
    if (!round) throw new Response("No such round", { status: 404 });
    if (round.called_off) return;
    const off: TakenOut = { at: now, by: actor.name, reason };
    await trx("rounds")
      .where({ id })
      .update({ called_off: JSON.stringify(off) });
    await writeJournal(trx, now, [
      { person_id: actor.id, action: "round called off", subject_kind: "round", subject_id: id, reason },
    ]);
  });
}

/** Begins the visit of a stop; begun already, it is the same one. Null where the round or the site is gone, or it was called off. */
export async function beginStop(
  db: Knex,
  roundId: string,
  visit: string,
  actor: Actor,
  now: string,
): Promise<string | null> {
  const round = await findRound(db, roundId);
  if (round?.called_off) return null;
  const stop = round?.stops.find((s) => s.work === visit);
  const site = stop && (await findSite(db, stop.site_id));
  if (!stop || !site) return null;
  await startVisit(db, { work_id: stop.work, event_id: stop.event, actor, at: now }, site, stop.plan);
  return stop.work;
}

/** How far each visit of a round is, by its id. */
export async function stopsBegun(db: Knex, round: Round): Promise<Map<string, string>> {
  const rows: { id: string; status: string }[] = await db("bench_work")
    .whereIn(
      "id",
      round.stops.map((s) => s.work),
    )
    .select("id", "status");
  return new Map(rows.map((r) => [r.id, r.status]));
}
