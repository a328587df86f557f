import type { Knex } from "knex";
import type { z } from "zod";
import { type Folding, replay } from "../../../core/bench/event";
import {
  type MeterReadingState,
  meterReadingEventSchema,
  meterReadingFolding,
} from "../../../core/readings/meterReading";
import { runFolding } from "../../../core/runs/run";
import { runEventSchema } from "../../../core/runs/runEvents";
import type { RunState } from "../../../core/runs/runState";
import type { BenchWork, Finishing } from "../bench/benchWork.server";
import { rawEvents } from "../bench/eventStore.server";
import { projectAnalysis, projectReading } from "./projectReading.server";

/** What events come to; null where one of them cannot be read any more. */
function folded<S, E extends { id: string; at: string; by: string; type: string }>(
  events: readonly unknown[],
  schema: z.ZodType<E>,
  folding: Folding<S, E>,
): S | null {
  const read = events.flatMap((e) => schema.safeParse(e).data ?? []);
  return read.length === events.length ? replay(read, folding).state : null;
}

/** So many pieces of work are read at once. */
const together = 200;

/** Readings and runs that were finished are judged by all that is known now. What cannot be read any more stays as it was judged. */
export async function projectAgain(
  trx: Knex,
  workIds: readonly string[],
  why: string,
  finishing: Finishing,
): Promise<void> {
  const late = { ...finishing, late: true };
  for (let from = 0; from < workIds.length; from += together) {
    const works: BenchWork[] = await trx("bench_work")
      .whereIn("id", workIds.slice(from, from + together))
      .where({ status: "finished" })
      .orderBy("id");
    const events = await rawEvents(
      trx,
      works.map((w) => w.id),
    );
    for (const work of works) {
      const own = events.get(work.id) ?? [];
      if (work.kind === "reading") {
        const state: MeterReadingState | null = folded(own, meterReadingEventSchema, meterReadingFolding);
        if (state) await projectReading(trx, work, state, late, why);
      } else if (work.kind === "analysis") {
        const state: RunState | null = folded(own, runEventSchema, runFolding);
        if (state) await projectAnalysis(trx, work, state, late, why);
      }
    }
  }
}
