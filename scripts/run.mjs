// Runs a TypeScript script of this project with Node: node scripts/run.mjs <script.ts> [arguments]

import { resolve } from "node:path";
import { pathToFileURL } from "node:url";
import { ensurePackages } from "./lib/steps.mjs";

await ensurePackages({ quiet: true });
const { register } = await import("tsx/esm/api");
register();
const script = resolve(process.argv[2]);
process.argv.splice(1, 2, script);
await import(pathToFileURL(script).href);
