import jsQR from "jsqr";
import { PNG } from "pngjs";
import { expect, test } from "./server";
import { axeOf, expectReadable } from "./steps";

test("a solution is made by keyboard, in spite of a slip, no network and a reload, and labelled with a code that is read back", async ({
  page,
}) => {
  await page.goto("/stock");
  await page.getByRole("link", { name: "Prepare a solution" }).click();
  await page.getByRole("link", { name: /^Zero-oxygen solution/ }).click();
  await page.getByLabel("How much you make, mL").fill("a cup");
  await page.keyboard.press("Enter");
  await expect(page.getByText(/“a cup” is not a number/)).toBeVisible();
  await page.getByLabel("How much you make, mL").fill("250");
  await expect(page.getByLabel(/^Sodium sulfite: which bottle/)).toHaveValue("SUL-1");
  await page.keyboard.press("Enter");

  const card = page.getByRole("region", { name: "The step in hand" });
  // 5 g of pure sulfite, at 98 %.
  await expect(card).toContainText("5.102 g");
  await expect(page.getByLabel("Weighed")).toBeFocused();
  await page.keyboard.type("51");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("alert")).toContainText("it would be another solution");
  await page.getByLabel("Weighed").fill("5,11");
  await page.context().setOffline(true);
  await page.keyboard.press("Enter");
  await expect(card).toContainText("Swirl until nothing is left");
  await page.context().setOffline(false);
  await page.keyboard.press("Space");
  await expect(card).toContainText("quarter of an hour");
  await expect(page.getByText(/cannot be reached|waits/)).toHaveCount(0);
  await page.reload();
  await expect(card).toContainText("quarter of an hour");
  await expectReadable(page, axeOf(page));
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(card).toContainText("Swirl until nothing is left");
  await card.getByRole("button", { name: /^Done/ }).click();
  // The sulfite needs its quarter of an hour: the clock runs, and who cannot wait says so.
  await expect(card.getByRole("timer")).toHaveText(/^1[45]:\d\d$/);
  await expect(card.getByRole("button", { name: /^Done/ })).toBeDisabled();
  await card.getByRole("button", { name: "Go on now all the same" }).click();
  await card.getByRole("button", { name: /^Done/ }).click();
  await page.getByLabel("Code on the bottle").fill(" ");
  await page.keyboard.press("Enter");
  await expect(page.getByText("Give it a code you can find on the bottle.")).toBeVisible();
  await page.getByLabel("Code on the bottle").fill("ZERO-TODAY");
  await page.keyboard.press("Enter");
  await page.getByRole("link", { name: "Lot ZERO-TODAY" }).click();
  const bottle = page.getByRole("complementary", { name: "The bottle" });
  await expect(bottle).toContainText("1 day");
  await expect(page.getByText("It rests on")).toBeVisible();
  await page.getByRole("link", { name: "SUL-1" }).first().click();
  await expect(bottle).toContainText("495 g");
});

test("a titrant is standardised by keyboard, in spite of a slip, an odd portion and a reload", async ({
  page,
}) => {
  await page.goto("/stock");
  await page.getByRole("link", { name: "Lot TS-23", exact: true }).first().click();
  await page.getByRole("link", { name: "Standardise it" }).click();
  await expect(page.getByLabel("Which bottle of the standard")).toHaveValue("IO-3");
  await page.getByLabel("Portion of it each time, mL").fill("a spoon");
  await page.keyboard.press("Enter");
  await expect(page.getByText(/“a spoon” is not a number/)).toBeVisible();
  await page.getByLabel("Portion of it each time, mL").fill("20");
  await page.keyboard.press("Enter");

  const card = page.getByRole("region", { name: "The step in hand" });
  await expect(card).toContainText("Portion 1: 20.00 mL of IO-3");
  const titrate = async (start: string, end: string) => {
    await page.getByLabel("Burette at the start").fill(start);
    await page.getByLabel("Burette at the end").fill(end);
    await page.keyboard.press("Enter");
  };
  await titrate("20,12", "0");
  await expect(page.getByText("It reads more at the end than at the start.")).toBeVisible();
  await titrate("0", "20,12");
  await expect(card).toContainText("Portion 2");
  // The burette goes on from where it stood.
  await expect(page.getByLabel("Burette at the start")).toHaveValue("20.12");
  await titrate("0", "20.6");
  await titrate("0", "20.14");
  await expect(card).toContainText("They differ by");
  await page.reload();
  await expect(card).toContainText("Portion 4");
  const second = page.getByRole("row", { name: /^2 20\.60/ });
  await second.getByText("Leave it out").first().click();
  await second.getByRole("button", { name: "Leave it out" }).click();
  await expect(second).toContainText("Say what went wrong with it.");
  await second.getByRole("textbox").fill("overshot");
  await page.keyboard.press("Enter");
  await expect(second).toContainText("left out: overshot");
  await titrate("0", "20.13");
  await expect(card).toContainText("The portions agree within 0.05 %");
  await expectReadable(page, axeOf(page));
  await expect(card.getByRole("button", { name: /^Keep this strength/ })).toBeFocused();
  await page.keyboard.press("Enter");
  await page.getByRole("link", { name: "Lot TS-23" }).click();
  await expect(page.getByText(/^standardised against IO-3: 0\.0248\d+ ± 0\.0000\d+ N/).first()).toBeVisible();
});

test("a printed label's code is read back by a decoder, and leads to its lot", async ({ page }) => {
  await page.goto("/stock");
  await page.getByRole("link", { name: "Lot NT-31" }).click();
  await page.getByRole("link", { name: "Its label" }).click();
  const label = page.getByRole("article").filter({ hasText: "NT-31" });
  await expect(label.getByRole("img", { name: "Irritant or harmful" })).toBeVisible();
  await page.emulateMedia({ media: "print" });
  const { data, width, height } = PNG.sync.read(await label.screenshot());
  const read = jsQR(new Uint8ClampedArray(data), width, height);
  await page.goto(`/find?code=${read?.data}`);
  await expect(page.getByRole("heading", { name: "Lot NT-31" })).toBeVisible();
});
