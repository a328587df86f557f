import { resolve } from "node:path";
import { Worker } from "node:worker_threads";
import type { Knex } from "knex";
import { databaseFile } from "./database.server";
import { log } from "./log.server";
import { runRejudging, unfinishedRejudgings } from "./rejudge.server";
import { openDatabase, postponeTidying, tidyLog } from "./sqlite.server";

/** How far each running re-judging is, 0 to 1. */
const progress = new Map<string, number>();

export const rejudgingProgress = (id: string): number | null => progress.get(id) ?? null;

/** Runs in the worker thread, with a connection of its own, so that no page waits for it. */
export async function rejudgeInWorker(
  file: string,
  id: string,
  tell: (share: number) => void,
): Promise<void> {
  const db = await openDatabase(file);
  try {
    await postponeTidying(db);
    await runRejudging(db, id, new Date().toISOString(), tell);
    await tidyLog(db);
  } finally {
    await db.destroy();
  }
}

/** Starts a confirmed re-judging in a worker thread; a second start of the same one does nothing. */
export function startRejudging(id: string): void {
  if (progress.has(id)) return;
  progress.set(id, 0);
  const worker = new Worker(resolve("worker.mjs"), {
    workerData: { task: "rejudge", file: databaseFile(), id },
  });
  worker.on("message", (share: number) => progress.set(id, share));
  worker.on("error", (error) =>
    log.error({ id, error }, "re-judging failed; it will be tried again at the next start"),
  );
  worker.on("exit", () => progress.delete(id));
}

/** What a power cut left undone is done now. */
export async function resumeRejudgings(db: Knex): Promise<void> {
  for (const id of await unfinishedRejudgings(db)) startRejudging(id);
}
