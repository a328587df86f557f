// npm start: serves the application on its own database; an empty one leads the first user through the first meter.
import { ensureBuild, ensurePackages, run, stop } from "./lib/steps.mjs";

try {
  await ensurePackages();
  await ensureBuild();
  await run(process.execPath, ["server.mjs"], { env: { NODE_ENV: "production" } });
} catch (error) {
  stop(error.message);
}
