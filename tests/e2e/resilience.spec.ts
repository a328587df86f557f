import { start, stopClock } from "./runSteps";
import { expect, test, waitsUntilListening, wind } from "./server";
import { begin, bySpace, jumpTo, station } from "./steps";

const id = "01J0000000000000000000ABCD";
const capture = {
  source: "typed",
  values: [
    {
      measurand: "ph",
      signal: -4.2,
      displayed: null,
      adjusted: null,
      reference: null,
      scatter: null,
      per_min: null,
    },
  ],
  temperature_c: 20,
  steady: null,
  seconds_in_solution: null,
};
const event = { id, at: "2026-04-12T08:00:00.000Z", type: "captured", station: 0, capture };

test("posting one capture twice counts once; another tab's late capture is refused with a sentence", async ({
  page,
}) => {
  await page.goto("/");
  await begin(page, "Calibrate P-2");
  await expect(page.getByRole("button", { name: /^Rinsed/ })).toBeVisible();
  const post = (events: object[]) =>
    page.request.post(`${page.url().replace("/calibrations/", "/bench/")}/events`, { data: { events } });
  const answers = async (events: object[]) => (await (await post(events)).json()).answers;
  expect(await answers([event])).toMatchObject([{ id, is: "kept" }]);
  expect(await answers([event])).toMatchObject([{ id, is: "known" }]);
  expect(await answers([{ ...event, id: "01J0000000000000000000ABCE" }])).toMatchObject([
    { is: "refused", message: expect.stringContaining("captured already") },
  ]);
  expect(await answers([{ id: "01J0000000000000000000ABCF", type: "nonsense" }])).toMatchObject([
    { is: "refused", code: "unreadable" },
  ]);

  // The open tab does not know yet: its step is refused in words, and it then shows what is true.
  await page.keyboard.press("Space");
  await expect(page.getByRole("alert")).toContainText("captured already");
  await expect(page.getByText("−4.2 mV")).toBeVisible();
});

test("work that ends while its page is being loaded anew is ended everywhere on it", async ({ page }) => {
  await page.clock.install();
  await start(page, "phosphate-photometer");
  const rail = page.getByRole("navigation", { name: "The day" });
  await expect(rail).toContainText("Phosphate, photometer");
  const release: Record<"ended" | "loaded", () => void> = { ended: () => undefined, loaded: () => undefined };
  const ended = new Promise<void>((done) => {
    release.ended = done;
  });
  let shown = 0;
  const loaded = new Promise<void>((done) => {
    release.loaded = done;
  });
  let held = 0;
  // The rail's part of the load is read before the end, the run's part after it.
  await page.route(/\.data\?/, async (route) => {
    const isRail = route.request().url().includes("shell");
    if (held === 2) return route.continue();
    held++;
    const early = isRail ? await route.fetch() : null;
    await ended;
    await route.fulfill({ response: early ?? (await route.fetch()) });
    shown++;
  });
  // From now on nothing is asked for by the clock, but what is waited for here.
  await stopClock(page);
  await page.keyboard.press("Space");
  await expect
    .poll(async () => {
      await wind(page, 500);
      return held;
    })
    .toBe(2);
  // The server has the end, and its answer to it comes last.
  await page.route("**/bench/*/events", async (route) => {
    if (route.request().method() !== "POST") return route.continue();
    const response = await route.fetch();
    release.ended();
    await loaded;
    await route.fulfill({ response });
  });
  await page.getByRole("button", { name: "Give up" }).click();
  await expect(page.getByText("This run was given up. Nothing was judged.")).toBeVisible();
  await expect.poll(() => shown).toBe(2);
  await page.waitForTimeout(300);
  release.loaded();
  await expect(rail).not.toContainText("Phosphate, photometer");
});

test("a server killed in the middle of a calibration loses no captured point", async ({ page, server }) => {
  await page.goto("/");
  await begin(page, "Calibrate P-2");
  await station(page, bySpace);
  await bySpace(page, /^Rinsed/);
  await bySpace(page, /^The probe is in/);
  await expect(page.getByText("Steady", { exact: true })).toBeVisible({ timeout: 20_000 });

  await server.kill();
  // Captured now, steady or not: the signal may have moved in the moment of the cut.
  await page.keyboard.press("c");
  await expect(page.getByRole("alert")).toContainText("kept in this browser");
  await expect(page.getByRole("listitem").filter({ hasText: "mV" })).toHaveCount(2);

  await server.start();
  await expect(page.getByRole("alert")).toBeHidden({ timeout: 15_000 });
  await page.reload();
  await expect(page.getByRole("listitem").filter({ hasText: "mV" })).toHaveCount(2);
  await station(page, bySpace);
  await bySpace(page, /^Judge/);
  await expect(page.getByRole("status")).toContainText(/Sound|note/);
});

