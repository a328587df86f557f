import type { Knex } from "knex";
import { nowIso } from "../platform/clock.server";
import { openDatabase, whereIs } from "../platform/engine.server";
import { log } from "../platform/log.server";
import { type Actor, allow } from "../platform/rights.server";
import { troubleOf } from "../platform/trouble.server";
import { askWorker, workersExist } from "../platform/workers.server";
import type { ImportRow } from "./importFile.server";
import { type Looked, lookAtImport, takeImport } from "./takeImport.server";
import { undoImport } from "./undoImport.server";

type Task =
  | { do: "look"; id: string }
  | { do: "take"; id: string; partly: boolean; person_id: string }
  | { do: "undo"; id: string; reason: string; actor: { id: string; name: string } };

/** What is under way with a file, how far it is, and what went wrong with the last try. */
interface Under {
  what: "take" | "undo";
  share: number;
  refused: string | null;
  running: boolean;
}
const under = new Map<string, Under>();

export const importUnderWay = (id: string): Under | null => under.get(id) ?? null;

function doTask(db: Knex, task: Task, onProgress: (share: number) => void): Promise<Looked | string | null> {
  switch (task.do) {
    case "look":
      return lookAtImport(db, task.id, nowIso(), onProgress);
    case "take":
      return takeImport(db, task.id, task, nowIso(), onProgress);
    case "undo":
      return undoImport(db, task.id, task.reason, task.actor, nowIso(), onProgress);
  }
}

/** What a worker thread does with a file. */
export async function importInWorker(file: string, task: Task, onProgress: (share: number) => void) {
  const db = await openDatabase(file, { migrate: false });
  try {
    return await doTask(db, task, onProgress);
  } finally {
    await db.destroy();
  }
}

/** As many lines as one request may look through itself. */
const fewLines = 1000;

function run(db: Knex, task: Task, lines: number, onProgress: (share: number) => void = () => undefined) {
  const file = whereIs(db);
  return file && lines > fewLines && workersExist()
    ? (askWorker("import", file, task, (share) => onProgress(share as number)) as Promise<
        Looked | string | null
      >)
    : doTask(db, task, onProgress);
}

/** What taking a file over would do: a short one is looked through at once, a long one in a worker thread. */
export const lookAt = (db: Knex, { id, lines }: ImportRow): Promise<Looked> =>
  run(db, { do: "look", id }, lines) as Promise<Looked>;

/** Begins to take a file over, or to undo it. A second press joins the first; short ones are done when this returns. */
async function begin(db: Knex, row: ImportRow, task: Exclude<Task, { do: "look" }>): Promise<void> {
  if (under.get(row.id)?.running) return;
  const state: Under = { what: task.do, share: 0, refused: null, running: true };
  under.set(row.id, state);
  const done = run(db, task, row.lines, (share) => {
    state.share = share;
  })
    .then((refused) => {
      state.refused = refused as string | null;
    })
    .catch((error: unknown) => {
      log.error({ error, id: row.id }, "a file could not be taken over");
      state.refused = troubleOf(error)?.message ?? "It ended unexpectedly; nothing was changed.";
    })
    .finally(() => {
      state.running = false;
      if (!state.refused) under.delete(row.id);
    });
  if (row.lines <= fewLines) await done;
}

export async function beginTaking(db: Knex, row: ImportRow, partly: boolean, actor: Actor): Promise<void> {
  allow(actor, "import");
  await begin(db, row, { do: "take", id: row.id, partly, person_id: actor.id });
}

export async function beginUndoing(
  db: Knex,
  row: ImportRow,
  reason: string,
  actor: Actor & { name: string },
): Promise<void> {
  allow(actor, "import");
  await begin(db, row, { do: "undo", id: row.id, reason, actor: { id: actor.id, name: actor.name } });
}
