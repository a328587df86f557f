/** Loads the demo data into the database of BRINTEL_DATABASE, unless it holds data already. */

import { listPeople } from "../app/server/people/people.server";
import { databasePlace } from "../app/server/platform/database.server";
import { openDatabase } from "../app/server/platform/engine.server";
import { multiplyDemo } from "../demo/bulk";
import { loadDemo } from "../demo/load";

// Nobody's readings yet: thousands of writes need not each wait for the disk.
const db = await openDatabase(databasePlace(), { hurried: true });
if ((await listPeople(db)).length > 0) {
  process.stdout.write("The database holds data already; it is left as it is. (--fresh starts over.)\n");
} else {
  // Tests are told of a day that is old enough to have begun.
  const { BRINTEL_DEMO_AT } = process.env;
  const counts = await loadDemo(db, BRINTEL_DEMO_AT ? new Date(BRINTEL_DEMO_AT) : new Date());
  process.stdout.write(
    `Loaded Ellerwick Ponds: ${counts.calibrations} calibrations and ${counts.readings} readings over twelve weeks.\n`,
  );
}
await db.destroy();

const wanted = Number(process.argv.find((a) => a.startsWith("--readings="))?.split("=")[1] ?? 0);
if (wanted > 0) {
  process.stdout.write(`Making a database of ${wanted.toLocaleString("en")} readings from it.\n`);
  await multiplyDemo(databasePlace(), wanted, (text) => process.stdout.write(`  ${text}\n`));
}
