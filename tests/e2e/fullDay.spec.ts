import type { Page } from "@playwright/test";
import { cookieOf, expect, test } from "./server";
import { bySpace, jumpTo, station } from "./steps";

/** Goes through so many steps of the bench with the space bar alone. */
async function stations(page: Page, count: number): Promise<void> {
  for (let i = 0; i < count; i++) await station(page, bySpace);
}

/** The pressure of the day, then Enter: everything else is proposed. */
async function startWithPressure(page: Page, hpa: string): Promise<void> {
  await page.getByLabel("Air pressure").fill(hpa);
  await page.keyboard.press("Enter");
}

async function readSample(page: Page, sample: string): Promise<void> {
  await jumpTo(page, "Take a reading with M-1");
  await page.getByLabel("Sample").fill(sample);
  await page.keyboard.press("Enter");
  await stations(page, 2);
  await bySpace(page, /^Judge this reading/);
  await expect(page.getByRole("status")).toContainText(/Sound|note/);
}

/** Switches a fault of the simulated instrument on, by keyboard. */
async function breakIt(page: Page, fault: RegExp): Promise<void> {
  await jumpTo(page, "Meter M-1");
  const box = page.getByRole("checkbox", { name: fault });
  await box.focus();
  await page.keyboard.press("Space");
  await expect(box).toBeChecked();
}

test("a day with a meter of three quantities, by keyboard: calibrated, a reading, control, closing check that fails, corrected", async ({
  page,
  browser,
  server,
}) => {
  test.setTimeout(600_000);
  // Where the house asks for a control after each reading, the day is as long as it must be to see it.
  const manager = await browser.newContext({ storageState: cookieOf("Petra") });
  const changed = await manager.request.post(`${server.url}/rules`, {
    form: { version: "1", "calibration.control_every": "1", reason: "Short days.", do: "keep" },
    headers: { Origin: server.url },
  });
  expect(changed.ok()).toBe(true);
  await manager.close();
  await page.goto("/");

  // A weather report's pressure typed as the station's own is caught before anything is measured.
  await jumpTo(page, "Calibrate M-1");
  await page.getByLabel("Altitude").fill("600");
  await page.getByLabel("Air pressure").fill("1015");
  await expect(page.getByText(/reduced to sea level.*\+7\.\d % of every oxygen reading/)).toBeVisible();
  await page.keyboard.press("Enter");
  await expect(page).toHaveURL(/calibrate/);
  await page.getByRole("button", { name: "Yes, it is from a weather report" }).press("Enter");
  await expect(page.getByText(/1015\.0 hPa at sea level is 944\.\d hPa here/)).toBeVisible();
  await page.getByLabel("Altitude").fill("148");
  await page.getByText("Read here").click();
  await startWithPressure(page, "996,4");

  // Conductivity first, then pH, oxygen last; a reload in the middle loses nothing.
  await expect(page.getByRole("list", { name: "What is calibrated" })).toContainText("Conductivity");
  await stations(page, 2);
  await page.reload();
  await stations(page, 4);
  await bySpace(page, /^Judge this calibration/);
  await expect(page.getByRole("status")).toContainText("Sound. All 3 may be used today.");
  await expect(page.getByRole("region", { name: "Dissolved oxygen" })).toContainText("saturated air");

  await readSample(page, "day-1");
  await expect(page.getByText("Control of M-1.")).toBeVisible();
  await page.getByRole("link", { name: "Do the control now" }).press("Enter");
  await startWithPressure(page, "996.4");
  await stations(page, 3);
  await bySpace(page, /^Judge this check/);
  await expect(page.getByRole("status")).toContainText("Passed.");

  // The junction clogs: one more sample, and the check at the end is off.
  await breakIt(page, /Clogged junction/);
  await readSample(page, "day-2");
  await jumpTo(page, "Check M-1");
  await startWithPressure(page, "996.4");
  await stations(page, 3);
  await bySpace(page, /^Judge this check/);
  await expect(page.getByRole("status")).toContainText("Off for pH.");

  // Only what was read since the control is in doubt: it is seen before it is confirmed.
  await expect(page.getByText("1 of 1 reading would change")).toBeVisible();
  await expect(page.getByText("corrected for the drift")).toBeVisible();
  const confirm = page.getByRole("button", { name: /Re-judge 1 reading/ });
  await expect(confirm).toBeFocused();
  await page.keyboard.press("Enter");
  await expect(page.getByText("1 of 1 reading re-judged")).toBeVisible();
  await expect(page.getByRole("navigation", { name: "The day" })).toContainText("1 reading re-judged");

  await page.keyboard.press("g");
  await page.keyboard.press("l");
  await page.getByRole("textbox", { name: "Sample" }).fill("day-2");
  await page.keyboard.press("Enter");
  await expect(page.getByText("4 readings as filtered")).toBeVisible();
  await page.getByRole("row", { name: /pH.*qualified/ }).click();
  const evidence = page.getByRole("complementary", { name: "What this reading rests on" });
  await expect(evidence).toContainText("Drift taken out");
  await expect(evidence).toContainText("Grade of the record");
  await expect(evidence).toContainText("the check that followed failed");

  // What failed is due at once, with its reason.
  await expect(page.getByRole("navigation", { name: "The day" })).toContainText("pH: the check failed");
});

test("a day with a meter without a cable, typed from displayed values only", async ({ page }) => {
  await page.goto("/");
  await jumpTo(page, "Calibrate C-1");
  await expect(page.getByRole("button", { name: /^Start/ })).toBeFocused();
  await page.keyboard.press("Enter");

  const type = async (fields: Record<string, string>) => {
    for (const [label, text] of Object.entries(fields))
      await page.getByLabel(label, { exact: true }).fill(text);
    await page.keyboard.press("Enter");
  };
  const arrive = async () => {
    await bySpace(page, /^Rinsed/);
    await bySpace(page, /^The (probe|cell) is in/);
  };
  await arrive();
  await type({ Display: "1", Temperature: "20" });
  await arrive();
  // mS typed for µS is understood with its unit; without one, its size is asked about.
  await type({ "Display before adjusting": "0.7", "Display after adjusting": "718", Temperature: "20.3" });
  await expect(page.getByRole("alert")).toContainText("Did the display change between µS and mS?");
  await page.reload();
  await expect(page.getByLabel("Display before adjusting", { exact: true })).toHaveValue("0.7");
  await page.getByLabel("Display before adjusting", { exact: true }).fill("0.7 mS");
  await expect(page.getByText("Understood: 700.00 µS/cm")).toBeVisible();
  await page.keyboard.press("Enter");
  await bySpace(page, /^Judge this calibration/);
  await expect(page.getByRole("status")).toContainText("Sound.");
  await expect(page.getByText("700 → 718")).toBeVisible();
  await expect(page.getByRole("complementary")).toContainText("rests on displayed values");

  await page.getByRole("link", { name: "Take a reading" }).press("Enter");
  await page.getByLabel("Sample").fill("pocket");
  await page.keyboard.press("Enter");
  for (const shown of ["612", "615"]) {
    await arrive();
    await type({ Display: shown, Temperature: "14" });
  }
  await bySpace(page, /^Judge this reading/);
  await expect(page.getByRole("status")).toContainText("Sound.");
  await expect(page.getByText("compensated to 25 °C by the meter").first()).toBeVisible();

  await jumpTo(page, "Check C-1");
  await page.getByRole("button", { name: /^Start/ }).press("Enter");
  await arrive();
  await type({ Display: "731", Temperature: "20" });
  await bySpace(page, /^Judge this check/);
  await expect(page.getByRole("status")).toContainText("Passed. The readings before it may stand.");
});
