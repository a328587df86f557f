import demo from "../../demo/signIn.json" with { type: "json" };
import { judge, start, toReading } from "./runSteps";
import { cookieOf, expect, test } from "./server";
import { jumpTo } from "./steps";

test.beforeEach(async ({ page }) => {
  await page.goto("/");
});

test("a lot is registered, opened, corrected, used in a proposal, withdrawn with a reason, and taken back", async ({
  page,
}) => {
  await page.goto("/stock/new");
  await page.getByRole("button", { name: "Register it" }).click();
  await expect(
    page.getByText("Give the lot a code you can find on the bottle.", { exact: true }),
  ).toBeVisible();
  await expect(page.getByText("Give a date as year-month-day.", { exact: true })).toBeVisible();

  await page.getByRole("combobox", { name: "Which buffer" }).click();
  await page
    .getByTitle(/Phosphate 6.865/)
    .last()
    .click();
  await page.getByLabel("Lot on the bottle").fill("PH-686");
  await page.getByLabel("Expires").fill("2099-06-30");
  await page.getByLabel("Uncertainty on the certificate, pH").fill("-1");
  await page.getByRole("button", { name: "Register it" }).click();
  await expect(page.getByText("An uncertainty is never negative.", { exact: true })).toBeVisible();
  await expect(page.getByLabel("Lot on the bottle")).toHaveValue("PH-686");
  await page.getByLabel("Uncertainty on the certificate, pH").fill("0,005");
  await page.getByText("The certificate has its own table").click();
  await page.getByLabel("25 °C").fill("6.863");
  await page.getByRole("button", { name: "Register it" }).click();
  await expect(page.getByRole("heading", { name: "Lot PH-686" })).toBeVisible();
  await page.goto("/stock");
  await expect(page.getByRole("listitem").filter({ hasText: "PH-686" })).toContainText("6.86");

  await jumpTo(page, "Lot PH-686");
  await expect(page.getByRole("cell", { name: "6.863" })).toBeVisible();
  const lot = page.url();
  await page.getByRole("button", { name: "Opened today" }).click();
  await expect(page.getByRole("complementary")).toContainText(/opened.*version 2/);

  // Written wrong: what was typed stays where something is missing, and what stood there stays beside it.
  await page.getByRole("link", { name: "Correct it" }).click();
  await page.getByText("The certificate has its own table").click();
  await expect(page.getByLabel("25 °C")).toHaveValue("6.863");
  await page.getByLabel("25 °C").fill("6.865");
  await page.getByLabel("Expires").fill("2098-06-30");
  await page.getByRole("button", { name: "Correct it" }).click();
  await expect(page.getByText("Say how it came to be written wrong.", { exact: true })).toBeVisible();
  await expect(page.getByLabel("Expires")).toHaveValue("2098-06-30");
  await page.getByLabel("How it came to be written wrong").fill("A 9 read as an 8.");
  await page.getByLabel("How it came to be written wrong").press("Enter");
  await expect(page.getByRole("complementary")).toContainText(
    /A 9 read as an 8\. \(expires: 30 Jun 2098, not 30 Jun 2099; certified value corrected\)/,
  );

  // The closest pair that brackets 7.1 to 8.6 now begins at 6.86 or 7.00; the new bottle is on offer either way.
  await jumpTo(page, "Calibrate P-2");
  await page.getByRole("combobox", { name: "First buffer" }).click();
  await expect(page.getByTitle(/lot PH-686/).first()).toBeVisible();

  await page.goto(lot);
  await page.getByRole("button", { name: "Withdraw it" }).click();
  await expect(page.getByText("Say why it is withdrawn.")).toBeVisible();
  await page.getByLabel("Withdraw this lot").fill("The seal was broken.");
  await page.getByRole("button", { name: "Withdraw it" }).click();
  await expect(page.getByText(/Withdrawn on .*The seal was broken\./).first()).toBeVisible();
  await expect(page.getByLabel("Withdraw this lot")).toBeHidden();

  await page.reload();
  await page.getByText("It was withdrawn by mistake").click();
  await page.getByRole("button", { name: "Take the withdrawal back" }).click();
  await expect(page.getByText("Say why it may be used after all.")).toBeVisible();
  await page.getByLabel("Why it may be used after all").fill("It was the bottle beside it.");
  await page.getByRole("button", { name: "Take the withdrawal back" }).click();
  await expect(page.getByLabel("Withdraw this lot")).toBeVisible();
});

test("the same code twice is refused and nothing typed is lost", async ({ page }) => {
  await page.goto("/stock/new");
  await page.getByLabel("Lot on the bottle").fill("B7-127");
  await page.getByLabel("Expires").fill("2099-06-30");
  await page.getByRole("button", { name: "Register it" }).click();
  await expect(page.getByText("There is a lot B7-127 already.", { exact: true })).toBeVisible();
  await expect(page.getByLabel("Expires")).toHaveValue("2099-06-30");
});

