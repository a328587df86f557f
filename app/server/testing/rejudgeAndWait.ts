import { runRejudging } from "../results/rejudgeRun.server";
/** Begins a re-judging, says when it has come so far, and then holds still inside its transaction until it is killed. */

import { openDatabase } from "../platform/engine.server";

const [file = "", job = "", share = "0"] = process.argv.slice(2);
const db = await openDatabase(file);
const stand = new Int32Array(new SharedArrayBuffer(4));
await runRejudging(db, job, "2026-04-12T17:00:00.000Z", (done) => {
  if (done < Number(share)) return;
  process.stdout.write("reached\n");
  // Give the word time to arrive, then block: nothing more is written until the kill comes.
  Atomics.wait(stand, 0, 0, 30_000);
});
await db.destroy();
