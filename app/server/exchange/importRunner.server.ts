import type { Knex } from "knex";
import type { RefusedLine } from "../../../core/samples/labResults";
import { isStandard, type Lot } from "../../../core/stock/lot";
import { standardFacts } from "../../../core/stock/standard";
import { supplyFacts } from "../../../core/stock/supply";
import { nowIso } from "../platform/clock.server";
import { openDatabase, whereIs } from "../platform/engine.server";
import { log } from "../platform/log.server";
import { type Actor, allow } from "../platform/rights.server";
import { troubleOf } from "../platform/trouble.server";
import { askWorker, workersExist } from "../platform/workers.server";
import type { ImportRow, ResultsFile } from "./importFile.server";
import { lookAtLots, takeLots, undoLots } from "./lotsImport.server";
import { lookAtMethods, takeMethods } from "./methodsImport.server";
import { examplesShown, type Looked, lookAtImport, refusedShown, takeImport } from "./takeImport.server";
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

/** What taking a file over would do, as the page shows it: the first of what would be taken, and of what cannot be. */
export type Preview = { taken: number; refused: number; why: RefusedLine[]; message: string | null } & (
  | { kind: "results"; examples: Looked["examples"] }
  | {
      kind: "lots";
      examples: { line: number; what: string; code: string; name: string; expires_on: string }[];
    }
  | { kind: "methods"; examples: { line: number; name: string; id: string; version: number }[] }
);

const whatIs = (lot: Lot): string =>
  isStandard(lot) ? standardFacts[lot.kind].words : supplyFacts[lot.kind].words;

/** What taking a file over would do: a short one is looked through at once, a long one in a worker thread. */
export async function lookAt(db: Knex, row: ImportRow): Promise<Preview> {
  if (row.kind === "results") {
    const looked = (await run(db, { do: "look", id: row.id }, row.lines)) as Looked;
    return { kind: row.kind, ...looked };
  }
  if (row.kind === "lots") {
    const { lots, refused, message } = await lookAtLots(db, row);
    const examples = lots.slice(0, examplesShown).map(({ line, lot }) => ({
      line,
      what: whatIs(lot),
      code: lot.code,
      name: lot.name,
      expires_on: lot.expires_on,
    }));
    return { kind: row.kind, taken: lots.length, examples, ...first(refused), message };
  }
  const { methods, refused, message } = await lookAtMethods(db, row);
  const examples = methods.slice(0, examplesShown).map(({ nth, method }) => ({
    line: nth,
    name: method.name,
    id: method.id,
    version: method.version,
  }));
  return { kind: row.kind, taken: methods.length, examples, ...first(refused), message };
}

const first = (refused: readonly RefusedLine[]) => ({
  refused: refused.length,
  why: refused.slice(0, refusedShown),
});

/** Begins to take results over, or to undo it. A second press joins the first; short ones are done when this returns. Gives the sentence of a refusal. */
async function begin(
  db: Knex,
  row: ResultsFile,
  task: Exclude<Task, { do: "look" }>,
): Promise<string | null> {
  if (under.get(row.id)?.running) return null;
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
  return state.refused;
}

/** Takes a file over, or begins to. Returns a sentence where it is refused at once. */
export async function beginTaking(
  db: Knex,
  row: ImportRow,
  partly: boolean,
  actor: Actor,
): Promise<string | null> {
  allow(actor, "import");
  if (row.kind === "lots") return takeLots(db, row.id, partly, actor, nowIso());
  if (row.kind === "methods") return takeMethods(db, row.id, partly, actor, nowIso());
  return begin(db, row, { do: "take", id: row.id, partly, person_id: actor.id });
}

/** Takes what a file brought out again, or begins to. Returns a sentence where it is refused at once. */
export async function beginUndoing(
  db: Knex,
  row: ImportRow,
  reason: string,
  actor: Actor & { name: string },
): Promise<string | null> {
  allow(actor, "import");
  if (row.kind === "lots") return undoLots(db, row.id, reason, actor, nowIso());
  if (row.kind === "methods")
    return "Methods are kept by version: edit each on its own page, or take it out of use there.";
  return begin(db, row, {
    do: "undo",
    id: row.id,
    reason,
    actor: { id: actor.id, name: actor.name },
  });
}
