import type { Page } from "@playwright/test";
import { expect, wind } from "./server";

/** Opens the start of a method, names what is asked for, and begins. */
export async function start(page: Page, method: string, fields: Record<string, string> = {}): Promise<void> {
  await page.goto(`/runs/new/${method}`);
  for (const [label, text] of Object.entries(fields))
    await page.getByLabel(label, { exact: true }).fill(text);
  await page.getByRole("button", { name: /^Start/ }).focus();
  await page.keyboard.press("Enter");
  await expect(page.getByRole("region", { name: "The step in hand" })).toBeVisible();
}

export const obvious = /^(Done|Rinsed|Mixed|Zero is set|Disposed of)/;

/** Ticks the three rinses of the step in hand, and that its vessel is filled; by the space bar unless it is said otherwise. */
export async function rinseAndFill(
  page: Page,
  press: () => Promise<void> = () => page.keyboard.press("Space"),
): Promise<void> {
  for (let ticked = 0; ticked < 3; ticked++) {
    await expect(page.getByText(`rinsed ${ticked} of 3 times`)).toBeVisible();
    await press();
  }
  await expect(page.getByRole("button", { name: /^Done/ })).toBeVisible();
  await press();
}

/** Lets the browser's clock run on to the end of the wait in hand, if there is one. */
export async function waitOut(page: Page): Promise<void> {
  const timer = page.getByRole("timer");
  if ((await timer.count()) === 0) return;
  const text = ((await timer.textContent()) ?? "").trim();
  if (text.startsWith("+")) return;
  const [minutes = 0, seconds = 0] = text.split(":").map(Number);
  await wind(page, (minutes * 60 + seconds) * 1000);
}

/** Does the obvious thing by the space bar, waits kept, until something is to be read. */
export async function toReading(page: Page): Promise<void> {
  const card = page.getByRole("region", { name: "The step in hand" });
  for (let i = 0; i < 20; i++) {
    const button = page.getByRole("button", { name: obvious });
    await expect(
      button.or(page.locator(".run-card form, .run-card fieldset, .drop-target, .curve")).first(),
    ).toBeVisible();
    await waitOut(page);
    if ((await button.count()) === 0) return;
    await expect(button).toBeEnabled();
    const before = await card.textContent();
    await page.keyboard.press("Space");
    await expect.poll(() => card.textContent()).not.toBe(before);
  }
}

/** Types a reading and keeps it; what comes next is waited for, or the field would be taken for the next one. */
export async function enter(page: Page, label: string | RegExp, value: string): Promise<void> {
  const field = page.getByLabel(label, { exact: typeof label === "string" });
  await field.fill(value);
  await page.keyboard.press("Enter");
  await expect
    .poll(async () => ((await field.count()) === 0 ? "" : await field.inputValue().catch(() => "")))
    .not.toBe(value);
}

/** What is left after the readings, and the judgement. */
export async function judge(page: Page): Promise<void> {
  for (let i = 0; i < 3; i++) {
    const end = page.getByRole("button", { name: /^Judge this run/ });
    await expect(page.getByRole("button", { name: obvious }).or(end)).toBeVisible();
    if (await end.isVisible()) break;
    await page.keyboard.press("Space");
    await expect(end).toBeVisible();
  }
  await page.keyboard.press("Space");
  await expect(page.getByRole("complementary", { name: "What this result rests on" })).toBeVisible();
}

/** Stops the browser's clock, so that what follows takes no time however slow the machine is. */
export async function stopClock(page: Page): Promise<void> {
  const now = await page.evaluate(() => Date.now());
  await page.clock.pauseAt(now + 1500);
}