test("a form sent while the server is away waits with what was typed, and goes once", async ({
  page,
  server,
}) => {
  await page.goto("/sites");
  const name = page.getByLabel("Name of the site");
  await name.fill("Weir below the mill");
  await page.getByLabel("What water").fill("Race");
  await page.getByLabel("Lowest pH").fill("6.8");
  await page.getByLabel("Highest pH").fill("8.2");
  await server.kill();
  const add = page.getByRole("button", { name: "Add it" });
  await add.click();
  const away = page.getByText("Brintel cannot be reached. What you typed stays here");
  await expect(away).toBeVisible();
  await expect(name).toHaveValue("Weir below the mill");
  await expect(add).toBeDisabled();

  await server.start();
  const site = page.getByRole("main").getByRole("link", { name: "Weir below the mill" });
  await expect(site).toBeVisible({ timeout: 15_000 });
  await expect(away).toBeHidden();
  await page.reload();
  await expect(site).toHaveCount(1);
});

test("neither a part that cannot be fetched nor a link takes the page away, and both come when the server does", async ({
  page,
  server,
}) => {
  await page.goto("/sites");
  const name = page.getByLabel("Name of the site");
  await name.fill("Half a na");
  await server.kill();
  await page.getByRole("button", { name: "Jump" }).click();
  const missing = page.getByRole("alert").filter({ hasText: "could not be fetched" });
  await expect(missing).toBeVisible();
  await page.getByRole("navigation", { name: "Areas" }).getByRole("link", { name: "Stock" }).click();
  await expect(page.getByText("What you typed stays here")).toBeVisible();
  await expect(name).toHaveValue("Half a na");

  await server.start();
  await expect(page.getByRole("heading", { name: "Stock" })).toBeVisible({ timeout: 15_000 });
  await missing.getByRole("button", { name: "Try again" }).click();
  await expect(page.getByRole("textbox", { name: "Jump to" })).toBeVisible();
});

test("what ends while the page still looks at what came before is judged in view", async ({ page }) => {
  // A slow network: what the page asked for is answered as it was then, when the next step has been taken already.
  await page.route(/\/readings\/[^/]+\.data/, async (route) => {
    const response = await route.fetch();
    await new Promise((done) => setTimeout(done, 1500));
    await route.fulfill({ response });
  });
  await page.goto("/");
  await begin(page, "Take a reading with P-4");
  for (let i = 0; i < 2; i++) await station(page, bySpace);
  await bySpace(page, /^Judge this reading/);
  await expect(page.getByRole("status")).toContainText("Held");
  // Answers that are still held back are nobody's when the page is closed.
  await page.unrouteAll({ behavior: "ignoreErrors" });
});

test("a double click starts and captures once, and going back does not start again", async ({ page }) => {
  await page.goto("/");
  await jumpTo(page, "Calibrate P-2");
  await page.getByRole("button", { name: /^Start/ }).dblclick();
  await expect(page.getByRole("button", { name: /^Rinsed/ })).toBeVisible();
  const first = page.url();
  await page.getByRole("button", { name: /^Rinsed/ }).dblclick();
  await expect(page.getByRole("listitem").filter({ hasText: "rinsed" })).toHaveCount(1);
  await page.goBack();
  await page.goForward();
  expect(page.url()).toBe(first);
  await page.goto("/");
  await expect(page.getByText("Calibrating P-2 is open")).toBeVisible();
});

test("two tabs on one calibration show the same state after a reload", async ({ page, context }) => {
  await page.goto("/");
  await begin(page, "Calibrate P-3");
  await bySpace(page, /^Rinsed/);
  await expect(page.getByRole("button", { name: /^The probe is in/ })).toBeVisible();
  const other = waitsUntilListening(await context.newPage());
  await other.goto(page.url());
  await bySpace(other, /^The probe is in/);
  await expect(other.getByTestId("live-value")).toBeVisible();
  // Tabs of one browser hear of each other.
  await page.bringToFront();
  await expect(page.getByTestId("live-value")).toBeVisible();
});
