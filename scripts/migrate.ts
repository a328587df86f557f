/** Brings the database of BRINTEL_DATABASE up to date. */
import { database, databasePlace } from "../app/server/platform/database.server";
import { calledPlace } from "../app/server/platform/engine.server";

const db = await database();
process.stdout.write(`${calledPlace(databasePlace())} is up to date.\n`);
await db.destroy();
