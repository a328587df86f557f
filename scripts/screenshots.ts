/** Takes the pictures of docs/screenshots from the demo data, in headless Chromium. */
import { chromium, type Page } from "@playwright/test";
import prepare from "../tests/e2e/prepare";
import { BrintelServer, wind } from "../tests/e2e/server";
import { begin, bySpace, byTouch, choosePerson, jumpTo, station } from "../tests/e2e/steps";
import { enterStory, inTheStory } from "../tests/e2e/story";
import { ensureBuild } from "./lib/steps.mjs";

const executablePath = process.env.BRINTEL_CHROMIUM ?? "/usr/bin/chromium-headless-shell";
const shoot = async (page: Page, name: string) => {
  // Charts are drawn after the page; a moment lets them.
  await page.waitForTimeout(700);
  await page.screenshot({ path: `docs/screenshots/${name}.png` });
};

await ensureBuild();
// The pictures show the same afternoon, whenever they are taken.
enterStory();
await prepare();
const server = await BrintelServer.create("demo");
const browser = await chromium.launch({ executablePath, args: ["--no-sandbox", "--disable-gpu"] });
const open = async (options: object = {}) => {
  const context = await browser.newContext({
    baseURL: server.url,
    viewport: { width: 1280, height: 800 },
    ...options,
  });
  await inTheStory(context);
  return context.newPage();
};

/** The pond meter through a day: calibrated, one sample, its junction clogs, the closing check fails. */
async function threeQuantities(page: Page): Promise<void> {
  await jumpTo(page, "Calibrate M-1");
  await page.getByLabel("Air pressure").fill("996.4");
  await page.keyboard.press("Enter");
  for (let i = 0; i < 5; i++) await station(page, bySpace);
  await bySpace(page, /^Rinsed/);
  await bySpace(page, /^The probe is in damp air/);
  await bySpace(page, /^Capture (when steady|it)/);
  await page.getByRole("button", { name: /^Judge/ }).waitFor({ timeout: 30_000 });
  await bySpace(page, /^Judge/);
  await page.getByRole("link", { name: "Print it" }).waitFor();
  for (const sample of ["E1-noon", "E1-late"]) {
    await jumpTo(page, "Take a reading with M-1");
    await page.getByLabel("Sample").fill(sample);
    await page.keyboard.press("Enter");
    await station(page, bySpace);
    await station(page, bySpace);
    await bySpace(page, /^Judge/);
    await page.getByRole("link", { name: "Next reading" }).waitFor();
  }
  await jumpTo(page, "Meter M-1");
  await page.getByRole("checkbox", { name: /Clogged junction/ }).click();
  await jumpTo(page, "Check M-1");
  await page.getByLabel("Air pressure").fill("996.4");
  await page.keyboard.press("Enter");
  for (let i = 0; i < 3; i++) await station(page, bySpace);
  await bySpace(page, /^Judge/);
  await page.getByText(/would change/).waitFor();
  await shoot(page, "closing-check");
}

/** Starts a run and does its obvious steps, waits kept by the browser's clock, until something is to be read. */
async function runTo(page: Page, method: string, lots: readonly string[], steps: number): Promise<void> {
  await page.goto(`/runs/new/${method}`);
  for (const lot of lots) await page.getByLabel(lot, { exact: true }).fill("N-2207");
  await page.getByRole("button", { name: /^Start/ }).click();
  for (let i = 0; i < steps; i++) {
    const button = page.getByRole("button", { name: /^(Done|Rinsed|Mixed|Zero is set)/ });
    await button.waitFor();
    if (await button.isDisabled()) await page.clock.fastForward(121_000);
    await page.keyboard.press("Space");
    await page.waitForTimeout(400);
  }
}

