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

/** How far a re-judging is, from the thread that does it or from what it has kept; null where nobody asked for it. */
export async function followingState(db: Knex, request: RejudgingRequest): Promise<RejudgingState | null> {
  const job = await rejudgingOf(db, request);
  if (!job) return null;
  const kept = job.total ? job.seen / job.total : 0;
  return { job, progress: rejudgingProgress(job.id) ?? kept, preview: null };
}

/** A preview until somebody confirms it; then how far it is. */
export const rejudgingState = async (db: Knex, request: RejudgingRequest): Promise<RejudgingState> =>
  (await followingState(db, request)) ?? {
    job: null,
    progress: null,
    preview: await preview(db, request),
  };
