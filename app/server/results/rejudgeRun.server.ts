import { createHash } from "node:crypto";
import type { Knex } from "knex";
import type { Verdict } from "../../../core/judgement/finding";
import type { AnyEvidence } from "../../../core/results/judgeAny";
import type { NewEvidence } from "../../../core/results/rejudge";
import { insertMany } from "../platform/insertMany";
import { writeJournal } from "../platform/journal.server";
import { unpack } from "../platform/pack.server";
import { writeLocked } from "../platform/write.server";
import { type CheckRow, checkColumns, followChecks } from "../quality/followChecks.server";
import { followJudged } from "../quality/followResults.server";
import { heldBeside } from "../quality/together.server";
import { keepSigned } from "../review/signedForm.server";
import { rulesOfVersion } from "../rules/rules.server";
import { splitEvidence } from "./evidenceDocument.server";
import { followBottle } from "./followBottle.server";
import { followTakenOut } from "./followTakenOut.server";
import { findRejudging, type Rejudging, type RejudgingKind } from "./rejudge.server";
import {
  asChangedSource,
  batchesOf,
  type ChangedReading,
  countTouched,
  pageJudge,
  pagesOfIds,
} from "./rejudgeChanges.server";

type Judge = (ids: readonly string[], news: NewEvidence) => Promise<ChangedReading[]>;

/** What is followed in small pieces, each current at once. */
const piecemeal: Partial<Record<RejudgingKind, typeof followTakenOut>> = {
  bottle: followBottle,
  work: followTakenOut,
  entry: followTakenOut,
  strength: followTakenOut,
};

const newRulesOf = (db: Knex, job: Rejudging) =>
  job.kind === "rules" ? rulesOfVersion(db, job.rules_version) : Promise.resolve(null);

/**
 * Does a confirmed re-judging. What is known of a bottle, and what was taken out, is followed in small pieces, each current at once. Anything else is computed in pages outside of any transaction and prepared beside the readings, so
 * that others go on writing; then all of it becomes current at once, with what was measured or judged in the meantime.
 * Killed at any moment, nothing or everything has changed. What is held beside the changed results follows in small pieces; a kill
 * among them leaves the rest to be taken up again. Progress runs from 0 to 1. Done already: nothing happens.
 */
export async function runRejudging(
  db: Knex,
  id: string,
  now: string,
  onProgress: (share: number) => void = () => undefined,
): Promise<void> {
  const job = await findRejudging(db, id);
  if (job?.status === "confirmed") await (piecemeal[job.kind] ?? judgeAll)(db, job, now, onProgress);
  const done = await findRejudging(db, id);
  if (done?.status === "done") await followUp(db, done, now);
  onProgress(1);
}

async function judgeAll(
  db: Knex,
  job: Rejudging,
  now: string,
  onProgress: (share: number) => void,
): Promise<void> {
  const { id } = job;
  const total = await countTouched(db, job);
  await writeLocked(db, async (trx) => {
    await trx("rejudging_changes").where({ rejudging_id: id }).delete();
    await trx("rejudgings").where({ id }).update({ total, seen: 0 });
  });
  const judge = pageJudge(db, await newRulesOf(db, job));
  const seen = new Set<string>();
  for (const { news, readings } of await batchesOf(db, job)) {
    for await (const ids of pagesOfIds(readings)) {
      const changed = await judge(ids, news);
      for (const reading of ids) seen.add(reading);
      await writeLocked(db, async (trx) => {
        await prepare(trx, id, changed);
        await trx("rejudgings").where({ id }).update({ seen: seen.size });
      });
      onProgress(total ? Math.min(0.9, (0.9 * seen.size) / total) : 0.9);
    }
  }
  for await (const ids of pagesOfIds(() => derivedOfChanges(db, id))) {
    const changed = await judge(ids, await changedSources(db, id, ids));
    for (const reading of ids) seen.add(reading);
    await writeLocked(db, (trx) => prepareAnew(trx, id, ids, changed));
  }
  await writeLocked(db, async (trx) => {
    if ((await findRejudging(trx, id))?.status !== "confirmed") return;
    const anew = pageJudge(trx, await newRulesOf(trx, job));
    const readings = await catchUp(trx, job, seen, anew);
    const { changed, digest } = await digestOf(trx, id);
    onProgress(0.95);
    const checks = await checksThatChange(trx, id);
    await makeCurrent(trx, job, now);
    await followChecks(trx, checks, job.cause, { by: job.person_id, now });
    await trx("rejudgings")
      .where({ id })
      .update({ status: "done", readings, changed, seen: readings, finished_at: now, error: null });
    await writeJournal(trx, now, [
      {
        person_id: job.person_id,
        action: "readings re-judged",
        subject_kind: "rejudging",
        subject_id: id,
        // The readings' own histories say what changed; their digest here shows that they still say it.
        after: { readings, changed, digest },
        reason: job.cause,
      },
    ]);
  });
}

