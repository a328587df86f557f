import { expect, test } from "./server";

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
});

test("from a row, in one action, down to the bottle", async ({ page }) => {
  await page.goto("/ledger?verdict=qualified");
  await page.getByText("BP-", { exact: false }).first().click();
  const evidence = page.getByRole("complementary", { name: "What this reading rests on" });
  await expect(evidence).toContainText("B7-098");
  await expect(evidence).toContainText("Calibrate again with a lot that is in date.");
  await expect(evidence).toContainText(/−?\d+\.\d mV · 15\.\d °C/);
  // It stands where it belongs in what the server sends: none of it comes later, to be put in its place by a script.
  await expect(page).toHaveURL(/reading=/);
  const sent = await (await page.request.get(page.url())).text();
  expect(sent).toMatch(/What this reading rests on.*B7-098/s);
  expect(sent).not.toContain('<template id="B:');
  await evidence.getByRole("link", { name: "B7-098" }).click();
  await expect(page.getByRole("heading", { name: "Lot B7-098" })).toBeVisible();
});
