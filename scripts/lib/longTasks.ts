import { mkdtempSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { type Browser, chromium, type Page } from "@playwright/test";
import { ulid } from "ulid";
import { choosePerson } from "../../tests/e2e/steps";

/** What Chromium writes of one stretch of work of one of its threads; times in microseconds. */
interface TraceEvent {
  name: string;
  pid: number;
  tid: number;
  /** How long it lasted by the clock on the wall, and how much of that the processor worked for it. */
  dur?: number;
  tdur?: number;
  args?: { name?: string };
}

/** Where the page keeps the draft of a plan. */
const draftKey = "brintel:plan";

interface Longest {
  wall_ms: number;
  cpu_ms: number;
  over: number;
}

/** The tasks of the page's own thread while something is done, from Chromium's trace. */
export async function tasksDuring(browser: Browser, page: Page, what: () => Promise<void>): Promise<Longest> {
  const folder = mkdtempSync(join(tmpdir(), "brintel-trace-"));
  const path = join(folder, "trace.json");
  try {
    await browser.startTracing(page, {
      path,
      categories: ["toplevel", "disabled-by-default-devtools.timeline", "__metadata"],
    });
    await what();
    await browser.stopTracing();
    const { traceEvents } = JSON.parse(readFileSync(path, "utf8")) as { traceEvents: TraceEvent[] };
    const thread = ({ pid, tid }: TraceEvent) => `${pid} ${tid}`;
    const pages = new Set(
      traceEvents
        .filter((e) => e.name === "thread_name" && e.args?.name === "CrRendererMain")
        .map((e) => thread(e)),
    );
    const tasks = traceEvents.filter((e) => e.name === "RunTask" && pages.has(thread(e)));
    if (tasks.length === 0) throw new Error("Chromium's trace holds no task of the page.");
    const most = (values: number[]) => Math.max(...values) / 1000;
    return {
      wall_ms: most(tasks.map((e) => e.dur ?? 0)),
      cpu_ms: most(tasks.map((e) => e.tdur ?? 0)),
      over: tasks.filter((e) => (e.tdur ?? 0) > 50_000).length,
    };
  } finally {
    rmSync(folder, { recursive: true });
  }
}

/**
 * Plans forty runs in headless Chromium and prints the longest task of the page: what a technician would feel as a page
 * that hangs. The processor's time tells what the page does; the wall's adds what else a busy machine does meanwhile.
 */
export async function measureLongTasks(base: string): Promise<void> {
  const executablePath = process.env.BRINTEL_CHROMIUM ?? "/usr/bin/chromium-headless-shell";
  const browser = await chromium.launch({ executablePath, args: ["--no-sandbox", "--disable-gpu"] });
  try {
    const page = await browser.newPage({ baseURL: base, viewport: { width: 1280, height: 800 } });
    await choosePerson(page);
    await page.goto(`${base}/runs/plan`);
    const site = await page.getByLabel("Water").inputValue();
    const lanes = async () => {
      await page.locator(".lane").nth(39).waitFor({ timeout: 60_000 });
      await page.getByText("Planning …").waitFor({ state: "hidden" });
      await page.waitForTimeout(2500);
    };
    console.log(
      "\nplanner page, 40 runs          longest task, ms: processor   wall   tasks over 50 ms of processor",
    );
    for (let visit = 1; visit <= 3; visit++) {
      const tests = Array.from({ length: 20 }, (_, i) => ({
        run: ulid(),
        method: i % 2 ? "phosphate-photometer" : "hardness-burette",
        site,
      }));
      const draft = JSON.stringify({ id: ulid(), tests, people: 1, align: "earliest" });
      await page.evaluate(([key, text]) => localStorage.setItem(key, text), [draftKey, draft] as const);
      await page.goto(`${base}/runs`);
      await page.waitForTimeout(1000);
      const steps: [string, () => Promise<void>][] = [
        // Within the page, as a technician would get there.
        ["opened and planned", () => page.getByRole("link", { name: "Plan several at once" }).click()],
        ["for two people", () => page.getByRole("button", { name: "Two people" }).click()],
        ["read side by side", () => page.getByRole("button", { name: /^Read side by side/ }).click()],
        ["started", () => page.getByRole("button", { name: "Start the plan" }).click()],
      ];
      for (const [name, step] of steps) {
        const { wall_ms, cpu_ms, over } = await tasksDuring(browser, page, async () => {
          await step();
          await lanes();
        });
        console.log(
          `visit ${visit}, ${name}`.padEnd(48) +
            `${cpu_ms.toFixed(0).padStart(9)}${wall_ms.toFixed(0).padStart(7)}${String(over).padStart(34)}`,
        );
      }
      await page.getByRole("button", { name: "Put the plan away" }).click();
      await page.getByText("Add the tests you want to do").waitFor();
    }
  } finally {
    await browser.close();
  }
}

/** Opens a page within the application, three times, and prints the longest task of it. */
export async function measureOpening(base: string, path: string): Promise<void> {
  const executablePath = process.env.BRINTEL_CHROMIUM ?? "/usr/bin/chromium-headless-shell";
  const browser = await chromium.launch({ executablePath, args: ["--no-sandbox", "--disable-gpu"] });
  try {
    const page = await browser.newPage({ baseURL: base, viewport: { width: 390, height: 844 } });
    await choosePerson(page);
    for (let i = 1; i <= 3; i++) {
      await page.goto(`${base}/visits`);
      await page.waitForTimeout(1500);
      const { wall_ms, cpu_ms, over } = await tasksDuring(browser, page, async () => {
        await page.locator(`a[href="${path}"]`).first().click();
        await page.locator(".visit-item").first().waitFor();
        await page.waitForTimeout(2500);
      });
      console.log(
        `opened on a phone, time ${i}: longest task ${cpu_ms.toFixed(0)} ms of processor, ${wall_ms.toFixed(0)} ms by the wall, ${over} over 50 ms`,
      );
    }
  } finally {
    await browser.close();
  }
}