/** A judged strip, and a plan. */
async function analyses(): Promise<void> {
  const page = await open();
  await page.clock.install();
  await choosePerson(page);
  await runTo(page, "nitrite-nitrate-strip", ["Nitrite and nitrate strips"], 6);
  await page.clock.fastForward(28_000);
  await page.keyboard.press("2");
  await page.clock.fastForward(19_000);
  await page.clock.fastForward(13_000);
  await page.keyboard.press("b");
  await page.keyboard.press("4");
  for (const name of [/^Disposed of/, /^Judge this run/]) {
    await page.getByRole("button", { name }).waitFor();
    await page.keyboard.press("Space");
  }
  await page.getByRole("complementary", { name: "What this result rests on" }).waitFor();
  await page.getByRole("link", { name: "see its evidence" }).click();
  await shoot(page, "run");
  await page.goto("/runs/plan");
  for (const name of [
    "Phosphate, squeeze tube",
    "Nitrate, squeeze tube",
    "Nitrite and nitrate strip",
    "Ammonia, salicylate",
    "Phosphate, photometer",
  ]) {
    await page.getByLabel("Method", { exact: true }).fill(name);
    await page.keyboard.press("Enter");
    await page.getByRole("button", { name: "Add it" }).click();
  }
  await page.locator(".lane").nth(6).waitFor();
  await page.getByText("Planning …").waitFor({ state: "hidden" });
  await page.locator(".lanes").scrollIntoViewIfNeeded();
  await page.evaluate(() => document.querySelector(".stage > main")?.scrollTo(0, 1e6));
  await shoot(page, "plan");
}

/** An end point that is practised: the water of this address turns with its eighth drop. */
async function anEndPoint(page: Page): Promise<void> {
  await page.goto("/practice/oxygen-drops/01M8TXWNVQA5SGN4D1XKBVV0F6");
  const drop = page.getByRole("button", { name: "One drop" });
  const pass = page.getByRole("button", { name: "Let the time pass" });
  const next = page.getByRole("button", { name: /^(Done|Rinsed|Mixed)/ });
  while (!(await drop.isVisible())) {
    await next.or(pass).or(drop).first().waitFor();
    if (await pass.isVisible()) await pass.click();
    else if ((await next.isVisible()) && (await next.isEnabled())) await next.click();
    await page.waitForTimeout(150);
  }
  for (let n = 0; n < 7; n++) await page.keyboard.press("Space");
  await page.getByRole("figure").filter({ hasText: "a last purple" }).waitFor();
}

/** A visit to the borehole, purged and steady. */
async function wellVisit(page: Page): Promise<void> {
  const press = (name: string | RegExp) => page.getByRole("button", { name }).first().click();
  await page.goto("/visits");
  await press("Begin the visit");
  await press(/^I have arrived/);
  await press("It hangs");
  await wind(page, 300_000);
  await page.getByRole("textbox", { name: "Air temperature" }).fill("8.4");
  await press("Keep it");
  await press(/in the bag/);
  await press("cloudy");
  await press("Keep what you saw");
  for (const [label, value] of [
    ["Depth of the well", "24"],
    ["Depth to the water", "14"],
    ["Inner diameter of the casing, mm", "150"],
  ] as const) {
    await page.getByRole("textbox", { name: label }).fill(value);
  }
  await press("Keep the dip");
  await page.getByRole("textbox", { name: "Bucket, L" }).fill("10");
  await page.getByRole("textbox", { name: "Filled in, s" }).fill("20");
  await press("It runs");
  await press(/^Field quantities/);
  for (const ph of ["7.38", "7.34", "7.33"]) {
    await wind(page, 240_000);
    await page.getByRole("textbox", { name: "pH" }).fill(ph);
    await page.getByRole("textbox", { name: /^Conductivity/ }).fill("612");
    await press("Keep this round");
  }
  await page
    .getByText(/^Steady/)
    .first()
    .waitFor();
  // The flash of a clock that rang is over.
  await page.clock.fastForward(2000);
  await page.getByRole("status").filter({ hasText: "Steady" }).scrollIntoViewIfNeeded();
  await page.locator(".rounds-chart").scrollIntoViewIfNeeded();
  await shoot(page, "visit");
}

/** A bottle that must be filtered, rinsed and full, in the hand at the water. */
async function bottleCard(page: Page): Promise<void> {
  const press = (name: string | RegExp) => page.getByRole("button", { name }).first().tap();
  await choosePerson(page, "touch");
  await page.goto("/visits");
  await page.getByLabel("Where to").fill("Children's pool");
  await page.keyboard.press("Enter");
  await page.getByText("Choose what to do there.").waitFor();
  for (const name of ["Air temperature", "Look and smell", "Temperature", "pH"])
    await page.getByRole("checkbox", { name, exact: true }).uncheck();
  await page.getByLabel("Nutrients, filtered").check();
  await press("Begin the visit");
  await press(/^I have arrived/);
  for (let i = 1; i <= 3; i++) {
    await page.getByText(`${i - 1} of 3 times`).waitFor();
    await press(/^Rinsed$/);
  }
  await page.getByRole("textbox", { name: "Depth below the surface" }).fill("15");
  await press(/^Filled$/);
  await page.getByText("A fresh filter").waitFor();
  await page.locator(".visit-code").scrollIntoViewIfNeeded();
  await shoot(page, "bottle");
}

