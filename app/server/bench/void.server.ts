import type { Knex } from "knex";
import { objections } from "../../../core/judgement/finding";
import { judge } from "../../../core/results/judge";
import { judgeAnalysis } from "../../../core/results/judgeAnalysis";
import { writeJournal } from "../platform/journal.server";
import type { Actor } from "../platform/rights.server";
import { write } from "../platform/write.server";
import { splitEvidence } from "../results/evidenceDocument.server";
import { forgetLatest } from "../results/latest.server";
import { readingsOfWork } from "../results/readings.server";
import { rulesOfVersion } from "../rules/rules.server";

/**
 * Takes the results of a piece of work out of the record, with a reason. They stay to be seen, with everything they rest
 * on, and neither a re-judging nor an event that arrives late brings them back; what was void before stays as it was. Returns how many were taken out.
 */
export function voidResults(
  db: Knex,
  actor: Actor & { name: string },
  workId: string,
  reason: string,
  now: string,
): Promise<number> {
  return write(db, actor, "void", async (trx) => {
    const readings = (await readingsOfWork(trx, workId)).filter((r) => r.verdict !== "void");
    for (const reading of readings) {
      const { rules } = await rulesOfVersion(trx, reading.rules_version);
      const voided = { at: now, by: actor.name, reason };
      const evidence = { ...reading.evidence, voided };
      const { findings } = "source" in evidence ? judgeAnalysis(evidence, rules) : judge(evidence, rules);
      const kept = JSON.stringify(objections(findings));
      const [split] = await splitEvidence(trx, [evidence]);
      const { judgements }: { judgements: number } = await trx("readings")
        .where({ id: reading.id })
        .first("judgements");
      await trx("readings")
        .where({ id: reading.id })
        .update({ verdict: "void", findings: kept, judgements: judgements + 1 });
      await trx("reading_evidence").where({ reading_id: reading.id }).update({ packed: split?.packed });
      await trx("reading_judgements").insert({
        reading_id: reading.id,
        seq: judgements + 1,
        at: now,
        value: reading.value,
        verdict: "void",
        findings: kept,
        rules_version: reading.rules_version,
        cause: `taken out: ${reason}`,
        rejudging_id: null,
      });
      await forgetLatest(trx, reading);
    }
    await writeJournal(
      trx,
      now,
      readings.map((r) => ({
        person_id: actor.id,
        action: "reading taken out",
        subject_kind: "reading",
        subject_id: r.id,
        before: { value: r.value, verdict: r.verdict },
        after: { verdict: "void" },
        reason,
      })),
    );
    return readings.length;
  });
}
