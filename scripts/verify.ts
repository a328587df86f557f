/**
 * Checks the journal's chain, the events it seals, its end against the seals beside the file, and everything that was signed:
 * `npm run verify`. Ends with 1 where something does not fit.
 */
import { nowIso } from "../app/server/platform/clock.server";
import { databasePlace } from "../app/server/platform/database.server";
import { calledPlace, openDatabase } from "../app/server/platform/engine.server";
import { verifyRecords } from "../app/server/upkeep/verify.server";

const file = process.argv[2] ?? databasePlace();
const db = await openDatabase(file, { migrate: false, once: true });
const begun = Date.now();
const { entries, signed, faults } = await verifyRecords(db);
await db.destroy();
const seconds = ((Date.now() - begun) / 1000).toFixed(1);
process.stdout.write(
  `${nowIso()} ${calledPlace(file)}: ${entries} entries, ${signed} signed results, ${seconds} s.\n`,
);
for (const { what, id, sentence } of faults) process.stdout.write(`  ${what} ${id}: ${sentence}\n`);
process.stdout.write(faults.length ? `${faults.length} do not fit.\n` : "Everything fits.\n");
process.exitCode = faults.length ? 1 : 0;
