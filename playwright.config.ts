import { defineConfig } from "@playwright/test";
import { enterStory } from "./tests/e2e/story";

// The tests begin when their story ends, whatever the day is: in whoever runs them, the servers, and the browsers.
enterStory();

export default defineConfig({
  testDir: "tests/e2e",
  globalSetup: "./tests/e2e/prepare.ts",
  outputDir: "test-results/e2e",
  // One more than a small machine has cores: a test waits for its page a third of the time.
  workers: 3,
  fullyParallel: true,
  timeout: 240_000,
  expect: { timeout: 30_000 },
  reporter: [["list"]],
  use: {
    actionTimeout: 45_000,
    viewport: { width: 1280, height: 800 },
    launchOptions: {
      executablePath: process.env.BRINTEL_CHROMIUM ?? "/usr/bin/chromium-headless-shell",
      args: [
        "--no-sandbox",
        "--disable-gpu",
        "--disable-quic",
        "--no-first-run",
        "--disable-background-networking",
        "--disable-component-update",
        "--disable-sync",
        // A test's page does not live long enough for what making its code quicker costs.
        "--js-flags=--no-opt --no-maglev",
      ],
    },
  },
});
