import type { Knex } from "knex";
import type { HouseRules } from "../../../core/rules/houseRules";
import { nowIso } from "../platform/clock.server";
import { database, databasePlace } from "../platform/database.server";
import { alone, openDatabase, whereIs } from "../platform/engine.server";
import { log } from "../platform/log.server";
import { lookEvery } from "../platform/rounds.server";
import { troubleOf } from "../platform/trouble.server";
import { askWorker, workersExist } from "../platform/workers.server";
import { noteFailure, type RejudgingRequest, unfinishedRejudgings } from "./rejudge.server";
import { countTouched, previewRejudging, type RejudgingPreview } from "./rejudgeChanges.server";
import { runRejudging } from "./rejudgeRun.server";

/** How far each running re-judging is, 0 to 1. */
const progress = new Map<string, number>();

export const rejudgingProgress = (id: string): number | null => progress.get(id) ?? null;

/** Runs in the worker thread, with a connection of its own, so that no page waits for it. */
export async function rejudgeInWorker(
  file: string,
  id: string,
  tell: (share: number) => void,
): Promise<void> {
  const db = await openDatabase(file, { migrate: false });
  try {
    // Of several processes, one does it.
    await alone(db, `brintel rejudging ${id}`, () => runRejudging(db, id, nowIso(), tell));
  } finally {
    await db.destroy();
  }
}

/** Starts a confirmed re-judging in a worker thread; a second start of the same one does nothing. */
export function startRejudging(id: string): void {
  if (progress.has(id)) return;
  progress.set(id, 0);
  askWorker("rejudge", databasePlace(), id, (share) => progress.set(id, share as number))
    .catch(async (error: unknown) => {
      log.error({ id, error }, "re-judging failed");
      const sentence = troubleOf(error)?.message ?? "It ended unexpectedly.";
      await noteFailure(await database(), id, sentence);
    })
    .catch((error: unknown) => log.error({ id, error }, "that a re-judging failed could not be kept"))
    .finally(() => progress.delete(id));
}

/** So often it is looked whether another process left something undone. */
const look_ms = 60_000;

/** What a power cut left undone is done now; and later what another process left undone that died. */
export async function keepResuming(db: Knex): Promise<void> {
  const resume = async () => {
    for (const id of await unfinishedRejudgings(db)) startRejudging(id);
  };
  await resume();
  lookEvery(look_ms, () => {
    resume().catch((error: unknown) => log.warn({ error }, "no look for what was left undone"));
  });
}

interface PreviewRequest extends RejudgingRequest {
  rules: HouseRules | null;
}

/** The preview, in the worker thread. */
export async function previewInWorker(file: string, request: PreviewRequest): Promise<RejudgingPreview> {
  const db = await openDatabase(file, { migrate: false });
  try {
    return await previewRejudging(db, request, request.rules);
  } finally {
    await db.destroy();
  }
}

/** As many readings as one request may look through itself. */
const fewReadings = 400;

/** What a re-judging would do: a few readings are looked through at once, many in a worker thread. */
export async function preview(
  db: Knex,
  request: RejudgingRequest,
  rules: HouseRules | null = null,
): Promise<RejudgingPreview> {
  const file = whereIs(db);
  const few = (await countTouched(db, request)) <= fewReadings;
  if (few || file === null || !workersExist()) return previewRejudging(db, request, rules);
  return (await askWorker("preview", file, { ...request, rules })) as RejudgingPreview;
}
