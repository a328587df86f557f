import { enter, judge, toReading } from "./runSteps";
import { expect, test } from "./server";

test.beforeEach(async ({ page }) => {
  await page.clock.install();
});

test("a blank that is high waits for its cause; nothing typed is lost", async ({ page }) => {
  await page.goto("/runs/new/phosphate-photometer");
  const vessel = page.getByRole("combobox", { name: "In the vessel" });
  await vessel.focus();
  await page.keyboard.press("Enter");
  await page.keyboard.press("ArrowDown");
  await page.keyboard.press("Enter");
  await expect(page.getByText("Water without what is measured", { exact: false })).toBeVisible();
  await page.getByRole("button", { name: /^Start/ }).focus();
  await page.keyboard.press("Enter");
  await expect(page.getByRole("region", { name: "The step in hand" })).toBeVisible();
  for (const value of ["0.21", "0,22"]) {
    await toReading(page);
    await enter(page, /^The display/, value);
  }
  await judge(page);
  await expect(page.getByRole("region", { name: "Phosphate as PO4" })).toContainText("Reagent blank is high");

  await page.goto("/");
  await page.keyboard.press("g");
  await page.keyboard.press("c");
  await expect(page).toHaveURL(/\/quality$/);
  const out = page.getByRole("region", { name: "Out of control" });
  await expect(out).toContainText("Reagent blank is high");
  await out.getByLabel("What was done").fill("rinsed with acid");
  await out.getByRole("button", { name: "Note the cause" }).click();
  await expect(out).toContainText("Say what the cause was.");
  await expect(out.getByLabel("What was done")).toHaveValue("rinsed with acid");
  await out.getByLabel("The cause").fill("soap in the vials");
  await page.keyboard.press("Enter");
  await expect(out).toContainText("Nothing is out.");
  await page.reload();
  await expect(page.getByRole("region", { name: "Seen to" })).toContainText("soap in the vials");
});

test("a control's chart opens its points, takes new limits, and keeps the old ones", async ({ page }) => {
  await page.goto("/quality");
  await page.getByRole("link", { name: /OC-8/ }).first().click();
  await expect(page.getByRole("status")).toContainText("in control");
  await expect(page.getByRole("img", { name: /36 results of the control/ })).toBeVisible();
  const chart = page.getByRole("region", { name: "Chart" });
  await chart.press("+");
  await expect(page.getByRole("img", { name: /18 results of the control/ })).toBeVisible();
  await chart.press("0");
  await expect(page.getByRole("img", { name: /36 results of the control/ })).toBeVisible();
  const rows = page.getByRole("region", { name: "Newest results" }).getByRole("row");
  await expect(rows).toHaveCount(1 + 20);
  await page.getByRole("button", { name: "Show 16 older results" }).press("Enter");
  await expect(rows).toHaveCount(1 + 36);
  await page.getByText("Set new limits").click();
  const limits = page.getByRole("group").filter({ hasText: "Set new limits" });
  await limits.getByLabel("So many results").fill("3");
  await limits.getByLabel("Why").fill("new glass");
  await page.getByRole("button", { name: "Set the limits" }).click();
  await expect(page.getByText("At least 7.", { exact: true })).toBeVisible();
  await expect(limits.getByLabel("Why")).toHaveValue("new glass");
  await limits.getByLabel("From result no.").fill("25");
  await limits.getByLabel("So many results").fill("12");
  await page.keyboard.press("Enter");
  const history = page.getByRole("region", { name: "History of the limits" });
  await expect(history).toContainText("new glass");
  await expect(history).toContainText("study of the first eight");
  await page.getByRole("link", { name: "Is one an outlier?" }).click();
  await expect(page.getByRole("heading", { level: 1 })).toBeVisible();
  await expect(page.getByLabel("Values", { exact: false }).first()).toHaveValue(/8\.4/);
});
