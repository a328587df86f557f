import type { Knex } from "knex";
import { ulid } from "ulid";
import { detectionLimit, fewestReplicates, studyFault } from "../../../core/quality/detectionLimit";
import { meanOf } from "../../../core/quality/spread";
import { writeJournal } from "../platform/journal.server";
import type { Actor } from "../platform/rights.server";
import { write } from "../platform/write.server";
import { type ChartKey, chartFacts, chartPoints } from "./charts.server";

/** A detection limit that the house found for a method, and from what. */
export interface OwnDetectionLimit {
  id: string;
  value: number;
  unit: string;
  at: string;
  by: string;
  document: { sd: number; mean: number; code: string; replicates: string[] };
}

/** The house's own detection limit of a method, the newest; null where nobody made a study. */
export async function ownDetectionLimit(
  db: Knex,
  method_id: string,
  parameter: string,
): Promise<OwnDetectionLimit | null> {
  const row: (Omit<OwnDetectionLimit, "document"> & { document: string }) | undefined = await db(
    "detection_limits as d",
  )
    .join("people as p", "p.id", "d.person_id")
    .where({ method_id, parameter })
    .orderBy("d.id", "desc")
    .first("d.id", "d.value", "d.unit", "d.at", "p.name as by", "d.document");
  return row ? { ...row, document: JSON.parse(row.document) } : null;
}

/**
 * Makes the newest replicates of a low standard the detection limit of its method, for runs from now on. A sentence where they cannot be:
 * too few, all the same, or too strong or weak for their own limit. The same replicates again change nothing.
 */
export function keepDetectionLimit(
  db: Knex,
  key: ChartKey,
  n: number,
  actor: Actor,
  now: string,
): Promise<string | null> {
  return write(db, actor, "limits", async (trx) => {
    const points = await chartPoints(trx, key, n);
    if (points.length < fewestReplicates) return `A study needs at least ${fewestReplicates} replicates.`;
    const values = points.map((p) => p.value);
    const { sd, detection_limit } = detectionLimit(values);
    const fault = studyFault(values);
    if (fault) return fault.message;
    const mean = meanOf(values);
    const { unit } = (await chartFacts(trx, key)) ?? { unit: "" };
    const document = JSON.stringify({ sd, mean, code: key.code, replicates: points.map((p) => p.id) });
    const { instrument_id: method_id, parameter } = key;
    const last = await trx("detection_limits")
      .where({ method_id, parameter })
      .orderBy("id", "desc")
      .first("document");
    if (last?.document === document) return null;
    const id = ulid(Date.parse(now));
    const row = { method_id, parameter, value: detection_limit, unit };
    await trx("detection_limits").insert({ id, ...row, document, at: now, person_id: actor.id });
    await writeJournal(trx, now, [
      {
        person_id: actor.id,
        action: "detection limit found",
        subject_kind: "method",
        subject_id: method_id,
        after: { ...row, n: points.length, sd, mean, of: key.code },
      },
    ]);
    return null;
  });
}
