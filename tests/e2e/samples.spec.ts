import { expect, test } from "./server";
import { axeOf, expectReadable } from "./steps";

test("a bottle is scanned, sent to a laboratory hand by hand, and its results come back by file", async ({
  page,
}) => {
  await page.goto("/samples");
  const code = (await page.locator("main tbody a").first().textContent()) ?? "";
  expect(code).toMatch(/^CP-\d{4}-A$/);
  // A scanner types faster than the places of the jump box come, and presses Enter itself.
  await page.keyboard.press("/");
  await page.getByRole("textbox", { name: "Jump to" }).fill(code);
  await page.keyboard.press("Enter");
  await expect(page.getByRole("heading", { name: code })).toBeVisible();
  await expect(page.getByText(/left: the first of its tests/)).toBeVisible();
  await expectReadable(page, axeOf(page));

  await page.getByRole("link", { name: "Send it to a laboratory" }).click();
  await page.getByLabel("Which laboratory").fill("");
  await page.getByRole("button", { name: "Make the batch" }).click();
  await expect(page.getByText("Say which laboratory they go to.")).toBeVisible();
  await page.getByLabel("Which laboratory").fill("Marsh Lane Laboratory");
  await page.getByRole("button", { name: "Make the batch" }).click();
  await expect(page.getByRole("heading", { name: "For Marsh Lane Laboratory" })).toBeVisible();

  await page.getByRole("textbox", { name: "Temperature in the cooler" }).first().fill("cold");
  await page.getByRole("button", { name: "Fresh ice is in" }).click();
  await expect(page.getByText("“cold” is not a number.").first()).toBeVisible();
  await page.getByRole("textbox", { name: "Temperature in the cooler" }).first().fill("3,4");
  await page.getByRole("button", { name: "Fresh ice is in" }).dblclick();
  await expect(page.getByRole("heading", { name: "The cooler on the way" })).toBeVisible();
  await page.getByRole("button", { name: "Handed over" }).click();
  await expect(page.getByText("Say who takes them.")).toBeVisible();

  // The network is gone while they change hands: it is kept, and there after a reload.
  await page.context().setOffline(true);
  await page.getByLabel("To", { exact: true }).fill("Courier");
  await page.getByRole("button", { name: "Handed over" }).click();
  const way = page.getByRole("complementary", { name: "The way of these samples" });
  await expect(way.getByText("Courier", { exact: true })).toBeVisible();
  await page.context().setOffline(false);
  await expect(page.getByText(/not sent yet/)).toHaveCount(0);
  await page.reload();
  await expect(way.getByText("Courier", { exact: true })).toBeVisible();
  await expect(page.getByLabel("From", { exact: true })).toHaveValue("Courier");

  await page.getByRole("checkbox", { name: "This is the receipt by the laboratory" }).check();
  await page.getByLabel("From", { exact: true }).fill("Somebody else");
  await page.getByLabel("To", { exact: true }).fill("T. Ravel");
  await page.getByRole("textbox", { name: "Temperature in the cooler" }).first().fill("9.5");
  await page.getByRole("button", { name: "The laboratory has them" }).click();
  await expect(way.getByText(/nobody says how it came from Courier to Somebody else/)).toBeVisible();
  await expect(way.getByText(/It was at 9.5 °C when it was received/)).toBeVisible();
  await expectReadable(page, axeOf(page));

  await page.getByRole("link", { name: "Take over the laboratory's results" }).click();
  const today = new Date().toISOString().slice(0, 10);
  await page.getByLabel("The laboratory's file (CSV)").setInputFiles({
    name: "marsh-lane.csv",
    mimeType: "text/csv",
    buffer: Buffer.from(
      `sample,parameter,result,unit,LOD,analysed\n${code},Chloride,25.1,mg/L,0.5,${today}\n${code},Alkalinity,about 200,mg/L,5,${today}\n`,
    ),
  });
  await page.getByRole("button", { name: "Look at it" }).click();
  await expect(page.getByRole("heading", { name: "1 result of 2 lines, 1 refused" })).toBeVisible();
  await page.getByRole("button", { name: "Keep 1 result" }).click();
  await expect(page.getByText("Nothing was taken over")).toBeVisible();
  const lines = page.getByLabel("or its lines, pasted or typed");
  await lines.fill((await lines.inputValue()).replace("about 200", "200"));
  await page.getByRole("button", { name: "Look at it" }).click();
  await expect(page.getByRole("heading", { name: "2 results of 2 lines" })).toBeVisible();
  await page.getByRole("button", { name: "Keep 2 results" }).dblclick();
  const chloride = page.locator("main").getByRole("link", { name: "Chloride" });
  await expect(chloride).toBeVisible();
  await chloride.click();
  const evidence = page.getByRole("complementary", { name: "What this result rests on" });
  await expect(evidence.getByText("marsh-lane.csv")).toBeVisible();
  await expect(evidence.getByText(/It was at 9.5 °C/)).toBeVisible();
});
