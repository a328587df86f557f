/** Makes a backup of the database, also while it is in use: `npm run backup`. */
import { nowIso } from "../app/server/platform/clock.server";
import { databasePlace } from "../app/server/platform/database.server";
import { makeBackup } from "../app/server/upkeep/backup.server";

try {
  const { file, bytes, journal } = await makeBackup(databasePlace(), nowIso());
  process.stdout.write(
    `${file}: ${(bytes / 1e6).toFixed(1)} MB, ${journal.seq} entries of the journal, checked.\n`,
  );
} catch (error) {
  process.stderr.write(`${(error as Error).message}\n`);
  process.exitCode = 1;
}
