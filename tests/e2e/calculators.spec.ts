import { expect, test } from "./server";

test("a calculator with a list of sources says in words what is wrong with a slip, keeps it, and gives the result once it is mended", async ({
  page,
}) => {
  const errors: string[] = [];
  page.on("pageerror", (e) => errors.push(e.message));
  // A refusal is answered with its own status, which the browser mentions.
  page.on("console", (m) => m.type() === "error" && !m.text().includes("422") && errors.push(m.text()));
  const result = page.getByRole("region", { name: "Result" });
  await page.goto("/solutions/budget");
  const form = page.locator("form.sheet");
  // The first that holds a number; a formula where there is none.
  const fields = form.locator('input:not([readonly]):not([role="combobox"]), textarea');
  const values = await fields.evaluateAll((all) => all.map((f) => (f as HTMLInputElement).value));
  const first = Math.max(
    0,
    values.findIndex((v) => /^-?\d/.test(v)),
  );
  const field = fields.nth(first);
  await field.fill("lemonade");
  await field.press("Enter");
  await expect(page.locator(".wrong").first()).toContainText(/[a-z].*[.!?]/i);
  await expect(field).toHaveValue("lemonade");
  await field.fill(values[first] ?? "");
  await form.getByRole("button", { name: /^Calculate/ }).click();
  await expect(page.locator(".wrong")).toHaveCount(0);
  await expect(result.getByRole("heading", { name: "Working" })).toBeVisible();
  await expect(result.getByRole("status")).toHaveCount(0);
  await expect(result).not.toContainText(/NaN|Infinity|undefined/);
  expect(page.url()).toContain("with=");
  expect(errors).toEqual([]);
});