/** So many results are followed in one piece: others go on writing between them. */
const followed = 20;

/** Of what, and by which method, something was ever added to a sample. */
type Spiked = { parameter: string; instrument_id: string }[];

/**
 * The next results that others are held beside, or to whose water something was added, and that have another value now, or may be relied on
 * where they might not.
 */
const toFollow = (db: Knex, id: string, after: string, spiked: Spiked): Promise<string[]> =>
  db("rejudging_changes as c")
    .join("readings as r", "r.id", "c.reading_id")
    .join("reading_judgements as j", (on) => {
      on.on("j.reading_id", "c.reading_id").andOn("j.seq", "c.based_on");
    })
    .where("c.rejudging_id", id)
    .where("c.reading_id", ">", after)
    .where("r.kind", "sample")
    .where((q) => {
      q.whereIn("r.parameter", [...heldBeside]);
      for (const { parameter, instrument_id } of spiked)
        q.orWhere({ "r.parameter": parameter, "r.instrument_id": instrument_id });
    })
    .where((q) =>
      q
        .whereRaw("coalesce(j.value, -1e300) <> coalesce(r.value, -1e300)")
        .orWhereRaw("(j.verdict in ('sound', 'qualified')) <> (r.verdict in ('sound', 'qualified'))"),
    )
    .orderBy("c.reading_id")
    .limit(followed)
    .pluck("c.reading_id");

/** Lets what is held beside the changed results, and what was added to their water, follow them. What has been followed is put away with it, so that nothing is left out. */
async function followUp(db: Knex, { id, person_id, cause }: Rejudging, now: string): Promise<void> {
  const finishing = { by: person_id, now };
  const spiked: Spiked = await db("readings")
    .where({ kind: "spike" })
    .whereNotNull("instrument_id")
    .distinct("parameter", "instrument_id");
  for (let after = ""; ; ) {
    const ids = await toFollow(db, id, after, spiked);
    const last = ids.at(-1);
    if (last === undefined) break;
    after = last;
    await writeLocked(db, async (trx) => {
      await followJudged(trx, ids, cause, finishing);
      await trx("rejudging_changes").where({ rejudging_id: id }).whereIn("reading_id", ids).delete();
    });
  }
  await writeLocked(db, (trx) => trx("rejudging_changes").where({ rejudging_id: id }).delete());
}

