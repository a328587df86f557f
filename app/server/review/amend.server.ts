import type { Knex } from "knex";
import { ulid } from "ulid";
import { standardUncertaintyOf } from "../../../core/quality/uncertainty";
import { foundOfEntry, readEntry } from "../../../core/quantity/entry";
import { isUnit } from "../../../core/quantity/unit";
import { type AmendableEvidence, asAmended, withAmended } from "../../../core/results/amended";
import { measuredValue, reportedValue } from "../../../core/results/evidence";
import { judgeAny } from "../../../core/results/judgeAny";
import { ofBottle, ofNoBottle } from "../../../core/results/ofBottle";
import { writeJournal } from "../platform/journal.server";
import type { Actor } from "../platform/rights.server";
import { write } from "../platform/write.server";
import { followResults } from "../quality/followResults.server";
import { findReading, type Reading } from "../results/readings.server";
import { reportedColumns } from "../results/reportedValue.server";
import { writeJudgement } from "../results/writeReading.server";
import { rulesOfVersion } from "../rules/rules.server";
import { sampleIdCalled } from "../samples/samples.server";
import { samplingReader } from "../samples/sampling.server";
import { settleBottle } from "../samples/settleBottle.server";
import { keepSigned } from "./signedForm.server";

/** What of a result can be amended: its value, or the name of its sample. */
export const amendable = ["value", "sample"] as const;
export type Amendable = (typeof amendable)[number];

/** What of a result may be amended: nothing of one that was taken out, nor of one that is reckoned; not the bottle that a laboratory had. */
export const amendableOf = ({ verdict, source }: Pick<Reading, "verdict" | "source">): Amendable[] =>
  verdict === "void" || source === "derived" ? [] : source === "laboratory" ? ["value"] : [...amendable];

export interface Amendment {
  what: Amendable;
  /** As it was typed. */
  text: string;
  reason: string;
  /** The judgement that was seen when it was typed. */
  judgement: number;
}

/** What was measured as it would be typed; for a meter before the drift was taken out. */
export const presentText = (reading: Reading, what: Amendable): string => {
  if (what === "sample") return reading.sample;
  if (reading.source === "meter") {
    const value = measuredValue(reading.evidence);
    return value === null ? "" : value.toFixed(reading.decimals);
  }
  return reading.shown ?? (reading.value === null ? "" : reading.value.toFixed(reading.decimals));
};

/** What of a reading is written anew, and how the record writes it before and after. */
interface Change {
  evidence: Reading["evidence"];
  sample: string;
  sample_id: string | null;
  before: string;
  after: string;
}

/** A result under another name is of the bottle that this means, or of none; or a sentence. */
async function renamed(trx: Knex, reading: Reading, text: string): Promise<Change | string> {
  if (reading.source === "derived") return "This is reckoned from other results: amend those.";
  if (reading.source === "laboratory")
    return "The laboratory had this bottle: take the result out and have it sent again.";
  const sample = text.trim();
  if (sample === "" || sample.length > 60) return "Type the name of the sample, in at most 60 characters.";
  const named = { sample, before: reading.sample, after: sample };
  const { evidence } = reading;
  if ("source" in evidence && evidence.source !== "analysis") return { ...named, evidence, sample_id: null };
  const { started_at }: { started_at: string } = await trx("bench_work")
    .where({ id: reading.work_id })
    .first("started_at");
  const during = { started_at, finished_at: reading.finished_at };
  const sample_id =
    reading.kind === "sample" ? await sampleIdCalled(trx, sample, reading.site_id, during) : null;
  const read = await samplingReader(trx, sample_id ? [sample_id] : []);
  const sampling = sample_id ? read(sample_id, reading.parameter) : undefined;
  return { ...named, sample_id, evidence: sampling ? ofBottle(evidence, sampling) : ofNoBottle(evidence) };
}