try {
  const page = await open();
  await choosePerson(page);
  await shoot(page, "day");
  await page.goto("/sites/along?of=nitrate%7CNitrate+as+NO3-N");
  await page.locator(".along-step").waitFor();
  await shoot(page, "profile");
  await page.goto("/custody");
  await page.locator("main tbody").getByRole("link").first().click();
  await page.getByRole("complementary").waitFor();
  await shoot(page, "batch");
  await analyses();
  const reviewer = await open();
  await choosePerson(reviewer, "keyboard", /Maren/);
  await reviewer.goto("/review");
  await reviewer
    .getByRole("list", { name: "Shifts to review" })
    .getByRole("link", { name: /Wed 25 Nov/ })
    .click();
  await reviewer.getByRole("region", { name: "To be looked at" }).waitFor();
  await shoot(reviewer, "review");
  await begin(page, "Calibrate P-2");
  await station(page, bySpace);
  await bySpace(page, /^Rinsed/);
  await bySpace(page, /^The probe is in/);
  await page.waitForTimeout(1_300);
  await page.screenshot({ path: "docs/screenshots/calibrate.png" });
  await bySpace(page, /^Capture (when steady|it)/);
  await page.getByRole("button", { name: /^Rinsed/ }).waitFor();
  await station(page, bySpace);
  await bySpace(page, /^Judge/);
  await page.getByRole("link", { name: "Take a reading" }).waitFor();
  await shoot(page, "calibration");
  await page.getByRole("link", { name: "Take a reading" }).click();
  await page.getByRole("button", { name: /^Start/ }).press("Enter");
  await station(page, bySpace);
  await bySpace(page, /^Rinsed/);
  await bySpace(page, /^The probe is in/);
  await page.getByText("Steady", { exact: true }).waitFor();
  await bySpace(page, /^Capture it/);
  await page.getByRole("button", { name: /^Judge/ }).waitFor();
  await bySpace(page, /^Judge/);
  await page.getByRole("link", { name: "In the ledger" }).waitFor();
  await page.goto("/ledger?verdict=qualified&parameter=ph&chart=1");
  await page.locator(".ledger tbody tr").first().click();
  await page.getByRole("complementary").waitFor();
  await shoot(page, "ledger");
  await jumpTo(page, "Meter P-2");
  await page.getByText("Leaves its limit around").waitFor();
  await shoot(page, "meter");
  await page.goto("/stock");
  await shoot(page, "stock");
  await page.goto("/quality");
  await page.getByRole("link", { name: /OC-8/ }).first().click();
  await page.getByRole("img", { name: /results of the control/ }).waitFor();
  await shoot(page, "control");
  await page.goto("/sites");
  await page.locator("main").getByRole("link", { name: "Bathing pond" }).click();
  await page.getByRole("figure").waitFor();
  await shoot(page, "site");
  await page.goto("/meters");
  await page.waitForTimeout(700);
  await threeQuantities(page);
  await page.goto("/solutions/planner?stock=1000&targets=2.5&volume=100");
  await page.getByRole("button", { name: /^Plan it/ }).click();
  await page.getByRole("region", { name: "Other plans" }).waitFor();
  await page.mouse.wheel(0, -2000);
  await shoot(page, "dilution");

  const dim = await open({ colorScheme: "dark" });
  await choosePerson(dim);
  await anEndPoint(dim);
  await shoot(dim, "dark");

  const phone = await open({ viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true });
  await choosePerson(phone, "touch");
  await phone.goto("/meters");
  await phone.getByRole("link", { name: /^P-2/ }).tap();
  await phone.getByRole("link", { name: "Calibrate again" }).tap();
  await phone.getByRole("button", { name: /^Start/ }).tap();
  await byTouch(phone, /^Rinsed/);
  await byTouch(phone, /^The probe is in/);
  await phone.waitForTimeout(1_200);
  await shoot(phone, "phone");
  await bottleCard(await open({ viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true }));
  // Last: it winds the server's clock on.
  await wellVisit(page);
} finally {
  await browser.close();
  await server.kill();
}
