import { expect, test } from "./server";
import { begin, bySpace, calibrate, jumpTo, station } from "./steps";

test.beforeEach(async ({ page }) => {
  await page.goto("/");
});

test("aged glass: slow, usable with a note, and told what to do", async ({ page }) => {
  await begin(page, "Calibrate P-3");
  await calibrate(page, bySpace);
  await expect(page.getByRole("status")).toContainText(/Usable with a note. Slope 9[0-4]/);
  await expect(page.getByText("the glass is aged or dirty")).toBeVisible();
  await expect(page.getByText("soak the probe in storage solution overnight")).toBeVisible();
});

test("swapped buffers: recognised, failed, and not to be used", async ({ page }) => {
  await begin(page, "Calibrate P-4");
  await calibrate(page, bySpace);
  await expect(page.getByRole("status")).toContainText("Failed. Do not use this meter.");
  await expect(page.getByText(/were swapped: with their values exchanged/)).toBeVisible();
  await expect(page.getByRole("link", { name: "Calibrate again" })).toBeVisible();
});

test("an expired lot: only with a reason, and then with a note; a withdrawn one not at all", async ({
  page,
}) => {
  await jumpTo(page, "Calibrate P-2");
  await page.getByRole("combobox", { name: "First buffer" }).click();
  await expect(page.getByTitle(/B10-041 \(withdrawn\)/)).toHaveClass(/disabled/);
  await page.getByTitle(/B7-098 \(expired\)/).click();
  await page.getByRole("button", { name: /^Start/ }).click();
  await expect(page.getByRole("alert")).toContainText("B7-098 is past its date. Say why");
  await page.getByLabel("Why do you use a lot past its date?").fill("The good bottle is empty.");
  await page.getByRole("button", { name: /^Start/ }).click();
  await calibrate(page, bySpace);
  await expect(page.getByRole("status")).toContainText("Usable with a note");
  const why = page.getByRole("complementary", { name: "What this verdict rests on" });
  await expect(why).toContainText("Used because: The good bottle is empty.");
});

test("a reading outside the buffers: used with a note, and the missing buffer is named", async ({ page }) => {
  await begin(page, "Calibrate P-2");
  await calibrate(page, bySpace);
  await page.getByRole("link", { name: "Take a reading" }).click();
  await page.getByLabel("Sample").fill("outside");
  await page.keyboard.press("Enter");
  for (const mv of ["95", "95.4"]) {
    await bySpace(page, /^Rinsed/);
    await bySpace(page, /^The probe is in/);
    await page.keyboard.press("t");
    await page.getByLabel("Signal").fill(mv);
    await page.getByLabel("Temperature").fill("12.5");
    await page.keyboard.press("Enter");
  }
  await bySpace(page, /^Judge this reading/);
  await expect(page.getByRole("status")).toContainText("Use it with the note.");
  const outside = page.locator(".diagnosis").filter({ hasText: "outside the buffers" });
  await expect(outside).toContainText("Calibrate with a buffer below pH 5.");
  // Twelve weeks are known of this water.
  await expect(page.locator(".diagnosis").filter({ hasText: "Unusual for this site" })).toContainText(
    "Measure the control again",
  );
});

test("duplicates apart: a third portion, and a new sample when none agree", async ({ page }) => {
  await begin(page, "Calibrate P-2");
  await calibrate(page, bySpace);
  await page.getByRole("link", { name: "Take a reading" }).click();
  await page.getByRole("button", { name: /^Start/ }).press("Enter");
  await expect(page.getByText("in duplicate.")).toBeVisible();
  for (const mv of ["-20", "-40", "-60"]) {
    await bySpace(page, /^Rinsed/);
    await bySpace(page, /^The probe is in/);
    await page.keyboard.press("t");
    await page.getByLabel("Signal").fill(mv);
    await page.getByLabel("Temperature").fill("15");
    await page.keyboard.press("Enter");
  }
  await expect(page.getByText("a third decides")).toBeVisible();
  await bySpace(page, /^Judge this reading/);
  await expect(page.getByRole("status")).toContainText("Held");
  await expect(page.locator(".diagnosis")).toContainText("Collect a new sample");
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
