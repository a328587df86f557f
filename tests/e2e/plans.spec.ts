import type { Page } from "@playwright/test";
import { rinseAndFill } from "./runSteps";
import { expect, test, wind } from "./server";

/** Puts a test on the plan as the page asks for it: method, water, add. */
async function plan(page: Page, method: string): Promise<void> {
  await page.getByLabel("Method", { exact: true }).fill(method);
  await page.keyboard.press("Enter");
  await page.getByRole("button", { name: "Add it" }).click();
}

test.beforeEach(({ page }) => page.clock.install());

test("a plan keeps its draft, is begun once, rings on every page, and drives its runs", async ({ page }) => {
  await page.goto("/runs/plan");
  await expect(page.getByRole("button", { name: "Add it" })).toBeDisabled();
  for (const name of ["Phosphate, squeeze tube", "Nitrate, squeeze tube", "pH strip"]) await plan(page, name);
  await page.getByRole("button", { name: /^Take out pH strip/ }).click();
  await page.getByRole("button", { name: "Read side by side at the end" }).click();
  await expect(page.locator(".lane")).toHaveCount(2);
  await expect(page.getByText("saved")).toBeVisible();
  await page.reload();
  await expect(page.locator(".lane")).toHaveCount(2);
  await page.getByRole("button", { name: "Start the plan" }).dblclick();
  const list = page.getByRole("list", { name: "What to begin, and when" });
  await expect(list.getByRole("listitem")).toHaveCount(2);
  // The plan is on the bench, not in this tab: every page shows what comes next, and a reload keeps it.
  await page.goto("/ledger");
  const rail = page.getByRole("navigation", { name: "The day" });
  await expect(rail.getByRole("link", { name: /^Begin next/ })).toBeVisible();
  await rail.getByRole("link", { name: /^The plan/ }).click();
  await list.getByRole("link", { name: "Begin" }).first().click();
  await page.getByRole("button", { name: /^Start/ }).click();
  await rinseAndFill(page, () => page.getByRole("button", { name: /^(Rinsed|Done)/ }).click());
  const run = page.url();
  await rail.getByRole("link", { name: /^The plan/ }).click();
  await expect(list.getByRole("listitem")).toHaveCount(1);
  await expect(page.locator(".lane.begun")).toHaveCount(1);
  // Begun again from another tab, the same test leads to the run that is open.
  await page.goto(`/runs/new/phosphate-tube?work=${run.split("/").at(-1)}`);
  await expect(page).toHaveURL(run);
  await page.goto("/runs/plan");
  await page.getByRole("button", { name: "Plan again from now" }).click();
  await expect(page.getByText("Planned anew from where the bench stands.")).toBeVisible();
  await expect(page.locator(".lane")).toHaveCount(2);
  await page.getByRole("button", { name: "Put the plan away" }).click();
  await expect(page.getByText("Add the tests you want to do")).toBeVisible();
});

test("duplicates share the wait: the second is begun while the first stands, and each clock is kept", async ({
  page,
}) => {
  await page.goto("/runs/new/phosphate-photometer");
  await page.getByRole("button", { name: /^Start/ }).click();
  const places = page.getByRole("group", { name: "Replicates" });
  const meanwhile = page.getByRole("button", { name: /^Meanwhile: the second/ });
  while (!(await meanwhile.isVisible())) {
    await page.getByRole("button", { name: /^(Done|Rinsed|Mixed|Zero is set)/ }).click();
    await expect(page.getByRole("region", { name: "The step in hand" })).toBeVisible();
    await page.waitForTimeout(150);
  }
  await page.keyboard.press("x");
  await expect(places.getByRole("button", { pressed: true })).toHaveText(/^2/);
  await page.reload();
  // What is in hand is not lost with the page: the first still waits, the second is still ready.
  await expect(places.getByRole("button", { name: /^2 ready/ })).toBeVisible();
  await page.keyboard.press("x");
  await expect(places.getByRole("button", { name: /^2 in hand/, pressed: true })).toBeVisible();
  await wind(page, 125_000);
  await page.getByRole("button", { name: /^Now: the first/ }).click();
  await expect(page.getByRole("timer")).toBeVisible();
  await expect(places.getByRole("button", { pressed: true })).toHaveText(/^1/);
});
