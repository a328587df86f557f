// npm test: installs what is missing (Chromium too), then lint, types, unused code, boundaries, unit, reference and
// end-to-end tests; the stores on PostgreSQL too, where it is or may be installed.
import { ensurePostgres, startPostgres } from "./lib/postgres.mjs";
import { ensureBuild, ensureChromium, ensurePackages, run, say, stop, tool } from "./lib/steps.mjs";

/** What was left out, for the last line. */
const leftOut = [];

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
    await tool(
      "vitest",
      ["run", "app/server", "--exclude=**/sqlite.test.ts", "--exclude=**/migrations.test.ts"],
      {
        env: { BRINTEL_TEST_POSTGRES: server.url },
      },
    );
  } finally {
    await server.stop();
  }
}

const steps = [
  ["Lint and format", () => tool("biome", ["check", "--error-on-warnings", "."])],
  // The routes' own types are written by the type check; what looks for unused code reads them.
  ["Types", () => run("npm", ["run", "--silent", "types"])],
  ["Unused code", () => tool("knip", [])],
  ["Boundaries", () => run("npm", ["run", "--silent", "boundaries"])],
  ["Unit and reference tests", () => tool("vitest", ["run"])],
  ["Stores on PostgreSQL", () => onPostgres()],
  ["Build", () => ensureBuild()],
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
