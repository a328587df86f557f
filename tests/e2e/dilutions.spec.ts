import { judge, start, toReading } from "./runSteps";
import { expect, test } from "./server";

test("over range: the dilution is planned, the diluted run is led by it, and the factor counts once", async ({
  page,
}) => {
  await page.clock.install();
  await start(page, "phosphate-photometer", { Sample: "OVER-1" });
  for (let i = 0; i < 2; i++) {
    await toReading(page);
    await page.getByRole("button", { name: "Over its range" }).click();
  }
  await judge(page);
  await expect(page.getByRole("region", { name: /^Phosphate/ })).toContainText("> 2.00");
  await page.getByRole("link", { name: "Plan the dilution" }).click();
  await expect(page.getByText("sample OVER-1: more than 2 mg/L PO")).toBeVisible();
  await page.getByLabel(/^About what is in it/).fill("none");
  await page.getByRole("button", { name: /^Plan it/ }).focus();
  await page.keyboard.press("Enter");
  await expect(page.getByText("Give a number above zero.")).toBeVisible();
  await page.getByLabel(/^About what is in it/).fill("10");
  // Only what stands in the cupboard is planned with.
  for (const ml of [2, 3, 4, 15, 20, 25, 50, 100])
    await page
      .getByRole("group", { name: "Pipettes, class A, mL" })
      .getByLabel(String(ml), { exact: true })
      .uncheck();
  for (const ml of [10, 25, 50, 200, 250, 500, 1000])
    await page
      .getByRole("group", { name: "Flasks, class A, mL" })
      .getByLabel(String(ml), { exact: true })
      .uncheck();
  await page.getByLabel(/^Wanted in the vial/).fill("1");
  await page.keyboard.press("Enter");
  const plan = page.getByRole("region", { name: "The plan" });
  await expect(plan.getByRole("listitem")).toHaveText("10 mL of the stock, made up to 100 mL, then mix.");
  await expect(plan).toContainText("± 0.088 %");
  // What is in the cupboard is still known after a reload, and the address brings the question back.
  await page.reload();
  await expect(page.getByLabel(/^About what is in it/)).toHaveValue("10");
  await page.getByRole("button", { name: /^Plan it/ }).click();
  await plan.getByRole("link", { name: "Run it diluted 10.00 times" }).click();
  await expect(page.getByLabel("Dilution factor")).toHaveValue("10");
  await page.getByRole("button", { name: /^Start/ }).click();
  for (let i = 0; i < 2; i++) {
    await toReading(page);
    await page.getByLabel(/^The display/).fill("0.93");
    await page.keyboard.press("Enter");
  }
  await judge(page);
  await expect(page.getByRole("region", { name: /^Phosphate/ })).toContainText("9.3");
  await expect(page.getByRole("complementary", { name: "What this result rests on" })).toContainText(
    "times the dilution factor 10.00",
  );
});

test("a series of six levels is planned as a whole, and a plan can be chosen by what it costs", async ({
  page,
}) => {
  await page.goto("/solutions");
  await page.getByRole("link", { name: "Plan a dilution or a series" }).click();
  const wanted = page.getByLabel(/^Strength wanted/);
  await wanted.fill("5; 2000");
  await page.keyboard.press("Enter");
  await expect(page.getByText("A dilution is never stronger than what it is made of.")).toBeVisible();
  await wanted.fill("0.05; 0,1; 0.25; 0.5; 1; 2");
  await page.keyboard.press("Enter");
  const plan = page.getByRole("region", { name: "The plan" });
  await expect(plan.getByRole("row")).toHaveCount(7);
  await expect(plan.getByRole("row").nth(1)).toContainText("0.05");
  await wanted.fill("2.5");
  await page.keyboard.press("Enter");
  await expect(plan.getByRole("listitem").first()).toHaveText(
    "50 mL of the stock, made up to 1000 mL, then mix.",
  );
  const others = page.getByRole("region", { name: "Other plans" });
  await others.getByRole("button", { name: "Show", exact: true }).last().click();
  await expect(plan.getByRole("listitem").first()).toHaveText(
    "1 mL of the stock, made up to 100 mL, then mix.",
  );
});
