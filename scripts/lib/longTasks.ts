import { chromium } from "@playwright/test";
import { ulid } from "ulid";

/**
 * Opens the planner with forty runs in headless Chromium and prints the longest task of the page while the plan is made
 * and for three seconds after: what a technician would feel as a page that hangs.
 */
export async function measureLongTasks(base: string): Promise<void> {
  const executablePath = process.env.BRINTEL_CHROMIUM ?? "/usr/bin/chromium";
  const browser = await chromium.launch({ executablePath, args: ["--no-sandbox", "--disable-gpu"] });
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await page.goto(`${base}/people`);
    await page.getByRole("button", { name: /Noor/ }).click();
    await page.getByRole("navigation", { name: "The day" }).waitFor();
    await page.goto(`${base}/runs/plan`);
    const site = await page.getByLabel("Water").inputValue();
    const tests = Array.from({ length: 20 }, (_, i) => ({
      run: ulid(),
      method: i % 2 ? "phosphate-photometer" : "hardness-burette",
      site,
    }));
    const draft = { id: ulid(), tests, people: 1, align: "earliest" };
    await page.evaluate((text) => localStorage.setItem("brintel:plan", text), JSON.stringify(draft));
    await page.goto(`${base}/runs`);
    await page.evaluate(() => {
      const tasks: number[] = [];
      Object.assign(window, { longTasks: tasks });
      new PerformanceObserver((list) => tasks.push(...list.getEntries().map((e) => e.duration))).observe({
        entryTypes: ["longtask"],
      });
    });
    const begun = Date.now();
    // Within the page, so that the observer stays: as a technician would get there.
    await page.getByRole("link", { name: "Plan several at once" }).click();
    await page.locator(".lane").nth(39).waitFor({ timeout: 60_000 });
    const drawn = (Date.now() - begun) / 1000;
    await page.waitForTimeout(3000);
    const tasks = await page.evaluate(() => (window as unknown as { longTasks: number[] }).longTasks);
    console.log(
      `\nplanner page, 40 runs: lanes drawn after ${drawn.toFixed(2)} s; tasks over 50 ms: ${tasks.length}${tasks.length ? `, the longest ${Math.max(...tasks).toFixed(0)} ms` : ""}`,
    );
  } finally {
    await browser.close();
  }
}
