import type { Knex } from "knex";
import { insertMany } from "../platform/insertMany";
import { pack, unpack } from "../platform/pack.server";

/** Copies one judged reading many times over a span of time, with its history, as a long season would leave it. */
export async function fillWithReadings(
  db: Knex,
  modelId: string,
  count: number,
  from: string,
  to: string,
): Promise<void> {
  const model: Record<string, string | number | null> = await db("readings").where({ id: modelId }).first();
  const judgement: Record<string, string | number | null> = await db("reading_judgements")
    .where({ reading_id: modelId })
    .first();
  const [start, end] = [Date.parse(from), Date.parse(to)];
  const stored = await db("reading_evidence").where({ reading_id: modelId }).first();
  const evidence = unpack<object>(stored.packed);
  const copies = Array.from({ length: count }, (_, i) => {
    const measured_at = new Date(start + ((end - start) * (i + 1)) / count).toISOString();
    return { ...model, id: `${modelId}-${i}`, measured_at };
  });
  await db.transaction(async (trx) => {
    const columns = Object.keys(model);
    await insertMany(
      trx,
      "readings",
      columns,
      copies.map((c) => columns.map((k) => (c as typeof model)[k] ?? null)),
    );
    await insertMany(
      trx,
      "reading_evidence",
      ["reading_id", "packed", "calibration_key"],
      copies.map(({ id, measured_at }) => [id, pack({ ...evidence, measured_at }), stored.calibration_key]),
    );
    const keys = Object.keys(judgement);
    await insertMany(
      trx,
      "reading_judgements",
      keys,
      copies.map((c) => keys.map((k) => (k === "reading_id" ? c.id : (judgement[k] ?? null)))),
    );
  });
}
