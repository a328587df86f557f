import type { Knex } from "knex";
import type { AnyEvidence } from "../../../core/results/judgeAny";
import type { Kin } from "../../../core/stock/descent";
import { madeFrom } from "../stock/descent.server";

/** The lots that evidence names, by their ids. */
function lotIdsOf(evidence: AnyEvidence): string[] {
  if (!("source" in evidence))
    return [
      ...(evidence.calibration?.points ?? []).flatMap((p) => p.lot_id ?? []),
      ...(evidence.calibration?.electrolyte ? [evidence.calibration.electrolyte.lot_id] : []),
    ];
  return evidence.source === "analysis" ? evidence.lots.flatMap((l) => l.lot_id ?? []) : [];
}

/** What the bottles behind some results were made from, as of when they were used. */
export async function bottlesBehind(
  db: Knex,
  readings: readonly { evidence: AnyEvidence; measured_at: string }[],
): Promise<Record<string, Kin[]>> {
  const [first] = readings;
  if (!first) return {};
  return madeFrom(
    db,
    readings.flatMap((r) => lotIdsOf(r.evidence)),
    first.measured_at,
  );
}
