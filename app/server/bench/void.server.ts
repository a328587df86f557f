import type { Knex } from "knex";
import { judgeAny } from "../../../core/results/judgeAny";
import { writeJournal } from "../platform/journal.server";
import type { Actor } from "../platform/rights.server";
import { write } from "../platform/write.server";
import { followResults } from "../quality/followResults.server";
import { forgetLatest } from "../results/latest.server";
import { readingsOfWork } from "../results/readings.server";
import { writeJudgement } from "../results/writeReading.server";
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
  /** One result of the work alone. */
  only?: string,
): Promise<number> {
  return write(db, actor, "void", async (trx) => {
    const readings = (await readingsOfWork(trx, workId)).filter(
      (r) => r.verdict !== "void" && (only === undefined || r.id === only),
    );
    for (const reading of readings) {
      const { rules } = await rulesOfVersion(trx, reading.rules_version);
      const voided = { at: now, by: actor.name, reason };
      const evidence = { ...reading.evidence, voided };
      const judged = { ...reading, evidence, ...judgeAny(evidence, rules) };
      await writeJudgement(trx, judged, `taken out: ${reason}`, now);
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
    const ids = readings.map((r) => r.id);
    await followResults(trx, ids, `a check was taken out: ${ids.join(", ")}`, { by: actor.id, now });
    return readings.length;
  });
}
