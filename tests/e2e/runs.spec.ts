import AxeBuilder from "@axe-core/playwright";
import type { Page } from "@playwright/test";
import { expect, test, waitsUntilListening, wind } from "./server";

/** Opens the start of a method, names what is asked for, and begins. */
async function start(page: Page, method: string, fields: Record<string, string> = {}): Promise<void> {
  await page.goto(`/runs/new/${method}`);
  for (const [label, text] of Object.entries(fields))
    await page.getByLabel(label, { exact: true }).fill(text);
  await page.getByRole("button", { name: /^Start/ }).focus();
  await page.keyboard.press("Enter");
  await expect(page.getByRole("region", { name: "The step in hand" })).toBeVisible();
}

const obvious = /^(Done|Mixed|Zero is set|Disposed of)/;

/** Lets the browser's clock run on to the end of the wait in hand, if there is one. */
async function waitOut(page: Page): Promise<void> {
  const timer = page.getByRole("timer");
  if ((await timer.count()) === 0) return;
  const text = ((await timer.textContent()) ?? "").trim();
  if (text.startsWith("+")) return;
  const [minutes = 0, seconds = 0] = text.split(":").map(Number);
  await wind(page, (minutes * 60 + seconds) * 1000, "fastForward");
}

/** Does the obvious thing by the space bar, waits kept, until something is to be read. */
async function toReading(page: Page): Promise<void> {
  const card = page.getByRole("region", { name: "The step in hand" });
  for (let i = 0; i < 20; i++) {
    const button = page.getByRole("button", { name: obvious });
    await expect(
      button.or(page.locator(".run-card form, .run-card fieldset, .drop-target, .curve")).first(),
    ).toBeVisible();
    await waitOut(page);
    if ((await button.count()) === 0) return;
    await expect(button).toBeEnabled();
    const before = await card.textContent();
    await page.keyboard.press("Space");
    await expect.poll(() => card.textContent()).not.toBe(before);
  }
}

/** Types a reading and keeps it; what comes next is waited for, or the field would be taken for the next one. */
async function enter(page: Page, label: string | RegExp, value: string): Promise<void> {
  const field = page.getByLabel(label, { exact: typeof label === "string" });
  await field.fill(value);
  await page.keyboard.press("Enter");
  await expect
    .poll(async () => ((await field.count()) === 0 ? "" : await field.inputValue().catch(() => "")))
    .not.toBe(value);
}

/** What is left after the readings, and the judgement. */
async function judge(page: Page): Promise<void> {
  for (let i = 0; i < 3; i++) {
    const end = page.getByRole("button", { name: /^Judge this run/ });
    await expect(page.getByRole("button", { name: obvious }).or(end)).toBeVisible();
    if (await end.isVisible()) break;
    await page.keyboard.press("Space");
    await expect(end).toBeVisible();
  }
  await page.keyboard.press("Space");
  await expect(page.getByRole("complementary", { name: "What this result rests on" })).toBeVisible();
}

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
  await expect(result).toContainText("sound");
});

/** Stops the browser's clock, so that what follows takes no time however slow the machine is. */
async function stopClock(page: Page): Promise<void> {
  const now = await page.evaluate(() => Date.now());
  await page.clock.pauseAt(now + 1500);
}

test("a two-pad strip: one tap starts both clocks, and a reload in between changes nothing, to the second", async ({
  page,
}) => {
  await start(page, "nitrite-nitrate-strip", { "Nitrite and nitrate strips": "N-2207" });
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
  await page.keyboard.press("Space");
  await expect(page.getByText(/^Dip the strip/)).toBeVisible();
  await page.keyboard.press("Space");
  await expect(page.getByRole("timer")).toBeVisible();
  const { violations } = await new AxeBuilder({ page }).withTags(["wcag2a", "wcag2aa"]).analyze();
  expect(violations.map((v) => `${v.id}: ${v.nodes.map((n) => n.target).join(" | ")}`)).toEqual([]);
  // The bell is fetched while clocks run, so that it rings without the network.
  const bell = page.waitForResponse(/bell\.wav$/);
  await page.goto("/stock");
  expect((await bell).status()).toBeLessThan(300);
  const rail = page.getByRole("navigation", { name: "The day" });
  await expect(rail).toContainText("Compare the nitrite pad");
  await expect(rail).toContainText("Compare the nitrate pad");
});