/** Readings that came or were judged while this was computed are looked at now, under the lock. How many there are in all. */
async function catchUp(trx: Knex, job: Rejudging, seen: Set<string>, judge: Judge): Promise<number> {
  const moved = new Set<string>();
  for (const { news, readings } of await batchesOf(trx, job)) {
    const touched: { id: string }[] = await readings().select("readings.id as id");
    const late = touched.map((r) => r.id).filter((r) => !seen.has(r));
    const stale: { id: string }[] = await readings()
      .join("rejudging_changes", (on) => {
        on.on("rejudging_changes.reading_id", "readings.id").andOnVal(
          "rejudging_changes.rejudging_id",
          job.id,
        );
      })
      .whereRaw("rejudging_changes.based_on <> readings.judgements")
      .select("readings.id as id");
    const again = [...late, ...stale.map((r) => r.id)];
    for (const id of late) seen.add(id);
    for (let from = 0; from < again.length; from += 500) {
      const ids = again.slice(from, from + 500);
      await prepareAnew(trx, job.id, ids, await judge(ids, news));
    }
    for (const reading of again) moved.add(reading);
  }
  // What derives from what moved, and what was reckoned anew meanwhile.
  for await (const ids of pagesOfIds(() => derivedOfChanges(trx, job.id))) {
    const touched: { derived_id: string; source_id: string }[] = await trx("derivations").whereIn(
      "derived_id",
      ids,
    );
    const stale: { id: string }[] = await trx("readings")
      .join("rejudging_changes", "rejudging_changes.reading_id", "readings.id")
      .where({ rejudging_id: job.id })
      .whereIn("readings.id", ids)
      .whereRaw("rejudging_changes.based_on <> readings.judgements")
      .select("readings.id as id");
    const again = ids.filter(
      (derived) =>
        !seen.has(derived) ||
        stale.some((s) => s.id === derived) ||
        touched.some((t) => t.derived_id === derived && moved.has(t.source_id)),
    );
    for (const derived of again) seen.add(derived);
    if (again.length)
      await prepareAnew(trx, job.id, again, await judge(again, await changedSources(trx, job.id, again)));
  }
  return seen.size;
}

/** The derived results of which something has changed in what a re-judging has prepared. */
const derivedOfChanges = (db: Knex, id: string): Knex.QueryBuilder =>
  db("readings").whereIn(
    "readings.id",
    db("derivations")
      .join("rejudging_changes", "rejudging_changes.reading_id", "derivations.source_id")
      .where({ rejudging_id: id })
      .select("derived_id"),
  );

/** What became, by a re-judging's preparation, of the results that some others derive from. */
async function changedSources(db: Knex, id: string, derived: readonly string[]): Promise<NewEvidence> {
  const rows: {
    id: string;
    value: number | null;
    shown: string | null;
    verdict: Verdict;
    findings: string;
    evidence: Uint8Array | null;
    decimals: number;
  }[] = await db("rejudging_changes as c")
    .join("readings", "readings.id", "c.reading_id")
    .where("c.rejudging_id", id)
    .whereIn(
      "c.reading_id",
      db("derivations")
        .whereIn("derived_id", [...derived])
        .select("source_id"),
    )
    .select(
      "readings.id",
      "c.value",
      "c.shown",
      "c.verdict",
      "c.findings",
      "c.evidence",
      "readings.decimals",
    );
  return {
    kind: "sources",
    changed: new Map(
      rows.map(({ evidence, findings, ...row }) => [
        row.id,
        asChangedSource(
          { ...row, findings, evidence: evidence && unpack<AnyEvidence>(evidence) },
          row.decimals,
        ),
      ]),
    ),
  };
}

/** Prepares readings that may have been prepared before. */
async function prepareAnew(
  trx: Knex,
  rejudgingId: string,
  ids: readonly string[],
  changed: readonly ChangedReading[],
): Promise<void> {
  await trx("rejudging_changes")
    .where({ rejudging_id: rejudgingId })
    .whereIn("reading_id", [...ids])
    .delete();
  await prepare(trx, rejudgingId, changed);
}

const changeColumns = [
  "rejudging_id",
  "reading_id",
  "based_on",
  "value",
  "shown",
  "verdict",
  "grade",
  "uncertainty",
  "check_evidence",
  "findings",
  "rules_version",
  "evidence",
  "calibration_key",
];

