import { resolve } from "node:path";
import { Worker } from "node:worker_threads";
import { databaseFile } from "./database.server";
import { log } from "./log.server";
import { replan } from "./plans.server";
import { openDatabase } from "./sqlite.server";

/** The longest the search for a better plan may take. */
const budget_ms = 1500;

/** Plans anew in the worker thread, with a connection of its own, so that no page waits for it. */
export async function replanInWorker(file: string): Promise<void> {
  const db = await openDatabase(file);
  const begun = Date.now();
  try {
    await replan(db, begun, () => Date.now() - begun > budget_ms);
  } finally {
    await db.destroy();
  }
}

let running: Promise<void> | null = null;

/** Makes the open plan anew in a worker thread; while one is being made, asking again waits for that one. */
export function startReplanning(): Promise<void> {
  running ??= new Promise<void>((done) => {
    const worker = new Worker(resolve("worker.mjs"), {
      workerData: { task: "replan", file: databaseFile() },
    });
    worker.on("error", (error) => log.error({ error }, "planning anew failed; the plan stays as it was"));
    worker.on("exit", () => {
      running = null;
      done();
    });
  });
  return running;
}
