/**
 * npm run scale -- 10000 100000 1000000: times the server on databases of so many readings; they stay in data/scale. With `postgres` among
 * the words, each is moved to a PostgreSQL server too, by the archive, and timed there.
 */
import { existsSync, mkdirSync } from "node:fs";
import { openDatabase } from "../app/server/platform/engine.server";
import { writeArchive } from "../app/server/upkeep/archive.server";
import { readArchive } from "../app/server/upkeep/unarchive.server";
import { startPostgres } from "./lib/postgres.mjs";
import { makeScale, timeScale } from "./lib/scale";
import { ensureBuild } from "./lib/steps.mjs";

const folder = process.env.BRINTEL_SCALE ?? "data/scale";
const words = process.argv.slice(2);
const sizes = words.map(Number).filter(Boolean);

/** Moves a database to a server of its own, times it there, and throws it away. */
async function onServer(file: string): Promise<void> {
  const archive = `${file}.zip`;
  const seconds = (since: number) => `${((Date.now() - since) / 1000).toFixed(0)} s`;
  if (!existsSync(archive)) {
    const begun = Date.now();
    const db = await openDatabase(file, { migrate: false, once: true });
    await writeArchive(db, archive);
    await db.destroy();
    console.log(`\nwritten into an archive in ${seconds(begun)}`);
  }
  const server = await startPostgres({ durable: true });
  try {
    const begun = Date.now();
    await readArchive(archive, server.url);
    console.log(`read from the archive, and every record checked, in ${seconds(begun)}`);
    const db = await openDatabase(server.url, { migrate: false });
    await db.raw("vacuum analyze");
    await db.destroy();
    await timeScale(server.url);
  } finally {
    await server.stop();
  }
}

await ensureBuild();
mkdirSync(folder, { recursive: true });
for (const readings of sizes.length ? sizes : [10_000, 100_000, 1_000_000]) {
  const file = makeScale(folder, readings);
  await timeScale(file);
  if (words.includes("postgres")) await onServer(file);
}
