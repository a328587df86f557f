// npm test: installs what is missing (Chromium too), then lint, types, unused code, boundaries, unit, reference and end-to-end tests.
import { ensureBuild, ensureChromium, ensurePackages, run, say, stop, tool } from "./lib/steps.mjs";

const steps = [
  ["Lint and format", () => tool("biome", ["check", "--error-on-warnings", "."])],
  // The routes' own types are written by the type check; what looks for unused code reads them.
  ["Types", () => run("npm", ["run", "--silent", "types"])],
  ["Unused code", () => tool("knip", [])],
  ["Boundaries", () => run("npm", ["run", "--silent", "boundaries"])],
  ["Unit and reference tests", () => tool("vitest", ["run"])],
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
  say(`All ${steps.length} steps passed in ${Math.round((Date.now() - begun) / 1000)} s`);
} catch (error) {
  stop(error.message);
}
