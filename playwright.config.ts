import { defineConfig } from "@playwright/test";

export default defineConfig({
  testDir: "tests/e2e",
  globalSetup: "./tests/e2e/prepare.ts",
  outputDir: "test-results/e2e",
  workers: 2,
  fullyParallel: true,
  timeout: 240_000,
  expect: { timeout: 30_000 },
  // A shared machine may stall for seconds; a second try that passes is reported as flaky, not hidden.
  retries: process.env.CI ? 2 : 0,
  reporter: [["list"]],
  use: {
    actionTimeout: 45_000,
    viewport: { width: 1280, height: 800 },
    launchOptions: {
      executablePath: process.env.BRINTEL_CHROMIUM ?? "/usr/bin/chromium",
      args: [
        "--no-sandbox",
        "--disable-gpu",
        "--disable-quic",
        "--no-first-run",
        "--disable-background-networking",
        "--disable-component-update",
        "--disable-sync",
      ],
    },
    // A trace of every action costs a third of the time: where a test is tried again, the second try is traced.
    trace: process.env.CI ? "on-first-retry" : "retain-on-failure",
  },
});
