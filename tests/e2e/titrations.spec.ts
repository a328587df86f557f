import { enter, judge, start, stopClock, toReading } from "./runSteps";
import { expect, test, waitsUntilListening, wind } from "./server";

test.beforeEach(({ page }) => page.clock.install());

test("two hundred drops by the space bar: loaded anew once the hand rests, with undo, a second tab and a server that is killed", async ({
  page,
  context,
  server,
}) => {
  await start(page, "oxygen-drops");
  await toReading(page);
  const count = page.getByRole("button", { name: "One drop" });
  await stopClock(page);
  const data = /\/runs\/\w+\.data/;
  let loaded = 0;
  page.on("request", (request) => {
    if (data.test(request.url())) loaded++;
  });
  const kept = async () =>
    (await (await page.request.get(`${page.url().replace("runs", "bench")}/events`)).json()).count;
  const before: number = await kept();
  for (let i = 0; i < 20; i++) await page.keyboard.press("Space");
  await expect(count).toContainText("20");
  await expect.poll(kept).toBeGreaterThanOrEqual(before + 20);
  // The page and what stands around it, once at most: for what was done before the first drop.
  expect(loaded).toBeLessThanOrEqual(2);
  // Left before that, and come back to while the network is gone, it shows what was done.
  await page.getByRole("navigation", { name: "Areas" }).getByRole("link", { name: "Stock" }).click();
  await expect(page).toHaveURL(/stock$/);
  await context.setOffline(true);
  await page.goBack();
  await expect(count).toContainText("20");
  await context.setOffline(false);
  const owed = page.waitForRequest(data);
  await page.clock.runFor(2000);
  await owed;
  await page.clock.resume();

  for (let i = 0; i < 80; i++) await page.keyboard.press("Space", { delay: 20 });
  await expect(count).toContainText("100");
  const other = waitsUntilListening(await context.newPage());
  await other.goto(page.url());
  await expect(other.getByRole("button", { name: "One drop" })).toContainText("100");
  await other.bringToFront();
  for (let i = 0; i < 3; i++) await other.keyboard.press("Space");
  await other.keyboard.press("Backspace");
  await expect(other.getByRole("button", { name: "One drop" })).toContainText("102");
  await server.kill();
  await page.bringToFront();
  for (let i = 0; i < 98; i++) await page.keyboard.press("Space", { delay: 20 });
  await server.start();
  await expect(page.getByText(/not sent yet; kept/)).toBeHidden();
  await page.reload();
  await expect(count).toContainText("200");
  await other.reload();
  await expect(other.getByRole("button", { name: "One drop" })).toContainText("200");
});

test("a burette with its blank, read backwards once", async ({ page }) => {
  await start(page, "chloride-burette", {
    "Silver nitrate 0.0141 N": "S-4",
    "Chromate indicator": "C-2",
    Blank: "0.2",
  });
  for (const end of ["6.5", "6.7"]) {
    await toReading(page);
    await enter(page, "The burette before you begin", "0.4");
    await page.getByLabel("The burette at the end point").fill("0.1");
    await page.keyboard.press("Enter");
    await expect(page.getByText(/it cannot be less now/)).toBeVisible();
    await enter(page, "The burette at the end point", end);
  }
  await judge(page);
  // (6.1 − 0.2) and (6.3 − 0.2) mL · 0.0141 N · 35 450 / 100 mL: 29.5 and 30.5 mg/L.
  await expect(page.getByRole("region", { name: "Chloride as Cl" })).toContainText("30.0");
});

test("a syringe with a refill, and where to slow down", async ({ page }) => {
  await start(page, "oxygen-syringe");
  const type = (label: string, value: string) => enter(page, label, value);
  await toReading(page);
  await type("The plunger before you begin", "0");
  await page.getByRole("button", { name: "Refill" }).press("Enter");
  await type("The plunger before the refill", "9.8");
  await type("The plunger after the refill", "0.2");
  await type("The plunger at the end point", "2,0");
  await page.getByRole("button", { name: /^Undo/ }).press("Enter");
  await type("The plunger at the end point", "1,0");
  await toReading(page);
  await type("The plunger before you begin", "1");
  // A tenth before the 10.6 of the first: 1 + 9.54 is past the scale, which ends at 10.
  await expect(page.getByText("The end is expected after a refill.")).toBeVisible();
  await page.getByRole("button", { name: "Refill" }).press("Enter");
  await type("The plunger before the refill", "10");
  await type("The plunger after the refill", "0");
  await expect(page.getByText(/^Slow down from 0.5 on the plunger/)).toBeVisible();
  await type("The plunger at the end point", "1.8");
  await judge(page);
  await expect(page.getByRole("region", { name: "Dissolved oxygen" })).toContainText("10.7");
});

test("a titration curve from the simulated burette", async ({ page }) => {
  await start(page, "alkalinity-curve", { "Sulfuric acid 0.02 N": "A-9" });
  await toReading(page);
  await page.getByRole("button", { name: "Let the simulated burette run" }).click();
  for (let i = 0; i < 40; i++) {
    await wind(page, 520);
    if (await page.getByRole("button", { name: "Let the simulated burette run" }).isVisible()) break;
  }
  await page.getByRole("button", { name: "Take this end point" }).click();
  await judge(page);
  await expect(page.getByRole("complementary", { name: "What this result rests on" })).toContainText(
    "Gran (whole curve",
  );
});

test("alkalinity with its first end point says what it is made of", async ({ page }) => {
  await start(page, "alkalinity-burette", {
    "Sulfuric acid 0.02 N": "A-9",
    "Mixed indicator for pH 4.5": "M-1",
  });
  for (const end of ["10", "10.2"]) {
    await toReading(page);
    await enter(page, "The burette before you begin", "0");
    await page.getByRole("button", { name: "First end point, pH 8.3" }).click();
    await enter(page, /^The burette at pH 8.3/, "2");
    await enter(page, "The burette at the end point", end);
  }
  await judge(page);
  await expect(page.getByRole("region", { name: "Alkalinity as CaCO3" })).toContainText("101");
  await expect(page.getByRole("complementary", { name: "What this result rests on" })).toContainText(
    "hydroxide 0, carbonate 40.00, bicarbonate 60.00 mg/L CaCO3",
  );
});
