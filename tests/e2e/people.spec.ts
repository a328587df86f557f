import demo from "../../demo/signIn.json" with { type: "json" };
import { cookieOf, expect, test } from "./server";

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

test("the colours chosen stay, and the person can change", async ({ page }) => {
  await page.goto("/ledger");
  const person = page.locator(".person summary");
  await person.click();
  await page.getByRole("button", { name: "Dark colours for dim rooms" }).click();
  await expect(page.locator("html")).toHaveAttribute("data-theme", "dark");
  await page.reload();
  await expect(page.locator("html")).toHaveAttribute("data-theme", "dark");
  const change = async (who: RegExp) => {
    await person.click();
    await page.getByRole("link", { name: "Someone else is at the bench" }).click();
    await page.getByRole("link", { name: who }).click();
  };
  await change(/Petra/);
  await page.getByRole("link", { name: "Use the password instead" }).click();
  await page.getByLabel("Your password").fill(demo.password);
  await page.keyboard.press("Enter");
  await expect(page.getByText("Petra at the bench")).toBeVisible();
  // A quick change with wet hands: by PIN, and the place is kept.
  await change(/Noor/);
  for (const digit of "2589") await page.getByRole("button", { name: digit, exact: true }).click();
  await page.getByRole("button", { name: "Go on" }).click();
  await expect(page.getByText("This is not right. Try again.")).toBeVisible();
  for (const digit of "2580") await page.getByRole("button", { name: digit, exact: true }).click();
  await page.getByRole("button", { name: "Go on" }).click();
  await expect(page.getByText("Noor at the bench")).toBeVisible();
  await expect(page).toHaveURL(/\/ledger$/);
  await person.click();
  await page.getByRole("button", { name: "Sign out and lock this device" }).click();
  await page.getByRole("link", { name: /Noor/ }).click();
  await expect(page.getByLabel("Your password")).toBeVisible();
});