test("a kit with six steps of its own is received, and its steps are what is compared with", async ({
  page,
}) => {
  await page.clock.install();
  await page.goto("/stock/new?kind=kit");
  // By the keys: typing finds the method, the arrow goes from NO3-N to NO3.
  const choose = async (label: string, keys: () => Promise<void>, field: string, value: string) => {
    await page.getByRole("combobox", { name: label }).click();
    await expect(page.locator(".ant-select-dropdown:visible").last()).toBeVisible();
    await keys();
    await page.keyboard.press("Enter");
    await expect(page.locator(`input[name="${field}"]`)).toHaveValue(value);
  };
  await choose(
    "The method its leaflet is for",
    () => page.keyboard.type("Nitrate, squeeze"),
    "kit_method",
    "nitrate-tube",
  );
  await page.getByLabel("Name on the bottle").fill("Tubes of the new kit");
  await page.getByLabel("Lot on the bottle").fill("NEW-6");
  await page.getByLabel("Leaflet", { exact: true }).fill("leaflet of the new kit");
  await choose("Its numbers are given as", () => page.keyboard.press("ArrowDown"), "kit_given_as", "NO3");
  const steps = page.getByLabel(/^The steps of the scale/);
  await steps.fill("0, 10, 5, 25, 50, 100");
  await page.getByLabel("Expires").fill("2099-06-30");
  await page.getByLabel("What is in it, tests").fill("12");
  await page.getByLabel("One use takes, tests").fill("1");
  await page.getByRole("button", { name: "Register it" }).click();
  await expect(page.getByText("The steps of a scale rise.", { exact: true })).toBeVisible();
  await expect(steps).toHaveValue("0, 10, 5, 25, 50, 100");
  await steps.fill("0, 5, 10, 25, 50, 100");
  await page.getByRole("button", { name: "Register it" }).click();
  await expect(page.getByRole("heading", { name: "Lot NEW-6" })).toBeVisible();
  await page.reload();
  await expect(page.getByText("0 · 5 · 10 · 25 · 50 · 100")).toBeVisible();

  await start(page, "nitrate-tube", { "Nitrate squeeze tubes": "NEW-6", Sample: "NP-1" });
  await toReading(page);
  // The chart in the hand says 10 mg/L of NO3, which are 2.26 of NO3-N.
  await page.getByRole("button", { name: "10 NO3", exact: true }).click();
  await judge(page);
  const panel = page.getByRole("complementary", { name: "What this result rests on" });
  await expect(panel).toContainText("like the step 10 NO3 (2.259 mg/L)");
  await expect(panel).toContainText("As the kit of lot NEW-6 says: leaflet of the new kit.");
  await panel.getByRole("link", { name: "NEW-6" }).click();
  await expect(page.getByRole("complementary", { name: "The bottle" })).toContainText("11 uses");
});

test("a site is added, with its range checked, and then offered for a reading", async ({ page }) => {
  await page.goto("/sites");
  await page.getByLabel("Name of the site").fill("Mill race");
  await page.getByLabel("What water").fill("stream");
  await page.getByLabel("Lowest pH you expect").fill("seven");
  await page.getByLabel("Highest pH you expect").fill("8.2");
  await page.getByRole("button", { name: "Add it" }).click();
  await expect(page.getByText("“seven” is not a number.")).toBeVisible();
  await page.getByLabel("Lowest pH you expect").fill("7.0");
  await page.getByRole("button", { name: "Add it" }).click();
  await expect(page.locator("main").getByRole("listitem").filter({ hasText: "Mill race" })).toContainText(
    "7.0 – 8.2",
  );
  await expect(page.getByLabel("Name of the site")).toHaveValue("");
  await page.goto("/");
  await expect(
    page.getByText("2 of 8 sites read today.").or(page.getByText("0 of 8 sites read today.")),
  ).toBeVisible();
});

