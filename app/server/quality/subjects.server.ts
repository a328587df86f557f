import type { Knex } from "knex";
import type { Subject } from "../../../core/bench/subject";
import { recoveryOf } from "../../../core/quantity/recovery";
import type { QualityEvidence, Settled } from "../../../core/results/qualityEvidence";
import { onChart } from "./charts.server";

/** The result that is judged. */
interface Own {
  id: string;
  parameter: string;
  analyte: string;
  instrument_id: string;
  measured_at: string;
  value: number | null;
}

/** A cause that was found for this very check; undefined while none was. */
async function settledOf(trx: Knex, readingId: string): Promise<Settled | undefined> {
  const closed: { id: string; cause: string; by: string; at: string } | undefined = await trx(
    "quality_actions",
  )
    .join("people", "people.id", "quality_actions.person_id")
    .where({ reading_id: readingId })
    .whereNotNull("closed_at")
    .first("quality_actions.id", "cause", "people.name as by", "closed_at as at");
  return closed && { action_id: closed.id, cause: closed.cause, by: closed.by, at: closed.at };
}

type Spike = NonNullable<QualityEvidence["spike"]>;

/**
 * A spike held against what its water shows now without the addition: null where one of the two is no number, or was taken out. Less than
 * can be seen counts as nothing there: what comes back is what was added.
 */
export async function spikeNow(
  trx: Knex,
  { unspiked_id, sample_ml, spike_ml, strength }: Omit<Spike, "unspiked" | "recovery_percent">,
  spiked: number | null,
): Promise<Spike> {
  const found: { value: number | null; shown: string | null } | undefined = await trx("readings")
    .where({ id: unspiked_id })
    .whereNot("verdict", "void")
    .first("value", "shown");
  const unspiked = found?.value ?? (found?.shown?.startsWith("<") ? 0 : null);
  const recovery_percent =
    unspiked === null || spiked === null
      ? null
      : recoveryOf({ unspiked, spiked, sample_ml, spike_ml, strength }).percent;
  return { unspiked_id, unspiked, sample_ml, spike_ml, strength, recovery_percent };
}

/** What a check rests on besides its own run: what is in the bottle, its chart, what it recovers; undefined for a sample. */
export async function qualityOf(trx: Knex, subject: Subject, own: Own): Promise<QualityEvidence | undefined> {
  if (subject.kind === "sample") return undefined;
  const settled = await settledOf(trx, own.id);
  const more = settled ? { settled } : {};
  switch (subject.kind) {
    case "blank":
      return { kind: "blank", of: subject.of, ...more };
    case "control":
    case "standard": {
      const { kind, code, lot_id, expected, uncertainty } = subject;
      const { id, value, measured_at: at } = own;
      const chart =
        kind === "control" && value !== null
          ? await onChart(trx, { ...own, code }, { id, at, value })
          : undefined;
      return {
        kind,
        code,
        lot_id,
        ...(expected === null ? {} : { expected: { value: expected, uncertainty } }),
        ...(chart ? { chart } : {}),
        ...more,
      };
    }
    case "spike": {
      const { code, lot_id } = subject;
      return { kind: "spike", code, lot_id, spike: await spikeNow(trx, subject, own.value), ...more };
    }
  }
}
