import { expect, test } from "./server";
import { bySpace, choosePerson, jumpTo, station } from "./steps";

test.describe("from the people list", () => {
  test.use({ person: "nobody" });
  test("the whole path by keyboard alone, with bad input and a reload on the way", async ({ page }) => {
    await choosePerson(page);
    await expect(page.getByText("P-2 is not calibrated today")).toBeVisible();

    await page.keyboard.press("g");
    await page.keyboard.press("m");
    await expect(page.getByRole("heading", { name: "Meters" })).toBeVisible();
    await jumpTo(page, "Calibrate P-2");
    await expect(page.getByRole("button", { name: /^Start/ })).toBeFocused();
    await page.keyboard.press("Enter");

    await station(page, bySpace);
    await page.reload();
    await expect(page.getByRole("listitem").filter({ hasText: "−" }).first()).toContainText("mV");
    await bySpace(page, /^Rinsed/);
    await bySpace(page, /^The probe is in/);
    await expect(page.getByTestId("live-value")).not.toHaveText("–");

    // Typed by hand, first wrongly.
    await page.keyboard.press("t");
    await page.getByLabel("Signal").fill("a lot");
    await page.getByLabel("Temperature").fill("20,4");
    await page.keyboard.press("Enter");
    await expect(page.getByText("“a lot” is not a number")).toBeVisible();
    await expect(page.getByText("Understood: 20.4 °C")).toBeVisible();
    await page.reload();
    // A key counts once the page listens; the live value is the sign of it.
    await expect(page.getByTestId("live-value")).not.toHaveText("–");
    await page.keyboard.press("t");
    await expect(page.getByLabel("Temperature")).toHaveValue("20,4");
    await page.getByRole("button", { name: "Back to the live value" }).press("Enter");
    await bySpace(page, /^Capture (when steady|it)/);
    await expect(page.getByRole("button", { name: /^Rinsed/ })).toBeVisible({ timeout: 20_000 });

    // Undo, and measure it again.
    await page.keyboard.press("Backspace");
    await bySpace(page, /^Capture (when steady|it)/);
    await station(page, bySpace);
    await bySpace(page, /^Judge this calibration/);
    await expect(page.getByRole("status")).toContainText("Sound. Slope 9");
    await expect(page.getByRole("navigation", { name: "The day" })).toContainText("P-2 calibrated");

    await page.getByRole("link", { name: "Take a reading" }).press("Enter");
    await page.getByLabel("Sample").fill("");
    await page.keyboard.press("Enter");
    await expect(page.getByRole("alert")).toContainText("name on its bottle");
    await page.getByLabel("Sample").fill("E1-keys");
    await page.keyboard.press("Enter");
    await station(page, bySpace);
    await station(page, bySpace);
    await bySpace(page, /^Judge this reading/);
    await expect(page.getByRole("status")).toContainText("Sound.");

    await page.keyboard.press("g");
    await page.keyboard.press("l");
    await expect(page.getByRole("heading", { name: "Ledger" })).toBeVisible();
    await page.keyboard.press("ArrowDown");
    const evidence = page.getByRole("complementary", { name: "What this reading rests on" });
    await expect(evidence).toContainText("E1-keys");
    for (const words of [
      "sound",
      "limit",
      "mV",
      "°C",
      "Buffer bottles",
      "B7-127",
      "slope",
      "House rules version 1",
    ]) {
      await expect(evidence).toContainText(new RegExp(words, "i"));
    }
  });
});

test("the key help lists what works on the page, and the letters of the areas", async ({ page }) => {
  await page.goto("/");
  const help = page.getByRole("dialog");
  await page.keyboard.press("?");
  await expect(help).toBeVisible();
  await expect(help).toContainText("Jump to anything");
  await expect(help).toContainText("Ledger (l)");
  await page.keyboard.press("Escape");
  await expect(help).toBeHidden();
});

test("buffers are chosen anew without a mouse", async ({ page }) => {
  await page.goto("/");
  await jumpTo(page, "Calibrate P-2");
  await page.getByRole("button", { name: "Add a third buffer" }).press("Enter");
  await page.getByRole("combobox", { name: "Third buffer" }).press("Enter");
  await page.keyboard.press("Enter");
  await page.getByRole("button", { name: /^Start/ }).press("Enter");
  // Three buffers and the check.
  await expect(page.locator(".beakers > li")).toHaveCount(4);
  await station(page, bySpace);
});