test("whoever only looks is told so beside the form that was pressed; nothing is sent, nothing typed is lost", async ({
  page,
  browser,
  server,
}) => {
  const list = await (await page.request.get("/sign-in")).text();
  const noor = /as=([^"&]+)[^>]*>Noor/.exec(list)?.[1] ?? "";
  const manager = await browser.newContext({ storageState: cookieOf("Petra") });
  const changed = await manager.request.post(`${server.url}/people`, {
    form: { do: "role", person: noor, role: "read-only" },
    headers: { Origin: server.url },
  });
  expect(changed.ok()).toBe(true);
  await manager.close();
  await page.goto("/sites");
  await expect(page.getByText("Noor only looks")).toBeVisible();
  await page.getByLabel("Name of the site").fill("Mill race");
  await page.getByLabel("What water").fill("stream");
  await page.keyboard.press("Enter");
  const told = page.getByText("you may look, but change nothing: this was not sent.");
  // It lies above all else, where it can be read.
  await expect(told).toBeInViewport({ ratio: 1 });
  expect(
    await told.evaluate((it) => {
      const { left, top, width, height } = it.getBoundingClientRect();
      return document.elementFromPoint(left + width / 2, top + height / 2) === it;
    }),
  ).toBe(true);
  await expect(page.getByLabel("Name of the site")).toHaveValue("Mill race");
  // It is said once; and what is asked for is no change.
  const areas = page.getByRole("navigation", { name: "Areas" });
  await areas.getByRole("link", { name: "Meters" }).click();
  await expect(page).toHaveURL(/meters$/);
  await areas.getByRole("link", { name: "Sites" }).click();
  await expect(page.getByLabel("Name of the site")).toBeVisible();
  await expect(told).toBeHidden();
  await page.goto("/ledger");
  await page.getByRole("textbox", { name: "Sample" }).fill("BP-1125");
  await page.keyboard.press("Enter");
  await expect(page).toHaveURL(/BP-1125/);
  await page.goto("/sites");
  await expect(page.getByText("Mill race")).toHaveCount(0);
});

test("a meter is registered with what it shows, says so on its page, and is taken out of use and back", async ({
  page,
}) => {
  await page.goto("/meters/new");
  await page.getByRole("button", { name: "Register it" }).click();
  await expect(page.getByText("Give the meter the short code you call it by, like P-2.")).toBeVisible();
  await page.getByLabel("Code").fill("P-9");
  await page.getByLabel("Which one is it").fill("Loan meter");
  await page.getByText("It is a simulated instrument for practice").click();
  await page.getByRole("button", { name: "Register it" }).click();
  await expect(page.getByRole("heading", { name: "P-9 · Loan meter" })).toBeVisible();
  await expect(page.getByText("Never calibrated.")).toBeVisible();
  const simulated = page.getByRole("complementary", { name: "Simulated instrument" });
  const kept = page.waitForResponse((answer) => answer.url().includes("/devices/") && answer.ok());
  await simulated.getByText("Cracked glass: no slope").click();
  await kept;
  await page.reload();
  await expect(simulated.getByRole("checkbox", { name: "Cracked glass: no slope" })).toBeChecked();

  await page.getByText("This meter is used no more").click();
  await page.getByRole("button", { name: "Take it out of use" }).click();
  await expect(page.getByText("Say why it is used no more.")).toBeVisible();
  await page.getByLabel("Why").fill("Given back");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("region", { name: "Out of use" })).toContainText("Out of use since");
  await page.reload();
  await expect(page.getByText("Noor Haddow: Given back")).toBeVisible();
  await page.getByRole("button", { name: "Take it into use again" }).press("Enter");
  await expect(page.getByText("Never calibrated.")).toBeVisible();
});

test("the colours chosen stay, and the person can change", async ({ page }) => {
  await page.locator(".person summary").click();
  await page.getByRole("button", { name: "Dark colours for dim rooms" }).click();
  await expect(page.locator("html")).toHaveAttribute("data-theme", "dark");
  await page.reload();
  await expect(page.locator("html")).toHaveAttribute("data-theme", "dark");
  await page.locator(".person summary").click();
  await page.getByRole("link", { name: "Someone else is at the bench" }).click();
  await page.getByRole("link", { name: /Petra/ }).click();
  await page.getByRole("link", { name: "Use the password instead" }).click();
  await page.getByLabel("Your password").fill(demo.password);
  await page.keyboard.press("Enter");
  await expect(page.getByText("Petra at the bench")).toBeVisible();
  await page.goto("/people");
  await page.getByLabel("Their name").fill("Noor Haddow");
  await page.getByRole("button", { name: "Add them" }).click();
  await expect(page.getByText("There is someone of this name already.")).toBeVisible();
  await page.getByLabel("Their name").fill("Wren Ashby");
  await page.getByRole("button", { name: "Add them" }).click();
  const given = await page.locator(".given-password").textContent();
  await page.goto("/sign-in");
  await page.getByRole("link", { name: /Wren Ashby technician/ }).click();
  await page.getByLabel("Your password").fill(given ?? "");
  await page.keyboard.press("Enter");
  await expect(page.getByText("Choose your own to go on.")).toBeVisible();
  await page.getByLabel("The password you have").fill(given ?? "");
  await page.getByLabel("The new one").fill("wren wren wren");
  await page.getByRole("button", { name: "Change it" }).click();
  await expect(page.getByText("Leave your own name out of it.")).toBeVisible();
  await page.getByLabel("The password you have").fill(given ?? "");
  await page.getByLabel("The new one").fill("three brown ducks");
  await page.getByRole("button", { name: "Change it" }).click();
  await expect(page).toHaveURL(/\/$/);
  await expect(page.getByText("Wren at the bench")).toBeVisible();
  // A quick change with wet hands: by PIN, and the place is kept.
  await page.goto("/ledger");
  await page.locator(".person summary").click();
  await page.getByRole("link", { name: "Someone else is at the bench" }).click();
  await page.getByRole("link", { name: /Noor/ }).click();
  for (const digit of "2589") await page.getByRole("button", { name: digit, exact: true }).click();
  await page.getByRole("button", { name: "Go on" }).click();
  await expect(page.getByText("This is not right. Try again.")).toBeVisible();
  for (const digit of "2580") await page.getByRole("button", { name: digit, exact: true }).click();
  await page.getByRole("button", { name: "Go on" }).click();
  await expect(page.getByText("Noor at the bench")).toBeVisible();
  await expect(page).toHaveURL(/\/ledger$/);
  await page.locator(".person summary").click();
  await page.getByRole("button", { name: "Sign out and lock this device" }).click();
  await page.getByRole("link", { name: /Noor/ }).click();
  await expect(page.getByLabel("Your password")).toBeVisible();
});

test.describe("whoever manages", () => {
  test.use({ person: "Petra" });

  test("the house rules are changed in versions: bad input in words, a look at what would change, then kept", async ({
    page,
  }) => {
    await page.locator(".person summary").click();
    await page.getByRole("link", { name: "House rules" }).click();
    await expect(page.getByText("Version 1 is in force")).toBeVisible();
    await expect(page.getByText("Below 95 % the glass is ageing.")).toBeVisible();
    const duplicates = page.getByLabel("Duplicates at most apart").first();
    await duplicates.fill("a little");
    await page.getByRole("button", { name: "See what would change" }).press("Enter");
    await expect(page.getByText("Give a number, like 0.1.")).toBeVisible();
    await expect(duplicates).toHaveValue("a little");
    await duplicates.fill("0,02");
    await page.getByLabel("Look back to").fill("2020-01-01");
    await page.getByRole("button", { name: "See what would change" }).press("Enter");
    await expect(page.getByRole("status")).toContainText("0.1 pH → 0.02 pH");
    await expect(
      page.getByText(/\d+ of \d+ readings since that day would be judged otherwise/),
    ).toBeVisible();
    await expect(page.getByRole("button", { name: "Keep for readings from now on" })).toBeEnabled();
    await page.getByRole("button", { name: "Keep for readings from now on" }).press("Enter");
    await expect(page.getByText("Say why the rules change.")).toBeVisible();
    await page.getByLabel("Why the rules change").fill("Two probes of one kind now agree.");
    await expect(page.getByRole("button", { name: "Keep for readings from now on" })).toBeEnabled();
    await page.getByRole("button", { name: "Keep for readings from now on" }).press("Enter");
    await expect(page.getByText("Version 2 is in force")).toBeVisible();
    await expect(page.getByRole("complementary", { name: "Versions" })).toContainText(
      "Two probes of one kind now agree.",
    );
    await expect(page.getByText("Default: 0.1 pH")).toBeVisible();
  });

  test("limits of one's own are added, chosen for a site, and read beside a result", async ({ page }) => {
    await page.goto("/sites/limits");
    await page.getByLabel("Name").fill("Bathing rules");
    await page.getByLabel("Who says so").fill("our own paper");
    await page.getByRole("combobox", { name: "Of what", exact: true }).fill("Dissolved");
    await page.keyboard.press("Enter");
    const low = page.getByLabel("At least").first();
    await low.fill("six");
    await page.getByRole("button", { name: "Keep the limits" }).click();
    await expect(page.getByText("“six” is not a number.")).toBeVisible();
    await expect(low).toHaveValue("six");
    await low.fill("6");
    await page.keyboard.press("Enter");
    await expect(page.getByRole("cell", { name: "at least 6 mg/L" })).toBeVisible();
    await page.goto("/sites");
    await page.getByRole("link", { name: "Feed borehole E1" }).last().click();
    const rules = page.getByRole("checkbox", { name: /Bathing rules/ });
    await rules.check();
    await page.getByRole("button", { name: "Keep the limits" }).click();
    await expect(page.getByText("The limits are kept.")).toBeVisible();
    await page.reload();
    await expect(rules).toBeChecked();
    // 4.34 mg/L of oxygen is below the 6 that the new set asks for.
    await page.getByRole("link", { name: /Dissolved oxygen/ }).click();
    await expect(page.getByRole("figure").first()).toContainText("Bathing rules, at least 6.00 mg/L");
  });
});
