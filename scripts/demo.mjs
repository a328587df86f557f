// npm run demo: installs what is missing, builds, migrates, loads the demo data, serves, prints the address.
// npm run demo -- --fresh starts over with new demo data; -- --fresh --readings 1000000 makes years of it.
import { readFileSync, rmSync } from "node:fs";
import { join } from "node:path";
import { ensureBuild, ensurePackages, root, run, say, stop } from "./lib/steps.mjs";

const database = process.env.BRINTEL_DATABASE ?? join(root, "data", "demo.sqlite");
const env = { BRINTEL_DATABASE: database, NODE_ENV: "production" };

try {
  await ensurePackages();
  if (process.argv.includes("--fresh")) {
    say("Starting over with fresh demo data");
    for (const end of ["", "-wal", "-shm"]) rmSync(database + end, { force: true });
  }
  await ensureBuild();
  say("Bringing the database up to date and loading the demo data");
  const asked = process.argv.indexOf("--readings");
  const many = asked > 0 ? [`--readings=${process.argv[asked + 1] ?? ""}`] : [];
  await run(process.execPath, ["scripts/run.mjs", "scripts/seed.ts", ...many], { env });
  const { note } = JSON.parse(readFileSync(join(root, "demo", "signIn.json"), "utf8"));
  say(note);
  say("Starting Brintel (stop it with Ctrl+C)");
  await run(process.execPath, ["server.mjs"], { env: { ...env, BRINTEL_SIGN_IN_NOTE: note } });
} catch (error) {
  stop(error.message);
}
