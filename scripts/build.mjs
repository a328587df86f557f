// npm run build: builds the application whether or not anything has changed.
import { ensureBuild, ensurePackages } from "./lib/steps.mjs";

await ensurePackages();
await ensureBuild({ force: true });