async function prepare(trx: Knex, rejudgingId: string, changed: readonly ChangedReading[]): Promise<void> {
  const whole = changed.flatMap((c) => (c.after.evidence ? [c.after.evidence] : []));
  const kept = await splitEvidence(trx, whole);
  const split = new Map(whole.map((evidence, i) => [evidence, kept[i]]));
  await insertMany(
    trx,
    "rejudging_changes",
    changeColumns,
    changed.map((c) => {
      const own = c.after.evidence ? split.get(c.after.evidence) : undefined;
      return [
        rejudgingId,
        c.id,
        c.based_on,
        c.after.value,
        c.after.shown,
        c.after.verdict,
        c.after.check?.grade ?? null,
        c.after.uncertainty,
        c.after.check && JSON.stringify(c.after.check),
        c.after.findings,
        c.rules_version,
        own ? Buffer.from(own.packed) : null,
        own?.calibration_key ?? null,
      ];
    }),
  );
}

/** A hash of everything that changes, in the order of the readings. */
async function digestOf(trx: Knex, id: string): Promise<{ changed: number; digest: string }> {
  const hash = createHash("sha256");
  let changed = 0;
  for (let after = ""; ; ) {
    const rows: { reading_id: string; value: number | null; verdict: string }[] = await trx(
      "rejudging_changes",
    )
      .where({ rejudging_id: id })
      .where("reading_id", ">", after)
      .orderBy("reading_id")
      .limit(5000)
      .select("reading_id", "value", "verdict");
    const last = rows.at(-1);
    if (!last) return { changed, digest: hash.digest("base64url") };
    for (const r of rows) hash.update(JSON.stringify([r.reading_id, r.value, r.verdict]));
    changed += rows.length;
    after = last.reading_id;
  }
}

/** Checks whose value or verdict is about to change: what is held against them follows. */
const checksThatChange = (trx: Knex, id: string): Promise<CheckRow[]> =>
  trx("rejudging_changes as c")
    .join("readings", "readings.id", "c.reading_id")
    .where("c.rejudging_id", id)
    .whereNot("readings.kind", "sample")
    .whereNotNull("readings.instrument_id")
    .where((q) =>
      q
        .whereRaw("c.verdict <> readings.verdict")
        .orWhereRaw("coalesce(c.value, -1e300) <> coalesce(readings.value, -1e300)"),
    )
    .select(checkColumns);

/** What was prepared becomes what is so, in four statements however many readings there are. */
async function makeCurrent(trx: Knex, job: Rejudging, now: string): Promise<void> {
  const signed: { id: string }[] = await trx("rejudging_changes")
    .join("readings", "readings.id", "rejudging_changes.reading_id")
    .where({ rejudging_id: job.id })
    .whereRaw("readings.signed_judgement = readings.judgements")
    .select("readings.id");
  await keepSigned(
    trx,
    signed.map((r) => r.id),
  );
  await trx.raw(
    `insert into reading_judgements (reading_id, seq, at, value, verdict, findings, rules_version, cause, rejudging_id)
     select reading_id, based_on + 1, ?, value, verdict, findings, rules_version, ?, rejudging_id
     from rejudging_changes where rejudging_id = ?`,
    [now, job.cause, job.id],
  );
  await trx.raw(
    `update readings set value = c.value, shown = c.shown, verdict = c.verdict, grade = c.grade, uncertainty = c.uncertainty,
       check_evidence = c.check_evidence, findings = c.findings, rules_version = c.rules_version, judgements = c.based_on + 1
     from rejudging_changes as c where c.rejudging_id = ? and c.reading_id = readings.id`,
    [job.id],
  );
  await trx.raw(
    `update reading_evidence set packed = c.evidence, calibration_key = c.calibration_key
     from rejudging_changes as c
     where c.rejudging_id = ? and c.reading_id = reading_evidence.reading_id and c.evidence is not null`,
    [job.id],
  );
}
