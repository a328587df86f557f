import { isDeepStrictEqual } from "node:util";
import type { Knex } from "knex";
import type { ResultKind } from "../../../core/bench/resultKinds";
import { type Finding, objections, type Verdict } from "../../../core/judgement/finding";
import type { AnyEvidence } from "../../../core/results/judgeAny";
import type { Finishing } from "../bench/benchWork.server";
import { writeJournal } from "../platform/journal.server";
import { unpack } from "../platform/pack.server";
import { keepSigned } from "../review/signedForm.server";
import { type EvidenceColumns, splitEvidence } from "./evidenceDocument.server";
import { noteLatest } from "./latest.server";

/** What the row of a reading says of its judgement and its moments, whatever gave it. */
export const judgedColumns = (
  evidence: Pick<AnyEvidence, "collected_at" | "measured_at" | "finished_at">,
  { verdict, findings }: { verdict: Verdict; findings: Finding[] },
  rules_version: number,
  { by }: Finishing,
) => ({
  verdict,
  findings: JSON.stringify(objections(findings)),
  rules_version,
  collected_at: evidence.collected_at,
  measured_at: evidence.measured_at,
  finished_at: evidence.finished_at,
  person_id: by,
});

interface NewReading {
  id: string;
  site_id: string;
  parameter: string;
  analyte: string;
  /** What it is of; a sample, where nothing is said. */
  kind?: ResultKind;
  sample: string;
  value: number | null;
  shown: string | null;
  unit: string;
  verdict: string;
  findings: string;
  rules_version: number;
  measured_at: string;
  person_id: string;
}

/** Whether a reading and its evidence stand there already as they would be written. */
async function saysTheSame(
  trx: Knex,
  { person_id: _, ...row }: NewReading,
  kept: EvidenceColumns | undefined,
): Promise<boolean> {
  const stored: Record<string, unknown> & EvidenceColumns = await trx("readings")
    .join("reading_evidence", "reading_evidence.reading_id", "readings.id")
    .where("readings.id", row.id)
    .first("readings.*", "reading_evidence.packed", "reading_evidence.calibration_key");
  return (
    Object.entries(row).every(([column, value]) => stored[column] === value) &&
    stored.calibration_key === (kept?.calibration_key ?? null) &&
    isDeepStrictEqual(unpack(stored.packed), kept && unpack(kept.packed))
  );
}

/**
 * A reading with its evidence, its first judgement and its line in the journal; one that is known is judged anew. Where it is said why
 * (`whyAnew`), and nothing is another, it stays as it is.
 */
export async function writeReading(
  trx: Knex,
  row: NewReading,
  kept: EvidenceColumns | undefined,
  { by, now }: Finishing,
  whyAnew?: string,
): Promise<void> {
  const present:
    | { judgements: number; value: number | null; verdict: string; person_id: string }
    | undefined = await trx("readings")
    .where({ id: row.id })
    .first("judgements", "value", "verdict", "person_id");
  if (present && whyAnew !== undefined && (await saysTheSame(trx, row, kept))) return;
  const seq = (present?.judgements ?? 0) + 1;
  const whole = { ...row, sample_key: row.sample.toLowerCase(), judgements: seq };
  const evidence = { packed: kept?.packed, calibration_key: kept?.calibration_key };
  if (present) {
    await keepSigned(trx, [row.id]);
    // Whoever measured it did, whoever lets it be judged again.
    await trx("readings")
      .where({ id: row.id })
      .update({ ...whole, person_id: present.person_id });
    await trx("reading_evidence").where({ reading_id: row.id }).update(evidence);
  } else {
    // What a number means is kept with it: limits that are chosen later do not change what it meant.
    const site: { limit_sets: string } | undefined =
      (row.kind ?? "sample") === "sample"
        ? await trx("sites").where({ id: row.site_id }).first("limit_sets")
        : undefined;
    await trx("readings").insert({ ...whole, limit_sets: site?.limit_sets ?? null });
    await trx("reading_evidence").insert({ reading_id: row.id, ...evidence });
  }
  const late = "an event that belongs before the finish arrived late";
  const cause = present ? (whyAnew ?? late) : "first judgement";
  await trx("reading_judgements").insert({
    reading_id: row.id,
    seq,
    at: now,
    value: row.value,
    verdict: row.verdict,
    findings: row.findings,
    rules_version: row.rules_version,
    cause,
    rejudging_id: null,
  });
  // Of a site only its water counts, not the blanks and controls that were measured with it.
  if (row.verdict !== "void" && (row.kind ?? "sample") === "sample") await noteLatest(trx, row);
  await writeJournal(trx, now, [
    {
      person_id: by,
      action: present ? "reading judged anew" : "reading judged",
      subject_kind: "reading",
      subject_id: row.id,
      ...(present ? { before: { value: present.value, verdict: present.verdict }, reason: cause } : {}),
      after: { value: row.shown ?? row.value, unit: row.unit, verdict: row.verdict },
    },
  ]);
}

/** A reading whose evidence has changed, and how it is judged now. What was measured stays. */
export interface JudgedAnew {
  id: string;
  value: number | null;
  rules_version: number;
  evidence: AnyEvidence;
  verdict: Verdict;
  findings: Finding[];
}

/** Writes a new judgement of a reading beside those before; the journal is left to whoever knows why. */
export async function writeJudgement(
  trx: Knex,
  { id, value, rules_version, evidence, verdict, findings }: JudgedAnew,
  cause: string,
  now: string,
): Promise<void> {
  const kept = JSON.stringify(objections(findings));
  const [split] = await splitEvidence(trx, [evidence]);
  await keepSigned(trx, [id]);
  const { judgements }: { judgements: number } = await trx("readings").where({ id }).first("judgements");
  await trx("readings")
    .where({ id })
    .update({
      verdict,
      findings: kept,
      judgements: judgements + 1,
      check_evidence: split?.check_evidence ?? null,
      collected_at: evidence.collected_at,
    });
  await trx("reading_evidence")
    .where({ reading_id: id })
    .update({ packed: split?.packed, calibration_key: split?.calibration_key ?? null });
  await trx("reading_judgements").insert({
    reading_id: id,
    seq: judgements + 1,
    at: now,
    value,
    verdict,
    findings: kept,
    rules_version,
    cause,
    rejudging_id: null,
  });
}
