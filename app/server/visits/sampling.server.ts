import type { Knex } from "knex";
import { replay } from "../../../core/bench/event";
import type { SamplingEvidence } from "../../../core/results/rules/sampling";
import { keepsUntil } from "../../../core/samples/bottleTypes";
import { visitFolding } from "../../../core/samples/visit";
import { type VisitEvent, visitEventSchema } from "../../../core/samples/visitEvents";
import { samplingFindings } from "../../../core/samples/visitFindings";
import { rawEvents } from "../bench/eventStore.server";

/** The bottle of a visit that a result came from, by the code on its label; undefined where none bears it. */
export async function samplingOf(
  db: Knex,
  visitId: string | null,
  code: string,
): Promise<SamplingEvidence | undefined> {
  if (visitId === null) return undefined;
  const raw = (await rawEvents(db, [visitId])).get(visitId) ?? [];
  const events = raw.flatMap((e): VisitEvent[] => {
    const read = visitEventSchema.safeParse(e);
    return read.success ? [read.data] : [];
  });
  const { state } = replay(events, visitFolding);
  const index = state?.bottles.findIndex((b) => b.sample?.code === code && b.filled_at !== null) ?? -1;
  const bottle = state?.bottles[index];
  const type = state?.plan.bottles[index];
  if (!state || !bottle?.sample || !bottle.filled_at || !type) return undefined;
  return {
    sample_id: bottle.sample.id,
    code: bottle.sample.code,
    visit_id: visitId,
    type_name: type.name,
    filled_at: bottle.filled_at,
    keeps_until: keepsUntil(type, bottle.filled_at),
    findings: samplingFindings(state, index),
  };
}
