import type { Knex } from "knex";
import { nowIso } from "../platform/clock.server";
import { openDatabase, whereIs } from "../platform/engine.server";
import { log } from "../platform/log.server";
import { askWorker, workersExist } from "../platform/workers.server";
import { keepVerification, type Verification, verifyRecords } from "./verify.server";

/** A check that is under way: how many entries of the journal it has walked; null while there is none. */
let running: { entries: number; total: number } | null = null;
export const verificationUnderWay = (): { entries: number; total: number } | null => running;

/** What a worker thread does when it is asked to check. */
export async function verifyInWorker(
  file: string,
  _input: unknown,
  onProgress: (entries: number) => void,
): Promise<Verification> {
  const db = await openDatabase(file, { migrate: false, once: true });
  try {
    return await verifyRecords(db, onProgress);
  } finally {
    await db.destroy();
  }
}

/** Begins a check of everything beside the server, and keeps what it finds. One at a time: a second press joins the first. */
export async function startVerification(db: Knex, personId: string | null): Promise<void> {
  if (running) return;
  const { seq }: { seq: number } = await db("journal_head").where({ id: 1 }).first("seq");
  running = { entries: 0, total: seq };
  const onProgress = (entries: unknown) => {
    if (running) running.entries = Number(entries);
  };
  const file = whereIs(db);
  const check =
    file && workersExist()
      ? (askWorker("verify", file, null, onProgress) as Promise<Verification>)
      : verifyRecords(db, onProgress);
  void check
    .then((found) => keepVerification(db, found, personId, nowIso()))
    .catch((error) => log.error({ error }, "The records could not be checked."))
    .finally(() => {
      running = null;
    });
}
