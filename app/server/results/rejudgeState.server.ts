import type { Knex } from "knex";
import { type Rejudging, type RejudgingRequest, rejudgingOf } from "./rejudge.server";
import type { RejudgingPreview } from "./rejudgeChanges.server";
import { preview, rejudgingProgress } from "./rejudgeRunner.server";

/** What a page shows of a re-judging: what it would do, how far it is, what was done, or why it failed. */
export interface RejudgingState {
  job: Rejudging | null;
  progress: number | null;
  preview: RejudgingPreview | null;
}

/** A preview until somebody confirms it; then how far it is, from the thread that does it or from what it has kept. */
export async function rejudgingState(db: Knex, request: RejudgingRequest): Promise<RejudgingState> {
  const job = (await rejudgingOf(db, request)) ?? null;
  if (!job) return { job, progress: null, preview: await preview(db, request) };
  const kept = job.total ? job.seen / job.total : 0;
  return { job, progress: rejudgingProgress(job.id) ?? kept, preview: null };
}