/** Another value, as it was typed; or a sentence. */
function revalued(reading: Reading, { text, reason }: Amendment, by: string, now: string): Change | string {
  if (reading.source === "derived") return "This is reckoned from other results: amend those.";
  const entry = readEntry(text, isUnit(reading.unit) ? reading.unit : "");
  const read = foundOfEntry(entry);
  if ("message" in read) return read.message;
  const { found } = read;
  if (reading.source === "meter" && found.kind !== "value")
    return "A meter gives one plain value, like 7.02.";
  const unit = reading.unit;
  const was = `${presentText(reading, "value")} ${unit}`.trim();
  const after = asAmended(found, reading.decimals, unit);
  const evidence = withAmended(reading.evidence as AmendableEvidence, { found, was, at: now, by, reason });
  const { sample, sample_id } = reading;
  return { evidence, sample, sample_id, before: was, after };
}

/**
 * Amends a result: the value counts from now on, what it was stays beside it with who changed it and why, and it is to be reviewed anew.
 * What was signed is kept as it was signed. Returns a sentence where it cannot be done.
 */
export function amendReading(
  db: Knex,
  readingId: string,
  amendment: Amendment,
  actor: Actor & { name: string },
  now: string,
): Promise<string | null> {
  return write(db, actor, "amend", async (trx) => {
    const reading = await findReading(trx, readingId);
    if (!reading) return "This result is not there any more.";
    if (reading.verdict === "void") return "It was taken out of the record: there is nothing to amend.";
    const { judgements }: { judgements: number } = await trx("readings")
      .where({ id: readingId })
      .first("judgements");
    if (judgements !== amendment.judgement)
      return "It was judged anew meanwhile. Look at it once more, then amend it.";
    const change =
      amendment.what === "sample"
        ? await renamed(trx, reading, amendment.text)
        : revalued(reading, amendment, actor.name, now);
    if (typeof change === "string") return change;
    const { before, after, evidence, sample, sample_id } = change;
    if (before === after) return "This is what stands there already.";
    await keepSigned(trx, [readingId]);
    const { rules } = await rulesOfVersion(trx, reading.rules_version);
    const judged = judgeAny(evidence, rules);
    const columns =
      "source" in evidence
        ? reportedColumns(evidence, rules)
        : { value: reportedValue(evidence), measured_value: measuredValue(evidence) };
    await trx("readings")
      .where({ id: readingId })
      .update({
        ...(amendment.what === "value" ? { ...columns, uncertainty: standardUncertaintyOf(evidence) } : {}),
        sample,
        sample_key: sample.toLowerCase(),
        sample_id,
      });
    const { reason } = amendment;
    await writeJudgement(
      trx,
      { ...reading, value: columns.value, evidence, ...judged },
      `amended, ${amendment.what} ${before} → ${after}: ${reason}`,
      now,
    );
    const id = ulid();
    const row = { id, judgement: judgements + 1, what: amendment.what, before, after, reason };
    await trx("amendments").insert({ ...row, reading_id: readingId, at: now, person_id: actor.id });
    await writeJournal(trx, now, [
      {
        person_id: actor.id,
        action: "reading amended",
        subject_kind: "reading",
        subject_id: readingId,
        before: { [amendment.what]: before },
        after: { id, [amendment.what]: after, judgement: judgements + 1, verdict: judged.verdict },
        reason,
      },
    ]);
    if (amendment.what === "sample") await settleBottle(trx, reading.work_id);
    await followResults(trx, [readingId], `a check was amended: ${readingId}`, { by: actor.id, now });
    return null;
  });
}

export interface AmendmentFacts {
  id: string;
  at: string;
  by: string;
  what: Amendable;
  before: string;
  after: string;
  reason: string;
  judgement: number;
}

/** Every amendment of a reading, the oldest first. */
export const amendmentsOf = (db: Knex, readingId: string): Promise<AmendmentFacts[]> =>
  db("amendments")
    .join("people", "people.id", "amendments.person_id")
    .where({ reading_id: readingId })
    .orderBy("amendments.id")
    .select("amendments.id", "at", "people.name as by", "what", "before", "after", "reason", "judgement");
