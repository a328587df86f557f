/** Begins a re-judging, says when it has come so far, and then holds still inside its transaction until it is killed. */

import { openDatabase } from "../platform/engine.server";
import { runRejudging } from "../results/rejudgeRun.server";
import { reached } from "./killed";

const [place = "", job = "", share = "0"] = process.argv.slice(2);
const db = await openDatabase(place);
await runRejudging(db, job, "2026-04-12T17:00:00.000Z", (done) => {
  if (done >= Number(share)) reached();
});
await db.destroy();
