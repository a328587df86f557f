/** Begins to take a file over, says when it has come so far, and then holds still inside its transaction until it is killed. */

import { takeImport } from "../exchange/takeImport.server";
import { openDatabase } from "../platform/engine.server";
import { reached } from "./killed";

const [place = "", id = "", person_id = "", share = "0"] = process.argv.slice(2);
const db = await openDatabase(place);
await takeImport(db, id, { partly: false, person_id }, "2026-04-20T12:00:00.000Z", (done) => {
  if (done >= Number(share)) reached();
});
await db.destroy();
