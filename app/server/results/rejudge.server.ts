import type { Knex } from "knex";
import { ulid } from "ulid";
import { writeJournal } from "../platform/journal.server";
import type { Actor } from "../platform/rights.server";
import { write, writeLocked } from "../platform/write.server";
import { rulesInForce } from "../rules/rules.server";
import { findLot } from "../stock/lots.server";

/**
 * Why readings are judged anew: a failed check, a withdrawn lot, a service in the past, new rules when asked for, a bottle of which
 * something else is known now, a calibration or a check (a work) or a standardisation (a strength) that was taken out, or an entry of the service log that was, or came late.
 */
export type RejudgingKind = "check" | "lot" | "service" | "rules" | "bottle" | "work" | "entry" | "strength";

export interface Rejudging {
  id: string;
  kind: RejudgingKind;
  /** The check's work, the lot (as the bottle is one), what was taken out, the entry of the service log, or the first moment (ISO) that new rules reach back to. */
  subject_id: string;
  /** What of the subject it is about: it may be asked for again when that has changed. */
  subject_version: string;
  cause: string;
  rules_version: number;
  status: "confirmed" | "done" | "failed";
  /** How many readings were looked at, of how many, while it runs. */
  seen: number;
  total: number | null;
  readings: number | null;
  changed: number | null;
  error: string | null;
  person_id: string;
  requested_at: string;
  finished_at: string | null;
}

export type RejudgingRequest = Pick<Rejudging, "kind" | "subject_id">;

/** What of its subject a re-judging is about now. */
async function subjectVersion(db: Knex, { kind, subject_id }: RejudgingRequest): Promise<string> {
  if (kind === "rules") return String((await rulesInForce(db)).version);
  if (kind === "lot") return (await findLot(db, subject_id))?.lot.withdrawn?.since ?? "";
  if (kind === "service" || kind === "work" || kind === "strength") return "";
  if (kind === "bottle" || kind === "entry")
    return (await newestOf(db, { kind, subject_id }))?.subject_version ?? "";
  const windows: { last_good_at: string }[] = await db("checks")
    .where({ work_id: subject_id, passed: false })
    .orderBy("id")
    .select("last_good_at");
  return windows.map((w) => w.last_good_at).join(" ");
}

/**
 * Confirms a re-judging: from now on it will be done, even if the power goes before it is. The same subject as it is now
 * is the same re-judging, so a double click confirms one; one that failed is taken up again.
 */
export function confirmRejudging(
  db: Knex,
  request: RejudgingRequest,
  cause: string,
  actor: Actor,
  now: string,
): Promise<string> {
  return write(db, actor, "rejudge", async (trx) =>
    confirmIn(trx, { ...request, subject_version: await subjectVersion(trx, request) }, cause, actor, now),
  );
}

/** Takes a re-judging up again that failed; undefined where there is none that did. */
export async function tryAgain(
  db: Knex,
  request: RejudgingRequest,
  actor: Actor,
  now: string,
): Promise<string | undefined> {
  const job = await rejudgingOf(db, request);
  return job?.status === "failed" ? confirmRejudging(db, request, job.cause, actor, now) : undefined;
}

/** Confirms a re-judging inside of a write that goes on, of its subject as it is called then. */
export async function confirmIn(
  trx: Knex,
  { subject_version, ...request }: RejudgingRequest & Pick<Rejudging, "subject_version">,
  cause: string,
  actor: Pick<Actor, "id">,
  now: string,
): Promise<string> {
  const { version } = await rulesInForce(trx);
  const existing: Rejudging | undefined = await trx("rejudgings")
    .where({ ...request, subject_version })
    .first();
  if (existing && existing.status !== "failed") return existing.id;
  const id = existing?.id ?? ulid();
  if (existing) await trx("rejudgings").where({ id }).update({ status: "confirmed", error: null });
  else {
    await trx("rejudgings").insert({
      id,
      ...request,
      subject_version,
      reach_from: request.kind === "rules" ? request.subject_id : "",
      cause,
      rules_version: version,
      status: "confirmed",
      readings: null,
      changed: null,
      person_id: actor.id,
      requested_at: now,
      finished_at: null,
    });
  }
  if (request.kind === "check") {
    await trx("checks").where({ work_id: request.subject_id }).update({ settled: true });
  }
  await writeJournal(trx, now, [
    {
      person_id: actor.id,
      action: existing ? "re-judging tried again" : "re-judging confirmed",
      subject_kind: "rejudging",
      subject_id: id,
      after: request,
      reason: cause,
    },
  ]);
  return id;
}

export const findRejudging = (db: Knex, id: string): Promise<Rejudging | undefined> =>
  db<Rejudging>("rejudgings").where({ id }).first();

/** The re-judging of a subject as it is now; undefined when nobody asked for it since it changed. */
export const rejudgingOf = async (db: Knex, request: RejudgingRequest): Promise<Rejudging | undefined> =>
  newestOf(
    db,
    request.kind === "rules" ? request : { ...request, subject_version: await subjectVersion(db, request) },
  );

const newestOf = (
  db: Knex,
  request: RejudgingRequest & Partial<Pick<Rejudging, "subject_version">>,
): Promise<Rejudging | undefined> =>
  db<Rejudging>("rejudgings").where(request).orderBy("requested_at", "desc").first();

/** Re-judgings that were confirmed and not finished, or whose changes were not followed to their end, as after a power cut. */
export const unfinishedRejudgings = (db: Knex): Promise<string[]> =>
  db("rejudgings")
    .where({ status: "confirmed" })
    .orWhere((q) =>
      q.where({ status: "done" }).whereIn("id", db("rejudging_changes").select("rejudging_id").distinct()),
    )
    .orderBy("requested_at")
    .pluck("id");

/** Re-judgings that run or have failed: what every page says of them. */
export const pendingRejudgings = (db: Knex): Promise<Rejudging[]> =>
  db<Rejudging>("rejudgings").whereIn("status", ["confirmed", "failed"]).orderBy("requested_at");

/** Keeps that a re-judging failed, and why, so that it is seen and can be tried again. */
export const noteFailure = (db: Knex, id: string, sentence: string): Promise<number> =>
  writeLocked(db, (trx) =>
    trx("rejudgings").where({ id, status: "confirmed" }).update({ status: "failed", error: sentence }),
  );
