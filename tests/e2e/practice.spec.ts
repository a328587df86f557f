import type { Locator, Page } from "@playwright/test";
import { replay } from "../../core/bench/event";
import { defaultHouseRules } from "../../core/rules/houseRules";
import { runFolding } from "../../core/runs/run";
import type { RunEvent } from "../../core/runs/runEvents";
import type { RunState } from "../../core/runs/runState";
import { practiceStart } from "../../core/simulation/practiceRun";
import { endOf, practiceWater } from "../../core/simulation/practiceWater";
import { libraryMethod } from "../../core/simulation/runPlayer";
import { obvious } from "./runSteps";
import { expect, test, wind } from "./server";
import { expectReadable } from "./steps";

test.beforeEach(({ page }) => page.clock.install());

/** What the water of the page takes to its end point: the test knows what the technician cannot. */
function endHere(page: Page, id: string): number {
  const method = libraryMethod(id);
  const water = new URL(page.url()).pathname.split("/").at(-1) ?? "";
  const started = practiceStart(method, defaultHouseRules, {
    id: water,
    at: "2026-11-26T08:00:00.000Z",
    by: "p",
  });
  const { state } = replay<RunState, RunEvent>([started], runFolding);
  const end = state && endOf(state, practiceWater(method, water).held[method.result.parameter] ?? 0);
  if (!end) throw new Error("Nothing is titrated here.");
  return end;
}

/** Does the obvious thing, and lets the time of waits pass but for its last seconds, until there is something to titrate. */
async function toVessel(
  page: Page,
  vessel: Locator,
  press: (button: Locator) => Promise<void>,
): Promise<void> {
  const card = page.getByRole("region", { name: "The step in hand" });
  const pass = page.getByRole("button", { name: "Let the time pass" });
  const next = page.getByRole("button", { name: obvious });
  for (;;) {
    await expect(next.or(pass).or(vessel).first()).toBeVisible();
    if (await vessel.isVisible()) return;
    const before = await card.textContent();
    if (await pass.isVisible()) {
      await press(pass);
      await expect(page.getByRole("timer")).toHaveText(/^(0:0[0-5]|\+0:\d\d)$/);
      await wind(page, 6000);
    } else await press(next);
    await expect.poll(() => card.textContent()).not.toBe(before);
  }
}

test("drops are practised by keyboard: the colour turns at its drop, a reload loses nothing, and nothing is sent", async ({
  page,
}) => {
  const sent: string[] = [];
  page.on("request", (request) => {
    if (request.method() !== "GET" && request.url().includes("/bench/")) sent.push(request.url());
  });
  await page.goto("/practice");
  await page.getByRole("link", { name: /^Dissolved oxygen, drop count/ }).focus();
  await page.keyboard.press("Enter");
  const flask = page.getByRole("figure");
  const drops = page.getByRole("button", { name: "One drop" });
  const byKey = async (button: Locator) => {
    await button.focus();
    await page.keyboard.press("Enter");
  };
  await toVessel(page, drops, byKey);
  const end = Math.ceil(endHere(page, "oxygen-drops"));
  await expect(flask).toHaveText("dark blue");
  for (let i = 0; i < 2; i++) await page.keyboard.press("Space");
  await expect(drops).toContainText("2");
  await page.reload();
  await expect(drops).toContainText("2");
  for (let drop = 3; drop <= end; drop++) {
    await page.keyboard.press("Space");
    await expect(drops).toContainText(String(drop));
  }
  await page.keyboard.press("Space");
  await expect(flask).toHaveText("colourless");
  await page.keyboard.press("Backspace");
  await expect(drops).toContainText(String(end));
  await page.keyboard.press("Enter");
  await toVessel(page, drops, byKey);
  for (let drop = 1; drop <= end + 4; drop++) await page.keyboard.press("Space");
  await expect(drops).toContainText(String(end + 4));
  await page.keyboard.press("Enter");
  // Four apart are too many: a third is asked for, from the water that was kept.
  await expect(page.getByText(/The first results do not agree/)).toBeVisible();
  await toVessel(page, drops, byKey);
  for (let drop = 1; drop <= end; drop++) await page.keyboard.press("Space");
  await expect(drops).toContainText(String(end));
  await page.keyboard.press("Enter");
  await expect(page.getByRole("button", { name: obvious })).toBeVisible();
  await page.keyboard.press("Space");
  await expect(page.getByRole("button", { name: /^Judge this run/ })).toBeVisible();
  await page.keyboard.press("Space");
  const report = page.getByRole("region", { name: "Dissolved oxygen" });
  await expect(report).toContainText("within what the method allows");
  await expect(report).toContainText("First titration: ended with the right drop.");
  await expect(report).toContainText("Second titration: 4 drops past the end point.");
  await expectReadable(page);
  await page.getByRole("link", { name: "Other methods" }).click();
  await expect(page.getByRole("link", { name: /^Dissolved oxygen, drop count/ })).toContainText(
    "within what the method allows",
  );
  await expect(page.getByRole("heading", { name: "Open now" })).toHaveCount(0);
  expect(sent).toEqual([]);
});

test.describe("by touch on a phone", () => {
  test.use({ viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true });
  test("a burette is let run and read by eye; the time of a wait is let pass", async ({ page }) => {
    const tap = async (name: string | RegExp) => page.getByRole("button", { name }).first().tap();
    await page.goto("/practice/oxygen-burette");
    const field = page.getByLabel(/^The burette/);
    await toVessel(page, field, (button) => button.tap());
    const scale = page.getByRole("img", { name: /^The meniscus stands at/ });
    const level = async () => Number(/[\d.]+$/.exec((await scale.getAttribute("aria-label")) ?? "")?.[0]);
    const begin = await level();
    await field.fill("full");
    await tap(/^Keep/);
    await expect(page.getByText(/is not a number/)).toBeVisible();
    await field.fill(String(begin));
    await tap(/^Keep/);
    let left = Math.ceil(endHere(page, "oxygen-burette") / 0.05 - 1e-6);
    for (const [button, doses] of [
      ["1 mL", 20],
      ["0.2 mL", 4],
      ["One drop", 1],
    ] as const)
      for (; left >= doses; left -= doses)
        await page.getByRole("button", { name: button, exact: true }).tap();
    const stands = await level();
    await page.reload();
    expect(await level()).toBe(stands);
    await page.getByLabel("The burette at the end point").fill(String(stands));
    await tap(/^End point/);
    await expect(page.getByLabel(/^The burette at the end point/)).toHaveCount(0);
    await tap("Give up");
    await expect(page.getByText("Given up. Nothing of it is in the records.")).toBeVisible();
  });
});
