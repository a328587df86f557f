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
  runBeside,
  say,
  stop,
  tool,
} from "./lib/steps.mjs";
import { loadTestDemo } from "./lib/testDemo.mjs";

/** What was left out, for the last line. */
const leftOut = [];

/** Files of SQLite alone, and who may ask what: that is settled before any engine is asked. */
const ofNoOtherEngine = ["sqlite", "migrations", "guard", "rights", "archive", "backup", "operations"].map(
  (name) => `${name}.test.ts`,
);

/** They ask the engine nothing that others do not ask in the same words: what they hold is reckoned from it, on either. */
const askedElsewhere = [
  "quality/twentySamples",
  "results/arrival",
  "results/derived",
  "samples/anyOrder",
  "calibrations/certificate",
  "calibrations/startForm",
  "devices/simulatedProbe",
  "exchange/dataPackage",
].map((name) => `${name}.test.ts`);

/** The tests that keep something in a database. */
const testsOfStores = () =>
  readdirSync(join(root, "app/server"), { recursive: true, encoding: "utf8" })
    .filter((name) => name.endsWith(".test.ts") && !ofNoOtherEngine.includes(basename(name)))
    .filter((name) => !askedElsewhere.includes(name))
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

/** What goes on beside the steps after it, by its name. It is waited for later; meanwhile another step may end everything. */
const beside = new Map();
function begin(name, ended) {
  ended.catch(() => undefined);
  beside.set(name, ended);
}

/** What is asked of the code as it is written keeps one core busy for as long as the build does the other. */
async function checkCode() {
  await runBeside(process.execPath, [join(root, "node_modules/typescript-7/bin/tsc"), "--noEmit"]);
  await runBeside(join(root, "node_modules/.bin/knip"), []);
  await runBeside("npm", ["run", "--silent", "boundaries"]);
}

/** Where the demo data of the tests are loaded while other steps go on. */
const testDemo = join(root, "test-results", "demo", "demo.sqlite");

const steps = [
  ["Lint and format", () => tool("biome", ["check", "--error-on-warnings", "."])],
  // What looks for unused code reads the routes' own types.
  ["Types of the routes", () => tool("react-router", ["typegen"])],
  [
    "Build, beside it types, unused code and boundaries, and the demo data of the tests",
    () => {
      begin("code", checkCode());
      begin("demo", loadTestDemo(testDemo));
      return ensureBuild();
    },
  ],
  ["Types, unused code and boundaries", () => beside.get("code")],
  ["Demo data of the tests", () => beside.get("demo")],
  ["Unit and reference tests", () => tool("vitest", ["run"], { env: { BRINTEL_TEST_DEMO: testDemo } })],
  ["Stores on PostgreSQL", () => onPostgres()],
  [
    "End-to-end tests",
    (chromium) =>
      tool("playwright", ["test"], { env: { BRINTEL_CHROMIUM: chromium, BRINTEL_TEST_DEMO: testDemo } }),
  ],
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
