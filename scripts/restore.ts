/** Puts a backup in the place of the database, after checking both: `npm run restore -- data/backups/<file>`. Stop Brintel first. */
import { nowIso } from "../app/server/platform/clock.server";
import { databasePlace } from "../app/server/platform/database.server";
import { besidePlace, calledPlace } from "../app/server/platform/engine.server";
import { listBackups } from "../app/server/upkeep/backupFiles.server";
import { restoreBackup } from "../app/server/upkeep/restore.server";

const database = databasePlace();
const known = listBackups(besidePlace(database));
const asked = process.argv[2];
// "newest" is for a script at night; a person says which one.
const backup = asked === "newest" ? known[0]?.file : asked;
try {
  if (!backup) {
    const list = known.map((b) => `  ${b.file}  ${b.made_at}, ${b.journal.seq} entries`).join("\n");
    throw new Error(`Say which backup: npm run restore -- <file>\n${list || "  There is none."}`);
  }
  const { manifest, before } = await restoreBackup(backup, database, nowIso());
  process.stdout.write(
    `${calledPlace(database)} is as it was at ${manifest.made_at}, with ${manifest.journal.seq} entries of the journal. Everybody signs in anew.\n` +
      (before ? `What was there before lies in ${before}; delete it when nobody needs it.\n` : ""),
  );
} catch (error) {
  process.stderr.write(`${(error as Error).message}\n`);
  process.exitCode = 1;
}
