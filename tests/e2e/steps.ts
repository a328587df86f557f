import AxeBuilder from "@axe-core/playwright";
import { expect, type Page } from "@playwright/test";
import demo from "../../demo/signIn.json" with { type: "json" };

/** How a technician presses the obvious button: with the space bar, or with a finger. */
export type Press = (page: Page, name: RegExp) => Promise<void>;

export const bySpace: Press = async (page, name) => {
  await expect(page.getByRole("button", { name })).toBeVisible();
  await page.keyboard.press("Space");
};
export const byTouch: Press = (page, name) => page.getByRole("button", { name }).tap();

/** Somebody says who they are, Noor where nobody else is named: chooses the name and types the password. */
export async function choosePerson(
  page: Page,
  how: "keyboard" | "touch" = "keyboard",
  who = /Noor Haddow/,
): Promise<void> {
  await page.goto("/sign-in");
  const name = page.getByRole("link", { name: who });
  if (how === "touch") await name.tap();
  else {
    await name.focus();
    await page.keyboard.press("Enter");
  }
  await page.getByLabel("Your password").fill(demo.password);
  if (how === "touch") await page.getByRole("button", { name: "Go on" }).tap();
  else await page.keyboard.press("Enter");
  await expect(page.getByRole("navigation", { name: "The day" })).toBeVisible();
}

/** Opens a place through the jump box. */
export async function jumpTo(page: Page, text: string): Promise<void> {
  const box = page.getByRole("textbox", { name: "Jump to" });
  await page.keyboard.press("/");
  await box.fill(text);
  await expect(page.locator(".jump-list button").first()).toContainText(text);
  await page.keyboard.press("Enter");
}

/** Rinses, puts the probe in and captures when steady, once. */
export async function station(page: Page, press: Press): Promise<void> {
  await press(page, /^Rinsed/);
  await press(page, /^The (probe|cell) is in/);
  await expect(page.getByRole("button", { name: /^Capture (when steady|it)/ })).toBeEnabled();
  await press(page, /^Capture (when steady|it)/);
  await expect(page.getByRole("button", { name: /^(Rinsed|Judge)/ })).toBeVisible({ timeout: 30_000 });
}

/** Three buffers, then the judgement. */
export async function calibrate(page: Page, press: Press): Promise<void> {
  for (let i = 0; i < 3; i++) await station(page, press);
  await press(page, /^Judge this calibration/);
  await expect(page.getByRole("status")).toContainText(/Sound|Usable|Failed/);
}

/** Jumps to the start of a calibration or a reading and begins with what is proposed. */
export async function begin(page: Page, text: string): Promise<void> {
  await jumpTo(page, text);
  await expect(page.getByRole("button", { name: /^Start/ })).toBeFocused();
  await page.keyboard.press("Enter");
}

/** What is readable is judged in the page itself, which has no frames: a second page for each judgement costs a second. */
export const axeOf = (page: Page): AxeBuilder =>
  new AxeBuilder({ page }).setLegacyMode(true).options({ resultTypes: ["violations"] });

export type Violations = { id: string; nodes: { target: unknown }[] }[];

/** Holds that nothing was found, and says of what was found where it stands. */
export function expectNone(violations: Violations, where: string): void {
  const found = violations.map((v) => `${v.id}: ${v.nodes.map((n) => n.target).join(" | ")}`);
  expect(found, where).toEqual([]);
}

/** Holds that a page is readable as it stands: by levels A and AA of WCAG 2, where nothing else is asked. */
export async function expectReadable(
  page: Page,
  axe = axeOf(page).withTags(["wcag2a", "wcag2aa"]),
): Promise<void> {
  expectNone((await axe.analyze()).violations, page.url());
}
