/** Brings the database of BRINTEL_DATABASE up to date. */
import { database, databaseFile } from "../app/server/platform/database.server";

const db = await database();
process.stdout.write(`${databaseFile()} is up to date.\n`);
await db.destroy();