test("a pad that is read late says by how much", async ({ page }) => {
  await start(page, "nitrite-nitrate-strip", { "Nitrite and nitrate strips": "N-2207" });
  await page.keyboard.press("Space");
  await expect(page.getByText(/^Dip the strip/)).toBeVisible();
  await stopClock(page);
  await page.keyboard.press("Space");
  await expect(page.getByRole("timer")).toHaveText("0:30");
  await wind(page, 41_000);
  await expect(page.getByText("late by 11 s")).toBeVisible();
  await page.keyboard.press("2");
  await expect(page.getByRole("timer")).toHaveText("0:19");
  await wind(page, 19_000);
  await page.keyboard.press("3");
  await expect(page.getByRole("list", { name: "Read so far" })).toContainText("Nitrate");
  await page.clock.resume();
  await judge(page);
  const nitrite = page.getByRole("region", { name: "Nitrite as NO2-N" });
  await expect(nitrite).toContainText("Reading nitrite was late by 11 s.");
  await expect(nitrite).toContainText("qualified");
});

test("two hundred drops by the space bar, with undo, a second tab and a server that is killed", async ({
  page,
  context,
  server,
}) => {
  await start(page, "oxygen-drops");
  await toReading(page);
  const count = page.getByRole("button", { name: "One drop" });
  for (let i = 0; i < 100; i++) await page.keyboard.press("Space", { delay: 20 });
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

test("a photometer with the curve of the day: bad standards in words, kept for the next sample", async ({
  page,
}) => {
  await page.goto("/runs/new/phosphate-curve");
  await page.getByLabel("Mixed molybdate reagent", { exact: true }).fill("M-3");
  const standards = page.getByLabel("The standards of today");
  await standards.fill("0 0,004\n0,5 a lot");
  await page.getByRole("button", { name: /^Start/ }).click();
  await expect(page.getByRole("alert")).toContainText("Write three standards or more, a line each");
  await standards.fill("0 0,4\n0,5 0,3\n1 0,2");
  await page.getByRole("button", { name: /^Start/ }).click();
  await expect(page.getByRole("alert")).toContainText("does not rise with the concentration");
  await expect(standards).toHaveValue("0 0,4\n0,5 0,3\n1 0,2");
  await standards.fill("0 0,004\n0,5 0,104\n1 0,204\n2 0,404");
  await page.getByRole("button", { name: /^Start/ }).click();
  for (const value of ["0.164", "0,166"]) {
    await toReading(page);
    await enter(page, "Absorbance", value);
  }
  await judge(page);
  await expect(page.getByRole("region", { name: "Phosphate as PO4" })).toContainText("0.805");
  await expect(page.getByRole("complementary", { name: "What this result rests on" })).toContainText(
    "Every standard of the curve comes back by it.",
  );
  await page.goto("/runs/new/phosphate-curve");
  await expect(standards).toHaveValue("0 0.004\n0.5 0.104\n1 0.204\n2 0.404");
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

test("a digital titrator, with a typing mistake in words", async ({ page }) => {
  await start(page, "hardness-digits");
  await toReading(page);
  await page.getByLabel("The counter, digits").fill("one hundred");
  await page.keyboard.press("Enter");
  await expect(page.getByText(/is not a number/)).toBeVisible();
  await page.getByLabel("The counter, digits").fill("154");
  await page.keyboard.press("Enter");
  await judge(page);
  await expect(page.getByRole("region", { name: "Total hardness as CaCO3" })).toContainText("154");
});

test("a titration curve from the simulated burette", async ({ page }) => {
  await start(page, "alkalinity-curve", { "Sulfuric acid 0.02 N": "A-9" });
  await toReading(page);
  await page.getByRole("button", { name: "Let the simulated burette run" }).click();
  for (let i = 0; i < 80; i++) {
    await wind(page, 260);
    if (await page.getByRole("button", { name: "Let the simulated burette run" }).isVisible()) break;
  }
  await page.getByRole("button", { name: "Take this end point" }).click();
  await judge(page);
  await expect(page.getByRole("complementary", { name: "What this result rests on" })).toContainText(
    "Gran (whole curve",
  );
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

test("over range: the diluted run carries the factor once", async ({ page }) => {
  await start(page, "alkalinity-photometer", { "Alkalinity reagent": "R-1" });
  await toReading(page);
  await page.getByRole("button", { name: "Over its range" }).click();
  await judge(page);
  await expect(page.getByRole("region", { name: "Alkalinity as CaCO3" })).toContainText("> 300");
  await page.getByRole("link", { name: /^Dilute 5 times/ }).click();
  await page.getByRole("button", { name: /^Start/ }).click();
  await toReading(page);
  await page.getByLabel(/^The display/).fill("84");
  await page.keyboard.press("Enter");
  await judge(page);
  await expect(page.getByRole("region", { name: "Alkalinity as CaCO3" })).toContainText("420");
});

test("a depth by eye, typed twice", async ({ page }) => {
  await start(page, "secchi-disc");
  await toReading(page);
  await page.getByLabel(/^It disappears/).fill("184");
  await page.getByLabel(/^It reappears/).fill("176");
  await page.keyboard.press("Enter");
  await judge(page);
  await expect(page.getByRole("region", { name: "Secchi depth as mean" })).toContainText("180");
});

test.describe("by touch", () => {
  test.use({ viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true });

  test("a colour tube, read between two steps", async ({ page }) => {
    await page.goto("/runs/new/phosphate-tube");
    await page.getByRole("button", { name: /^Start/ }).tap();
    for (let i = 0; i < 3; i++) await page.getByRole("button", { name: obvious }).tap();
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

/** Puts a test on the plan as the page asks for it: method, water, add. */
async function plan(page: Page, method: string): Promise<void> {
  await page.getByLabel("Method", { exact: true }).selectOption({ label: method });
  await page.getByRole("button", { name: "Add it" }).click();
}

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
  await page.getByRole("button", { name: /^Done/ }).click();
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

test("a plan is made anew by itself when a test is begun late", async ({ page }) => {
  await page.goto("/runs/plan");
  for (const name of ["Phosphate, squeeze tube", "Nitrate, squeeze tube"]) await plan(page, name);
  await page.getByRole("button", { name: "Start the plan" }).click();
  const list = page.getByRole("list", { name: "What to begin, and when" });
  await expect(list.getByRole("listitem")).toHaveCount(2);
  await wind(page, 300_000, "fastForward");
  await list.getByRole("link", { name: "Begin" }).first().click();
  await page.getByRole("button", { name: /^Start/ }).click();
  await page.getByRole("button", { name: /^Done/ }).click();
  await expect(page.getByText("1 test to begin")).toBeVisible();
  await expect
    .poll(async () => {
      await page.goto("/runs/plan");
      return page.getByText("Planned anew from where the bench stands.").isVisible();
    })
    .toBe(true);
  await page.getByRole("button", { name: "Put the plan away" }).click();
});

test("duplicates share the wait: the second is begun while the first stands, and each clock is kept", async ({
  page,
}) => {
  await page.goto("/runs/new/phosphate-photometer");
  await page.getByRole("button", { name: /^Start/ }).click();
  const places = page.getByRole("group", { name: "Replicates" });
  const meanwhile = page.getByRole("button", { name: /^Meanwhile: the second/ });
  while (!(await meanwhile.isVisible())) {
    await page.getByRole("button", { name: /^(Done|Mixed|Zero is set)/ }).click();
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
  await wind(page, 125_000, "fastForward");
  await page.getByRole("button", { name: /^Now: the first/ }).click();
  await expect(page.getByRole("timer")).toBeVisible();
  await expect(places.getByRole("button", { pressed: true })).toHaveText(/^1/);
});

test("a capillary strip by the table of its own lot", async ({ page }) => {
  await page.goto("/runs/new/chloride-capillary");
  const table = page.getByLabel("The table on the tube of this lot");
  await table.fill("1.0 30\n3.0 much");
  await page.getByRole("button", { name: /^Start/ }).click();
  await expect(page.getByRole("alert")).toContainText("Write the table as lines of division and mg/L");
  await expect(table).toHaveValue("1.0 30\n3.0 much");
  await table.fill("1.0 30\n3,0 90");
  await page.getByRole("button", { name: /^Start/ }).click();
  await toReading(page);
  await page.getByLabel("The tip of the light column, divisions").fill("2,0");
  await page.keyboard.press("Enter");
  await judge(page);
  await expect(page.getByRole("region", { name: "Chloride as Cl" })).toContainText("60");
  await expect(page.getByRole("complementary", { name: "What this result rests on" })).toContainText(
    "lot's table",
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

  test("a method's document is pasted, and what is wrong with it is said while it stays", async ({
    page,
  }) => {
    await page.goto("/methods/ph-vial/edit");
    await page.getByRole("button", { name: /^Edit the whole document/ }).click();
    const document = page.getByLabel("The document as JSON");
    const text = await document.inputValue();
    await document.fill(text.slice(0, -3));
    await page.getByRole("button", { name: "Take it over" }).click();
    await expect(page.getByRole("alert")).toContainText("This is not JSON. What you typed is kept here.");
    await document.fill(text.replace(/"hazards": \[[^\]]*\]/, '"hazards": []'));
    await page.getByRole("button", { name: "Take it over" }).click();
    await expect(page.getByRole("alert")).toContainText("Give at least one of hazards.");
    await document.fill(text.replace("pH, indicator vial, own", "Pond vial"));
    await page.getByRole("button", { name: "Take it over" }).click();
    await page.getByRole("button", { name: "Keep version 1" }).click();
    await expect(page.getByRole("heading", { name: "Pond vial" })).toBeVisible();
  });
});
