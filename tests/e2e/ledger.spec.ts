import { readFileSync } from "node:fs";
import Ajv from "ajv";
import addFormats from "ajv-formats";
import Papa from "papaparse";
import { expect, test } from "./server";

test.beforeEach(async ({ page }) => {
  await page.goto("/");
});

test("is filtered, sorted and paged by the server, and the address keeps it", async ({ page }) => {
  await page.goto("/ledger");
  await expect(page.locator(".ledger tbody tr")).toHaveCount(40);
  const newest = await page.locator(".ledger tbody tr").first().textContent();
  await page.getByRole("link", { name: "Older" }).click();
  await expect(page).toHaveURL(/after=/);
  await expect(page.locator(".ledger tbody tr").first()).not.toHaveText(newest ?? "");
  await page.getByRole("link", { name: "Newer" }).click();
  await expect(page.locator(".ledger tbody tr").first()).toHaveText(newest ?? "");
  await page.getByRole("link", { name: "Last", exact: true }).click();
  await expect(page.getByRole("link", { name: "Older" })).toHaveCount(0);
  await page.getByRole("combobox", { name: "Verdict" }).click();
  await page.getByTitle("qualified").click();
  await expect(page).toHaveURL(/verdict=qualified/);
  await expect(page).not.toHaveURL(/end=last/);
  await expect(page.locator(".ledger tbody tr").first()).toContainText("qualified");
  await page.goto("/ledger?sort=value&order=asc");
  const values = (await page.locator(".ledger-value").allTextContents()).map(Number);
  expect(values).toEqual([...values].sort((a, b) => a - b));
  await page.goto("/ledger?after=oops&verdict=maybe&from=yesterday");
  await expect(page.locator(".ledger tbody tr")).toHaveCount(40);
});

test("from a row, in one action, down to the bottle", async ({ page }) => {
  await page.goto("/ledger?verdict=qualified");
  await page.getByText("BP-", { exact: false }).first().click();
  const evidence = page.getByRole("complementary", { name: "What this reading rests on" });
  await expect(evidence).toContainText("B7-098");
  await expect(evidence).toContainText("Calibrate again with a lot that is in date.");
  await expect(evidence).toContainText(/−?\d+\.\d mV · 15\.\d °C/);
  await evidence.getByRole("link", { name: "B7-098" }).click();
  await expect(page.getByRole("heading", { name: "Lot B7-098" })).toBeVisible();
});

test("is carried away as filtered, in files that independent programs read", async ({ page }) => {
  await page.goto("/ledger?verdict=qualified");
  const count = Number((await page.getByText(/^\d+ readings? as filtered/).textContent())?.split(" ")[0]);
  const [csv] = await Promise.all([
    page.waitForEvent("download"),
    page.getByRole("link", { name: "Export as CSV" }).click(),
  ]);
  const text = readFileSync(await csv.path(), "utf8").replace(/^\ufeff/, "");
  const parsed = Papa.parse<Record<string, string>>(text, { header: true, skipEmptyLines: true });
  expect(parsed.errors).toEqual([]);
  expect(parsed.data).toHaveLength(count);
  expect(new Set(parsed.data.map((row) => row.verdict))).toEqual(new Set(["qualified"]));

  const [json] = await Promise.all([
    page.waitForEvent("download"),
    page.getByRole("link", { name: "as JSON" }).click(),
  ]);
  const file = JSON.parse(readFileSync(await json.path(), "utf8"));
  const ajv = new Ajv({ strict: false });
  addFormats(ajv);
  const schema = await (await page.request.get("/schemas/readings.json")).json();
  expect(ajv.validate(schema, file), JSON.stringify(ajv.errors)).toBe(true);
  expect(file.readings).toHaveLength(count);
});
