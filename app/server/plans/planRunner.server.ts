import { calculate } from "../../../core/calculators/registry";
import { databasePlace } from "../platform/database.server";
import { openDatabase } from "../platform/engine.server";
import { log } from "../platform/log.server";
import { askWorker, workersExist } from "../platform/workers.server";
import { replan } from "./plans.server";

/** The longest the search for a better plan may take. */
const budget_ms = 1500;

/** Plans anew in the worker thread, with a connection of its own, so that no page waits for it. */
export async function replanInWorker(file: string): Promise<void> {
  const db = await openDatabase(file, { migrate: false });
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
  running ??= askWorker("replan", databasePlace(), null)
    .then(
      () => undefined,
      (error: unknown) => log.error({ error }, "planning anew failed; the plan stays as it was"),
    )
    .finally(() => {
      running = null;
    });
  return running;
}

/** What a calculator that searches gives, in the worker thread. */
export const planningInWorker = async (
  _file: string | null,
  { id, inputs }: { id: string; inputs: unknown },
): Promise<unknown> => calculate(id, inputs);

let searches = 0;

/** Calculators that search for long are run beside the server, a few at a time; null when too many run already. */
export async function calculateApart(id: string, inputs: unknown): Promise<unknown | null> {
  if (!workersExist()) return calculate(id, inputs);
  if (searches >= 2) return null;
  searches++;
  try {
    return await askWorker("plan", null, { id, inputs });
  } finally {
    searches--;
  }
}
