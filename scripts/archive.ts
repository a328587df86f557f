/**
 * Everything as one open file, and back: `npm run archive -- out.zip` writes the database into a zip of NDJSON; `npm run archive -- read in.zip`
 * makes a new database of one, at BRINTEL_DATABASE.
 */
import { databasePlace } from "../app/server/platform/database.server";
import { calledPlace, openDatabase } from "../app/server/platform/engine.server";
import { writeArchive } from "../app/server/upkeep/archive.server";
import { readArchive } from "../app/server/upkeep/unarchive.server";

const [first, second] = process.argv.slice(2);
try {
  const rows = (tables: readonly { rows: number }[]) => tables.reduce((sum, t) => sum + t.rows, 0);
  if (first === "read" && second) {
    const { tables } = await readArchive(second, databasePlace());
    process.stdout.write(
      `${calledPlace(databasePlace())}: ${rows(tables)} rows of ${tables.length} tables, checked.\n`,
    );
  } else if (first && first !== "read") {
    const db = await openDatabase(databasePlace(), { migrate: false, once: true });
    const { tables } = await writeArchive(db, first);
    await db.destroy();
    process.stdout.write(`${first}: ${rows(tables)} rows of ${tables.length} tables.\n`);
  } else {
    throw new Error(
      "Say where to: npm run archive -- out.zip, or from where: npm run archive -- read in.zip",
    );
  }
} catch (error) {
  process.stderr.write(`${(error as Error).message}\n`);
  process.exitCode = 1;
}
