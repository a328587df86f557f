import { expect, test } from "./server";

test("what is in the vessel is chosen by keyboard", async ({ page }) => {
  await page.goto("/runs/new/phosphate-photometer");
  await page.getByRole("combobox", { name: "In the vessel" }).focus();
  await page.keyboard.press("Enter");
  await page.keyboard.press("ArrowDown");
  await page.keyboard.press("Enter");
  await expect(page.getByText("Water without what is measured", { exact: false })).toBeVisible();
  await page.getByRole("button", { name: /^Start/ }).focus();
  await page.keyboard.press("Enter");
  await expect(page.getByRole("region", { name: "The step in hand" })).toBeVisible();
  await expect(page.getByRole("heading", { level: 1 })).toBeVisible();
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
