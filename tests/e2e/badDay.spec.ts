import { expect, test } from "./server";
import { begin, bySpace, jumpTo, station } from "./steps";

test.beforeEach(async ({ page }) => {
  await page.goto("/");
});

test("an expired lot: only with a reason; a withdrawn one not at all", async ({ page }) => {
  await jumpTo(page, "Calibrate P-2");
  await page.getByRole("combobox", { name: "First buffer" }).click();
  await expect(page.getByTitle(/B10-041 \(withdrawn\)/)).toHaveClass(/disabled/);
  await page.getByTitle(/B7-098 \(expired\)/).click();
  await page.getByRole("button", { name: /^Start/ }).click();
  await expect(page.getByRole("alert")).toContainText("B7-098 is past its date. Say why");
  await page.getByLabel("Why do you use a lot past its date?").fill("The good bottle is empty.");
  await page.getByRole("button", { name: /^Start/ }).click();
  await expect(page.getByRole("button", { name: /^Rinsed/ })).toBeVisible();
});

test("a meter never calibrated today: its reading is announced as held before it is taken", async ({
  page,
}) => {
  await jumpTo(page, "Take a reading with P-4");
  await expect(page.getByText("A reading now will be held.")).toBeVisible();
  await expect(page.getByRole("link", { name: "Calibrate it first" })).toBeVisible();
});

test("two points typed into a pocket meter that does not move are questioned", async ({ page }) => {
  await begin(page, "Calibrate P-1");
  for (let i = 0; i < 3; i++) {
    await bySpace(page, /^Rinsed/);
    await bySpace(page, /^The probe is in/);
    await page.getByLabel(/^Display( before adjusting)?$/).fill("7.00");
    await page.getByLabel("Temperature").fill("20");
    await page.keyboard.press("Enter");
  }
  await bySpace(page, /^Judge/);
  await expect(page.getByRole("status")).toContainText("Failed");
  await expect(page.getByText("The display shows the same value in different buffers")).toBeVisible();
});

test("giving up leaves nothing judged", async ({ page }) => {
  await begin(page, "Calibrate P-2");
  await station(page, bySpace);
  await page.getByRole("button", { name: "Give up" }).click();
  await expect(page.getByText("This calibration was given up.")).toBeVisible();
});
