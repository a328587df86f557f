// npm test: installs what is missing (Chromium too), then lint, types, unused code, boundaries, unit, reference and
// end-to-end tests; the stores on PostgreSQL too, where it is or may be installed.
import { readdirSync, readFileSync } from "node:fs";
import { basename, join } from "node:path";
import { ensurePostgres, startPostgres } from "./lib/postgres.mjs";
import {
  ensureBuild,
  ensureChromium,
  ensurePackages,
  root,
  run,
  runBeside,
  say,
  stop,
  tool,
} from "./lib/steps.mjs";

/** What was left out, for the last line. */
const leftOut = [];

/** Files of SQLite alone, and who may ask what: that is settled before any engine is asked. */
const ofNoOtherEngine = ["sqlite", "migrations", "guard", "rights", "archive", "backup", "operations"].map(
  (name) => `${name}.test.ts`,
);

/** The tests that keep something in a database. */
const testsOfStores = () =>
  readdirSync(join(root, "app/server"), { recursive: true, encoding: "utf8" })
    .filter((name) => name.endsWith(".test.ts") && !ofNoOtherEngine.includes(basename(name)))
    .map((name) => join("app/server", name))
    .filter((file) =>
      /openTestDatabase|benchForEachTest|estBench|openDatabase/.test(readFileSync(file, "utf8")),
    );

/** The tests of what keeps records once more, on the other engine; what tests files of SQLite is not asked again. */
async function onPostgres() {
  if (!(await ensurePostgres())) {
    const sentence = "PostgreSQL is not on this machine and may not be installed: its tests were left out.";
    say(sentence);
    leftOut.push(sentence);
    return;
  }
  const server = await startPostgres();
  try {
    await tool("vitest", ["run", ...testsOfStores()], { env: { BRINTEL_TEST_POSTGRES: server.url } });
  } finally {
    await server.stop();
  }
}

/** The type check keeps one core busy for long: it goes on beside the short steps, which keep the other, and into the unit tests. */
let types;
function beginTypes() {
  types = runBeside(join(root, "node_modules", ".bin", "tsc"), ["--noEmit"]);
  // It is waited for later; meanwhile another step may end everything.
  types.catch(() => undefined);
}

const steps = [
  ["Lint and format", () => tool("biome", ["check", "--error-on-warnings", "."])],
  // What looks for unused code reads the routes' own types.
  ["Types of the routes", () => tool("react-router", ["typegen"])],
  ["Types (beside the next steps)", () => beginTypes()],
  ["Unused code", () => tool("knip", [])],
  ["Boundaries", () => run("npm", ["run", "--silent", "boundaries"])],
  ["Build", () => ensureBuild()],
  ["Unit and reference tests", () => tool("vitest", ["run"])],
  ["Types", () => types],
  ["Stores on PostgreSQL", () => onPostgres()],
  ["End-to-end tests", (chromium) => tool("playwright", ["test"], { env: { BRINTEL_CHROMIUM: chromium } })],
];

try {
  await ensurePackages();
  const chromium = await ensureChromium();
  const begun = Date.now();
  for (const [name, step] of steps) {
    say(name);
    await step(chromium);
  }
  say(
    [`All ${steps.length} steps passed in ${Math.round((Date.now() - begun) / 1000)} s`, ...leftOut].join(
      ". ",
    ),
  );
} catch (error) {
  stop(error.message);
}
