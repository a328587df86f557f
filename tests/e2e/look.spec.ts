import { expect, test } from "./server";

test("a calculator follows what is typed and pasted, and its address brings it back", async ({ page }) => {
  await page.goto("/solutions/ph-calibration");
  const result = page.getByRole("region", { name: "Result" });
  await expect(result).toContainText("−57.19");
  await page.getByLabel("Signal, row 2").fill("170,5");
  await expect(result).toContainText("−57.98");
  await page.getByLabel("Signal, row 1").fill("much");
  await expect(result.getByRole("status")).toContainText("what stands in the fields now gives none");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("alert")).toContainText("Row 1");
  await page.getByLabel("Buffer's pH at this temperature, row 1").evaluate((cell) => {
    const clipboardData = new DataTransfer();
    clipboardData.setData("text/plain", "7.00\t0.0\t25\r\n4.01\t177.0\t25\r\n");
    cell.dispatchEvent(new ClipboardEvent("paste", { clipboardData, bubbles: true, cancelable: true }));
  });
  await expect(page.getByLabel("Temperature, row 2", { exact: true })).toHaveValue("25");
  await expect(result).toContainText("−59.2");
  await page.reload();
  await expect(page.getByLabel("Signal, row 2")).toHaveValue("177");
  await expect(result).toContainText("−59.2");
  // The next calculator begins with its own numbers.
  await page.getByRole("link", { name: "All calculators" }).click();
  await page.getByRole("link", { name: /^Dilution Any three/ }).click();
  await expect(page.getByLabel("Strength of the stock")).toHaveValue("1000");
  await expect(result).toContainText("5.000");
});

test("a change of a method is taken back and brought back, and rules are found by what they say", async ({
  page,
}) => {
  await page.goto("/methods/nitrate-tube/edit");
  const name = page.getByLabel("Name");
  await expect(page.getByRole("button", { name: "Undo" })).toBeDisabled();
  await name.fill("Nitrate in the ditch");
  const steps = page.locator(".steps > li");
  const before = await steps.count();
  await page.getByRole("button", { name: "Remove step 2" }).click();
  await expect(steps).toHaveCount(before - 1);
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(steps).toHaveCount(before);
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(name).toHaveValue("Nitrate, squeeze tube, own");
  await page.getByRole("button", { name: "Redo" }).click();
  await expect(name).toHaveValue("Nitrate in the ditch");

  // A step is drawn to another place by its handle.
  const second = await page.getByLabel("Step 2, what is done").inputValue();
  const handle = (n: number) => page.locator(".handle").nth(n);
  const [from, to] = [await handle(1).boundingBox(), await handle(0).boundingBox()];
  if (!from || !to) throw new Error("The steps have no handles.");
  // The first touch of a handle loads what draws.
  await handle(1).hover();
  await expect(page.locator(".handle[data-drawn]").first()).toBeVisible();
  await page.mouse.move(from.x + 10, from.y + 10);
  await page.mouse.down();
  await page.mouse.move(from.x + 10, from.y - 10, { steps: 4 });
  await page.mouse.move(to.x + 10, to.y, { steps: 6 });
  await page.mouse.up();
  await expect(page.getByLabel("Step 1, what is done")).toHaveValue(second);

  await page.goto("/rules");
  await page.getByLabel("Find a rule").fill("rinses");
  await expect(page.getByText("Rinses before each solution")).toBeVisible();
  await expect(page.getByText("How often to calibrate")).toBeHidden();
  await page.getByLabel("Find a rule").fill("");
  await page.getByLabel(/Only what differs/).check();
  await expect(page.getByText("How often to calibrate")).toBeHidden();
});

test("the ledger keeps the columns somebody chose, and asks for any days", async ({ page }) => {
  await page.goto("/ledger?parameter=ph");
  await page.getByRole("button", { name: "Columns" }).click();
  await page.getByRole("checkbox", { name: "By", exact: true }).check();
  await page.getByRole("checkbox", { name: "Sample" }).uncheck();
  await page.getByRole("button", { name: "Close" }).click();
  await page.reload();
  await expect(page.getByRole("columnheader", { name: "By" })).toBeVisible();
  await expect(page.getByRole("columnheader", { name: "Sample" })).toHaveCount(0);
  await page.getByRole("combobox", { name: "Days" }).click();
  await page.getByTitle("Other days …").click();
  await page.getByLabel("From").fill("2 Nov 2026");
  await page.getByLabel("From").press("Enter");
  await page.getByLabel("To", { exact: true }).fill("2026-11-05");
  await page.getByLabel("To", { exact: true }).press("Enter");
  await page.getByRole("button", { name: "Show these days" }).click();
  await expect(page).toHaveURL(/from=2026-11-02.*to=2026-11-05/);
  await page.getByRole("link", { name: "In a chart" }).click();
  await expect(page.getByRole("img", { name: /^pH: \d+ values from/ })).toBeVisible();
});

test("a photo of a site is made small before it is sent, and one that is none is refused", async ({
  page,
}) => {
  await page.goto("/sites");
  await page.getByRole("link", { name: "Feed borehole E1", exact: true }).first().click();
  const section = page.getByRole("region", { name: "What it looks like" });
  await expect(section.getByRole("img", { name: /^Through the gate/ })).toBeVisible();
  const file = section.getByLabel("A photo");
  await section.getByLabel("What it shows").fill("The pump house from the path");
  await file.setInputFiles({ name: "gate.jpg", mimeType: "image/jpeg", buffer: Buffer.from("no picture") });
  await expect(section.getByRole("alert")).toContainText("This picture cannot be read.");
  await section.getByRole("button", { name: "Hang it here" }).click();
  await expect(section.getByRole("img", { name: /pump house/ })).toHaveCount(0);
  const large = await page.evaluate(() => {
    const canvas = document.createElement("canvas");
    [canvas.width, canvas.height] = [3000, 2000];
    canvas.getContext("2d")?.fillRect(500, 500, 2000, 1000);
    return canvas.toDataURL("image/png").split(",")[1] ?? "";
  });
  await file.setInputFiles({
    name: "house.png",
    mimeType: "image/png",
    buffer: Buffer.from(large, "base64"),
  });
  await expect(section.getByRole("img", { name: "The one you chose" })).toBeVisible();
  await expect(section.getByLabel("What it shows")).toHaveValue("The pump house from the path");
  await section.getByRole("button", { name: "Hang it here" }).click();
  const hung = section.getByRole("img", { name: "The pump house from the path" });
  await expect.poll(() => hung.evaluate((img: HTMLImageElement) => img.naturalWidth)).toBe(800);
  await section.getByRole("button", { name: /^Take down: The pump house/ }).click();
  await expect(hung).toHaveCount(0);
  await expect(section.getByText("The photo is taken down.")).toBeVisible();
});
