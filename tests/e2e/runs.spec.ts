import { enter, judge, obvious, rinseAndFill, start, stopClock, toReading, waitOut } from "./runSteps";
import { expect, test, wind } from "./server";
import { expectReadable } from "./steps";

test.beforeEach(({ page }) => page.clock.install());

test("a photometer in duplicate by keyboard, with bad input on the way", async ({ page }) => {
  await start(page, "phosphate-photometer", {
    "Phosphate reagent powder": "P-31",
    "Temperature of the sample": "18,5",
  });
  for (const value of ["0.81", "0.83"]) {
    await toReading(page);
    await page.getByLabel(/^The display/).fill("much");
    await page.keyboard.press("Enter");
    await expect(page.getByText(/is not a number/)).toBeVisible();
    await enter(page, /^The display/, value);
  }
  await judge(page);
  const result = page.getByRole("region", { name: "Phosphate as PO4" });
  await expect(result).toContainText("0.82");
  await expect(result).toContainText("as PO4-P");
  await expect(result).toContainText("No blank was measured with its batch.");
});

test("a two-pad strip: one tap starts both clocks, and a reload in between changes nothing, to the second", async ({
  page,
}) => {
  await start(page, "nitrite-nitrate-strip", { "Nitrite and nitrate strips": "N-2207" });
  await rinseAndFill(page);
  await expect(page.getByText(/^Dry your hands/)).toBeVisible();
  await page.keyboard.press("Space");
  await expect(page.getByText(/^Dip the strip/)).toBeVisible();
  await stopClock(page);
  await page.keyboard.press("Space");
  const timer = page.getByRole("timer");
  await expect(timer).toHaveText("0:30");
  await wind(page, 28_000);
  await expect(timer).toHaveText("0:02");
  await page.keyboard.press("2");
  await expect(page.getByRole("list", { name: "Read so far" })).toContainText("Nitrite 0.15");
  await wind(page, 7_000);
  await expect(timer).toHaveText("0:25");
  await expect(page.getByText(/not sent yet; kept/)).toBeHidden();
  await page.reload();
  await expect(page.getByRole("list", { name: "Read so far" })).toContainText("Nitrite 0.15");
  await expect(timer).toHaveText("0:25");
  await wind(page, 25_000);
  await expect(timer).toHaveText("0:00");
  await page.keyboard.press("b");
  await page.keyboard.press("3");
  await expect(page.getByRole("list", { name: "Read so far" })).toContainText("Nitrate 3.5 (2–5)");
  await page.clock.resume();
  await judge(page);
  await expect(page.getByRole("region", { name: "Nitrite as NO2-N" })).toContainText("sound");
  await expect(page.getByRole("region", { name: "Nitrate as NO3-N" })).toContainText("3.5 (2–5)");
  await expect(page.getByRole("region", { name: "Nitrate as NO3-N" })).toContainText("sound");
});

test("the card of a run is readable (WCAG AA), its clock on every page", async ({ page }) => {
  await start(page, "nitrite-nitrate-strip", { "Nitrite and nitrate strips": "N-2207" });
  await rinseAndFill(page);
  await expect(page.getByText(/^Dry your hands/)).toBeVisible();
  await page.keyboard.press("Space");
  await expect(page.getByText(/^Dip the strip/)).toBeVisible();
  await page.keyboard.press("Space");
  await expect(page.getByRole("timer")).toBeVisible();
  await expectReadable(page);
  // The bell is fetched while clocks run, so that it rings without the network.
  const bell = page.waitForResponse(/bell\.wav$/);
  await page.goto("/stock");
  expect((await bell).status()).toBeLessThan(300);
  const rail = page.getByRole("navigation", { name: "The day" });
  await expect(rail).toContainText("Compare the nitrite pad");
  await expect(rail).toContainText("Compare the nitrate pad");
});

test("a comparator with a second, blind look that differs and is agreed on", async ({ page }) => {
  await start(page, "oxygen-ampoule", { "Oxygen ampoules": "O-7" });
  await toReading(page);
  await page.keyboard.press("8");
  await page.keyboard.press("o");
  await page.getByLabel("Who looks").fill("Idris");
  await page
    .getByRole("region", { name: "A second look" })
    .getByRole("button", { name: "10", exact: true })
    .click();
  await page
    .getByRole("region", { name: "Agree on the colour" })
    .getByRole("button", { name: "Between 8 and 10" })
    .click();
  await judge(page);
  await expect(page.getByRole("region", { name: "Dissolved oxygen" })).toContainText("9 (8–10)");
});

test.describe("by touch", () => {
  test.use({ viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true });

  test("a colour tube, read between two steps", async ({ page }) => {
    await page.goto("/runs/new/phosphate-tube");
    await page.getByRole("button", { name: /^Start/ }).tap();
    const press = () => page.getByRole("button", { name: obvious }).tap();
    await rinseAndFill(page, press);
    for (const words of [/^Dry your hands/, /^Squeeze the air out/, /^Shake with the hole/]) {
      await expect(page.getByText(words).and(page.locator(".run-text"))).toBeVisible();
      await press();
    }
    await expect(page.getByRole("timer")).toBeVisible();
    await waitOut(page);
    // What was tapped before lay further down: the clock is in view all the same.
    await expect(page.getByRole("timer")).toBeInViewport();
    await page.getByRole("button", { name: "Between 0.1 and 0.2" }).tap();
    await page.getByRole("button", { name: /^Disposed of/ }).tap();
    await page.getByRole("button", { name: /^Judge this run/ }).tap();
    await expect(page.getByRole("region", { name: "Phosphate as PO4-P" })).toContainText("0.15 (0.10–0.20)");
  });
});

test.describe("whoever manages", () => {
  test.use({ person: "Petra" });

  test("a shipped method is copied, changed, and run as one's own", async ({ page }) => {
    await page.goto("/methods/oxygen-drops/edit");
    await page.getByLabel("Id, as in files and addresses").fill("oxygen-drops");
    await page.getByLabel("What changed, and why").fill("our dropper is larger");
    await page.getByRole("button", { name: "Keep version 1" }).click();
    await expect(page.getByRole("alert")).toContainText("Give your copy another one");
    await page.getByLabel("Id, as in files and addresses").fill("pond-drops");
    await page.getByLabel("Name", { exact: true }).fill("Pond drops");
    await page.getByLabel("Step 2, what is done").fill("Add five drops, counted aloud.");
    await page.getByRole("button", { name: "Step 2 down" }).click();
    await expect(page.getByRole("region", { name: "The card" })).toContainText(
      "Add five drops, counted aloud.",
    );
    await page.getByRole("button", { name: "Keep version 1" }).click();
    await expect(page.getByRole("heading", { name: "Pond drops" })).toBeVisible();
    await page.getByRole("link", { name: "Run it" }).click();
    await expect(page.getByRole("heading", { name: "Pond drops" })).toBeVisible();
  });
});
