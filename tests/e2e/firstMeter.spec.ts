import { expect, test } from "./server";
import { bySpace } from "./steps";

test.use({ data: "empty" });

test("an empty database leads to the first meter, its calibration and a reading", async ({ page }) => {
  await page.goto("/");
  await expect(page.getByRole("heading", { name: "Who are you?" })).toBeVisible();
  await page.getByRole("button", { name: "Go on" }).click();
  await expect(page.getByText("Type the name people know you by.")).toBeVisible();
  await page.getByLabel("Your name").fill("Sorrel Vane");
  await page.getByLabel("Choose a password").fill("water");
  await page.getByRole("button", { name: "Go on" }).click();
  await expect(page.getByText("At least 10 characters", { exact: false }).first()).toBeVisible();
  await page.getByLabel("Choose a password").fill("three brown ducks");
  await page.getByRole("button", { name: "Go on" }).click();

  await page.getByLabel("Name of the site").fill("Spring");
  await page.getByLabel("What water").fill("spring");
  await page.getByLabel("Lowest pH you expect").fill("7,9");
  await page.getByLabel("Highest pH you expect").fill("6.5");
  await page.getByRole("button", { name: "Go on" }).click();
  await expect(page.getByText("must be above the lower end")).toBeVisible();
  await expect(page.getByLabel("Name of the site")).toHaveValue("Spring");
  await page.getByLabel("Lowest pH you expect").fill("6.2");
  await page.getByRole("button", { name: "Go on" }).click();

  await page.getByLabel("Code").fill("K-1");
  await page.getByLabel("Which one is it").fill("Pocket meter");
  await page.getByText("Only pH", { exact: true }).click();
  await page.getByText("In the field", { exact: true }).click();
  await page.getByRole("button", { name: "Go on" }).click();

  for (const [buffer, code] of [
    ["Technical 4.01", "A4"],
    ["Technical 7.00", "A7"],
  ] as const) {
    await expect(page.getByRole("heading", { name: "The standards on your shelf" })).toBeVisible();
    await page.getByRole("combobox", { name: "Which buffer" }).click();
    await page.getByTitle(new RegExp(buffer)).last().click();
    await page.getByLabel("Lot on the bottle").fill(code);
    await page.getByLabel("Expires").fill("2099-12-31");
    // A browser writes a day in an order of its own.
    await expect(page.getByText("Thu 31 Dec 2099")).toBeVisible();
    await page.getByRole("button", { name: "Go on" }).click();
    if (code === "A4") await expect(page.getByText(/A4\. One more/)).toBeVisible();
  }

  await expect(page.getByRole("heading", { name: "Calibrate K-1" })).toBeVisible();
  await page.getByRole("button", { name: /^Start/ }).click();
  for (const [found, left] of [
    ["7.08", "7.02"],
    ["4,05", "4.00"],
  ]) {
    await bySpace(page, /^Rinsed/);
    await bySpace(page, /^The probe is in/);
    await page.getByLabel("Display before adjusting").fill(found ?? "");
    await page.getByLabel("Display after adjusting").fill(left ?? "");
    await page.getByLabel("Temperature").fill("20");
    await page.keyboard.press("Enter");
  }
  await bySpace(page, /^Judge/);
  await expect(page.getByRole("status")).toContainText("Sound. Apparent slope 100.3 %");
  await expect(
    page.getByText("No independent buffer was checked; the closing check will tell."),
  ).toBeVisible();
  await expect(page.getByText("7.08 → 7.02")).toBeVisible();
  await expect(page.getByText("the verdict rests on displayed values")).toBeVisible();

  await page.getByRole("link", { name: "Take a reading" }).click();
  await page.getByRole("button", { name: /^Start/ }).click();
  for (const shown of ["6.61", "6.64"]) {
    await bySpace(page, /^Rinsed/);
    await bySpace(page, /^The probe is in/);
    await page.getByLabel("Display", { exact: true }).fill(shown);
    await page.getByLabel("Temperature").fill("11.2");
    await page.keyboard.press("Enter");
  }
  await expect(page.getByText("0.03 pH apart")).toBeVisible();
  await bySpace(page, /^Judge/);
  await expect(page.getByRole("status")).toContainText("Sound.");
});
