import { readFileSync } from "node:fs";
import { join } from "node:path";
import { gzipSync } from "node:zlib";
import { chromium } from "@playwright/test";
import { choosePerson } from "../../tests/e2e/steps";
import { tasksDuring } from "./longTasks";
import { median } from "./median";

/** Long enough for what a page does once it is there. */
const settle_ms = 2500;
const visits = 3;

const gzipped = (address: string): number =>
  gzipSync(readFileSync(join("build/client", address)), { level: 9 }).length;

/**
 * Opens each page in an empty browser, three times, and prints what its own thread was busy with longest (by the processor's time, and by
 * the clock), and how much script it was sent, gzipped.
 */
export async function measureFirstVisits(base: string, paths: readonly string[]): Promise<void> {
  const executablePath = process.env.BRINTEL_CHROMIUM ?? "/usr/bin/chromium-headless-shell";
  const browser = await chromium.launch({ executablePath, args: ["--no-sandbox", "--disable-gpu"] });
  try {
    const first = await browser.newPage({ baseURL: base });
    await choosePerson(first);
    const storageState = await first.context().storageState();
    console.log(
      "\nfirst visit        longest task, ms: processor (each)   wall    script, kB gzipped   files",
    );
    for (const path of paths) {
      const longest: { cpu_ms: number; wall_ms: number }[] = [];
      const scripts = new Set<string>();
      for (let i = 0; i < visits; i++) {
        const context = await browser.newContext({ storageState, viewport: { width: 1280, height: 800 } });
        const page = await context.newPage();
        page.on("requestfinished", (request) => {
          const { pathname } = new URL(request.url());
          if (pathname.endsWith(".js")) scripts.add(pathname);
        });
        longest.push(
          await tasksDuring(browser, page, async () => {
            await page.goto(base + path);
            await page.waitForTimeout(settle_ms);
          }),
        );
        await context.close();
      }
      const each = longest.map((l) => l.cpu_ms.toFixed(0)).join(" ");
      const kB = [...scripts].reduce((sum, script) => sum + gzipped(script), 0) / 1000;
      console.log(
        path.padEnd(28) +
          `${median(longest.map((l) => l.cpu_ms)).toFixed(0)} (${each})`.padStart(24) +
          median(longest.map((l) => l.wall_ms))
            .toFixed(0)
            .padStart(7) +
          kB.toFixed(0).padStart(20) +
          String(scripts.size).padStart(8),
      );
    }
  } finally {
    await browser.close();
  }
}
